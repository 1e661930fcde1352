import { describe, expect, it } from 'vitest';
import { demoPairs } from '#core/demo';
import { emptyMoves, roleNumber, unknownState, type Chunk } from '#core/moves';
import { trialOfKind } from '#core/trial';
import { made } from '../testing/fixtures';
import { plainRead } from '../testing/plain-reader';
import { leadFan } from './fan-lead';

/** A chunk of moves of a second each: b over a bridge, w elsewhere; the fan as an emitter tells it, 0.3 and 0.9. */
function chunkOf(kinds: string): Chunk {
  const moves = emptyMoves(kinds.length);
  const commands: Chunk['commands'] = [];
  let fan = 0.3;
  const states = [...kinds].map((k, i) => {
    const share = k === 'b' ? 0.9 : 0.3;
    if (share !== fan) commands.push({ before: i, line: 0, kind: 'fan', share });
    fan = share;
    moves.role[i] = roleNumber[k === 'b' ? 'bridge' : 'outer-wall'];
    moves.state[i] = i;
    moves.n++;
    return { ...unknownState, fan: share };
  });
  return { moves, states, commands };
}
const led = (kinds: string, lead = { spinUp: 1, holds: true, judged: false }, seconds = 1) => {
  const chunk = chunkOf(kinds);
  const end = leadFan([chunk], () => [new Float64Array(kinds.length).fill(seconds)], 0.3, lead);
  const told = chunk.commands.map((c) => [c.before, (c as { share: number }).share]);
  // What the states say is what is told.
  for (let i = 0, now = 0.3; i < kinds.length; i++) {
    now = chunk.commands.filter((c) => c.before === i).map((c) => (c as { share: number }).share)[0] ?? now;
    expect(chunk.states[chunk.moves.state[i]!]!.fan).toBe(now);
  }
  return { told, end };
};

describe('the fan over bridges', () => {
  it('is told as long before as it takes to reach its speed, and told back at once', () => {
    expect(led('wwwwbbbwww').told).toEqual([
      [3, 0.9],
      [7, 0.3],
    ]);
    expect(led('wwwwbbbwww', { spinUp: 3, holds: true, judged: false }).told[0]).toEqual([1, 0.9]);
    // No sooner than the layer begins.
    expect(led('wbbbbwww', { spinUp: 5, holds: true, judged: false }).told[0]).toEqual([0, 0.9]);
  });
  it('stays from bridge to bridge where less than 2 s lie between', () => {
    expect(led('wwwbbwbbwww').told).toEqual([
      [2, 0.9],
      [8, 0.3],
    ]);
    expect(led('wwwbbwwbbwww').told.length).toBe(4);
  });
  it('lets bridges under 2 s go without, unless they are judged', () => {
    expect(led('wwwbwww')).toEqual({ told: [], end: 0.3 });
    expect(led('wwwbbwww').told.length).toBe(2);
    expect(led('wwwbwww', { spinUp: 1, holds: true, judged: true }).told).toEqual([
      [2, 0.9],
      [5, 0.3],
    ]);
  });
  it('ends as its last bridge wants it where the layer ends with it', () => {
    expect(led('wwwwwb')).toEqual({ told: [[4, 0.9]], end: 0.9 });
  });
  it('in a file is never told twice within 2 s but at a lead, whatever is printed', () => {
    for (const { context, baseline } of demoPairs)
      for (const id of ['temperature-tower', 'bridge-fan', 'bridge-flow', 'fan-level']) {
        const { moves, lines } = plainRead(made(trialOfKind(id, context, baseline)!).file.bytes);
        // Time without acceleration is shorter than the real one: what holds for it holds.
        let [time, x, y, at] = [0, 0, 0, 0];
        const told: number[] = [];
        for (const m of moves) {
          for (; at < m.line; at++) if (/^M106\b|^M107\b/.test(lines[at]!)) told.push(time);
          time += Math.hypot(m.x - x, m.y - y) / Math.max(1, m.feed / 60);
          [x, y] = [m.x, m.y];
        }
        const near = told.filter((t, i) => i > 0 && t - told[i - 1]! < 0.6);
        expect(near.length, `${context.printer.name} ${id}: ${near.length} of ${told.length}`).toBeLessThanOrEqual(
          0.05 * told.length,
        );
      }
  });
});
