import { describe, expect, it } from 'vitest';
import { must, normal, seeded } from '#core/base';
import { factorOf } from '#core/factors';
import type { Reading } from '#core/judge';
import { planned, trialOfKind, type Trial } from '#core/trial';
import { heronPair } from '../testing/fixtures';
import { rules, rulesFor, settle, type Settled } from '.';

const { context, baseline } = heronPair;
const kind = (id: string): Trial => trialOfKind(id, context, baseline)!;
const said = (cell: number, track: string, value: Reading['value'], replicate = 1): Reading => ({
  print: 'p',
  cells: [cell],
  track,
  value,
  judge: 'me',
  replicate,
});
const patterns = must(planned(kind('angle-sequence')));
const names = factorOf(patterns.trial.axes[0]!.factor)!.choices!;
const nameOf = (s: Settled) => names[s.choices[0]?.choice ?? -1];
/** As said among others: a name that is itself a list stands in quotes. */
const quoted = (name: string) => (name.includes(',') ? `“${name}”` : name);
const nameIn = (cell: number) => names[Object.values(patterns.cells[cell]!.levels)[0]!]!;
const many = patterns.cells.length;

describe('a choice among names', () => {
  it('of two is made from two cells, where amounts need three', () => {
    const two = must(planned(kind('layer-heights')));
    const read = [said(0, 'surface', 1), said(1, 'surface', 4), said(0, 'overhang', 2), said(1, 'overhang', 4)];
    const { choices, flags } = settle(two, read);
    expect(flags).toEqual([]);
    const [choice] = choices;
    expect(choice).toMatchObject({ choice: 1, low: 1, high: 1, interval95: [1, 1], rule: 'best-combined' });
    expect(choice!.why).toMatch(/^the combined score is highest there, 4 of 4; the best of the 2 with (over )?\d+ %$/);
    expect(settle(two, read.slice(0, 1)).flags[0]!.message).toBe('only one cell is read; a choice needs at least two');
    expect(settle(two, []).flags[0]!.message).toMatch(/^nothing is read/);
  });
  it('names those that may be as good, and goes on with them alone', () => {
    const scores = [0, 4, 3.5, 1];
    const s = settle(
      patterns,
      scores.map((v, c) => said(c, 'top-skin', v)),
    );
    expect(nameOf(s)).toBe(nameIn(1));
    expect(s.choices[0]!.why).toContain(`, ${quoted(nameIn(2))} with `);
    expect(s.flags.map((f) => f.code)).toEqual(['coarse']);
    expect(s.flags[0]!.cells).toEqual([1, 2]);
    expect(s.next!.axes[0]!.levels.map((l) => names[l])).toEqual([nameIn(1), nameIn(2)]);
    expect(s.nextWhy).toBe(`or print only what may be the best: ${quoted(nameIn(1))} and ${quoted(nameIn(2))}`);
    expect(planned(s.next!).ok).toBe(true);
    // Read there again, what was said of them before counts along: only now the second is the better one.
    const next = must(planned(s.next!));
    const earlier = [{ cells: patterns.cells, readings: scores.map((v, c) => said(c, 'top-skin', v)) }];
    const again = [
      said(0, 'top-skin', 1),
      said(1, 'top-skin', 4),
      said(0, 'top-skin', 1, 2),
      said(1, 'top-skin', 4, 2),
    ];
    const after = settle(next, again, { earlier });
    expect(nameOf(after)).toBe(nameIn(2));
    // (1 + 1 + 4) / 3 against (4 + 4 + 3.5) / 3.
    expect(after.scores.map((q) => q.together)).toEqual([2, 11.5 / 3]);
  });
  it('goes by what it costs where that is weighed, or where it takes least of those that pass', () => {
    const read = patterns.cells.map((c) => said(c.id, 'top-skin', c.id === 1 ? 4 : 3));
    const costs = patterns.cells.map((c) => ({ cell: c.id, time: c.id === 2 ? 300 : 600, mass: 2 }));
    const chosen = (weights: Record<string, number>, rule = 'best-combined') =>
      nameOf(settle(patterns, read, { costs, weights, rule }));
    expect(chosen({ time: 2 })).toBe(nameIn(2));
    expect(chosen({}, 'cheapest-that-passes')).toBe(nameIn(2));
    expect(settle(patterns, read, { rule: 'cheapest-that-passes' }).flags[0]!.code).toBe('nothing-clean');
    expect(settle(patterns, read, { costs, rule: 'cheapest-that-passes' }).choices[0]!.why).toContain('5 min');
  });
  it('leaves out void cells and what counts for nothing', () => {
    const read = patterns.cells.flatMap((c) => [
      said(c.id, 'top-skin', c.id === 1 ? 4 : 1),
      said(c.id, 'surface', c.id === 2 ? 4 : 1),
    ]);
    expect(nameOf(settle(patterns, read, { weights: { surface: 0 } }))).toBe(nameIn(1));
    expect(nameOf(settle(patterns, read, { weights: { 'top-skin': 0 } }))).toBe(nameIn(2));
    const inspection = { cells: patterns.cells.map((c) => ({ id: c.id, ok: c.id !== 1 })) } as never;
    expect(nameOf(settle(patterns, read, { weights: { surface: 0 }, inspection }))).not.toBe(nameIn(1));
  });
  it('by pairs has no edge to be extended', () => {
    const order = { order: [0, 1], best: [0.9, 0.1], strength: [1, 0], error: [0, 0] } as never;
    const [choice] = settle(patterns, [], { rule: 'most-preferred', preferred: order }).choices;
    expect(choice).toMatchObject({ low: choice!.choice, high: choice!.choice });
    expect(choice!.why).not.toContain('edge');
  });
  it('stands on a map too, beside the amount of the other factor', () => {
    const map = must(planned(kind('retraction-fence')));
    const trial: Trial = {
      ...kind('angle-sequence'),
      axes: [
        { ...patterns.trial.axes[0]!, levels: [0, 1] },
        { ...map.trial.axes[0]!, factor: 'flow', levels: [0.95, 1, 1.05], along: 'tile' },
      ],
    };
    const plan = must(planned(trial));
    const best = plan.cells.find((c) => c.index[0] === 1 && c.index[1] === 1)!;
    const read = plan.cells.map((c) => said(c.id, 'top-skin', c === best ? 4 : c.index[0] === 1 ? 2 : 1));
    const { choices } = settle(plan, read);
    expect(choices.map((c) => [c.factor, c.choice])).toEqual([
      [trial.axes[0]!.factor, 1],
      ['flow', 1],
    ]);
  });
  it('knows only the rules that names can have', () => {
    expect(rulesFor(factorOf('angle-sequence')).map((r) => r.id)).toEqual([
      'best-combined',
      'most-preferred',
      'cheapest-that-passes',
    ]);
    expect(rulesFor(factorOf('flow'))).toEqual(rules);
    // Fifteen per cent of a temperature in °C is nothing.
    const hot = rulesFor(factorOf('nozzle-temperature')).map((r) => r.id);
    expect(hot).toEqual(rules.map((r) => r.id).filter((id) => !id.startsWith('less-')));
  });
});

