import { describe, expect, it } from 'vitest';
import { emptyMoves, roleNumber, unknownState, type Chunk } from '#core/moves';
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
const led = (kinds: string, lead = { spinUp: 1, holds: true, judged: false }, held = 100) => {
  const chunk = chunkOf(kinds);
  const seconds = new Float64Array(kinds.length).fill(1);
  const end = leadFan([chunk], () => [seconds], { share: 0.3, held }, kinds.length, lead);
  const told = chunk.commands.map((c) => [c.before, (c as { share: number }).share]);
  // What the states say is what is told.
  for (let i = 0, now = 0.3; i < kinds.length; i++) {
    now = chunk.commands.filter((c) => c.before === i).map((c) => (c as { share: number }).share)[0] ?? now;
    expect(chunk.states[chunk.moves.state[i]!]!.fan).toBe(now);
  }
  return { told, end: end.share };
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
  it('is told no sooner than what is in force has been for 2 s', () => {
    expect(led('wwwwbbbww', { spinUp: 3, holds: true, judged: false }, 0).told[0]).toEqual([2, 0.9]);
    expect(led('wwwwbbbww', { spinUp: 3, holds: true, judged: false }, 1).told[0]).toEqual([1, 0.9]);
  });
  it('lasts 2 s over a short bridge that is judged, and on into the next that is near', () => {
    expect(led('wwbwbwww', { spinUp: 0, holds: true, judged: true }).told).toEqual([
      [2, 0.9],
      [5, 0.3],
    ]);
    // What would be left between two of them is no rest.
    expect(led('wwbwwwbbbww', { spinUp: 0, holds: true, judged: true }).told).toEqual([
      [2, 0.9],
      [4, 0.3],
      [6, 0.9],
      [9, 0.3],
    ]);
    expect(led('wwbwwbbbww', { spinUp: 0, holds: true, judged: true }).told).toEqual([
      [2, 0.9],
      [8, 0.3],
    ]);
  });
  it('is told anew for a tool that is taken in hand, and nothing reaches over that', () => {
    const chunk = chunkOf('wwwwbbbb');
    chunk.commands = [
      { before: 2, line: 0, kind: 'tool', to: 1 },
      { before: 2, line: 0, kind: 'fan', share: 0.3 },
      ...chunk.commands,
    ];
    const end = leadFan([chunk], () => [new Float64Array(8).fill(1)], { share: 0.3, held: 9 }, 8, {
      spinUp: 3,
      holds: true,
      judged: false,
    });
    expect(chunk.commands).toEqual([
      { before: 2, line: 0, kind: 'tool', to: 1 },
      { before: 2, line: 0, kind: 'fan', share: 0.3 },
      { before: 4, line: 0, kind: 'fan', share: 0.9 },
    ]);
    expect(end).toEqual({ share: 0.9, held: 4 });
  });
});