describe('how well names are told apart, by a simulated judge', () => {
  /** Scores of hidden qualities: normal noise of half a point, whole points. */
  const judged = (hidden: readonly number[], tracks: readonly string[], random: () => number): Reading[] =>
    tracks.flatMap((track) =>
      hidden.map((h, c) => said(c, track, Math.min(4, Math.max(0, Math.round(h + 0.5 * normal(random)))))),
    );
  const tracks = ['top-skin', 'surface'];
  it('calls no difference where there is none, in about 19 of 20', () => {
    const random = seeded(7);
    let called = 0;
    const runs = 400;
    for (let k = 0; k < runs; k++) {
      const level = 1 + 2 * random();
      const s = settle(
        patterns,
        judged(
          patterns.cells.map(() => level),
          tracks,
          random,
        ),
      );
      if (s.flags.some((f) => f.code === 'no-visible-difference')) called++;
    }
    expect(called / runs).toBeGreaterThan(0.92);
  });
  it('finds the best of hidden ones a point and a half ahead, and says truly how sure it is', () => {
    const random = seeded(11);
    const runs = 400;
    let right = 0;
    let answered = 0;
    let sure = 0;
    for (let k = 0; k < runs; k++) {
      const hidden = patterns.cells.map(() => 0.5 + 1.5 * random());
      const best = Math.floor(random() * many);
      hidden[best] = Math.max(...hidden) + 1.5;
      const s = settle(patterns, judged(hidden, tracks, random));
      if (s.choices.length === 0) continue;
      answered++;
      if (nameOf(s) === nameIn(best)) right++;
      sure += Number(/best of the \d+ with (?:over )?(\d+) %/.exec(s.choices[0]!.why)![1]) / 100;
    }
    expect(answered / runs).toBeGreaterThan(0.9);
    expect(right / answered).toBeGreaterThan(0.93);
    expect(Math.abs(sure / answered - right / answered)).toBeLessThan(0.06);
  });
});
