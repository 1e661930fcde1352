import { describe, expect, it } from 'vitest';
import type { Reading } from '#core/judge';
import {
  comparisonWords,
  conditionDifferences,
  differences,
  effectsOf,
  gains,
  studentOf,
  tradeOff,
  type CellScore,
} from '.';

const said = (track: string, values: number[]): Reading[] =>
  values.map((value, cell) => ({ print: 'p', cells: [cell], track, value, judge: 'me', replicate: 1 }));

describe('comparing two prints', () => {
  const dry = { firmware: '2.1', room: '21 °C', drying: '6 h at 65 °C', note: 'first' };
  it('names every condition that differed, and not what is merely not said', () => {
    const print = (id: string, conditions: Record<string, string>) => ({ id, on: '2026-11-14', conditions });
    expect(conditionDifferences([print('a', dry), print('b', { ...dry, note: 'second' })])).toEqual([]);
    expect(conditionDifferences([print('a', dry), print('b', { ...dry, firmware: '' })])).toEqual([]);
    expect(conditionDifferences([print('a', dry), print('b', { ...dry, firmware: '2.2', drying: 'none' })])).toEqual([
      'firmware: 2.1 / 2.2',
      'drying: 6 h at 65 °C / none',
    ]);
  });
  it('takes the difference cell by cell, with Student’s interval', () => {
    const a = { label: 'morning', readings: said('stringing', [1, 2, 3, 2]) };
    const b = { label: 'evening', readings: said('stringing', [2, 3, 4, 4]) };
    // Differences 1, 1, 1, 2: mean 1.25, s = 0.5, standard error 0.25; Student's value for three degrees is 3.182.
    const [d] = differences(a, b);
    expect(d).toMatchObject({ difference: 1.25, n: 4, means: [2, 3.25], clear: true });
    expect(d!.bound).toBeCloseTo(3.182 * 0.25, 12);
    expect(comparisonWords(a, b, [])[0]).toBe('stringing: 2 against 3.3, evening is better by 1.3 ± 0.8 (4 cells)');
    expect(comparisonWords(b, a, [])[0]).toContain('evening is better by 1.3 ± 0.8');
  });
  it('does not take whole scores for surer than half a point, nor one cell for a difference', () => {
    const a = { label: 'a', readings: said('stringing', [1, 2]) };
    const b = { label: 'b', readings: said('stringing', [3, 4]) };
    // Both cells differ by just 2, but of two cells nothing less than 12.7 × √(1/6 / 2) is sure.
    expect(differences(a, b)[0]!.bound).toBeCloseTo(12.706 * Math.sqrt(1 / 12), 9);
    expect(comparisonWords(a, b, [])).toEqual(['stringing: 1.5 against 3.5, no clear difference (2 cells)']);
    const one = { label: 'c', readings: said('stringing', [0]) };
    expect(comparisonWords(one, b, [])).toEqual(['stringing: 0 against 3, no clear difference (1 cell)']);
  });
  it('knows Student’s values from the table and beyond it', () => {
    // Fisher and Yates: 12.706, 2.228, 2.086, 2.000, 1.980.
    expect([1, 10, 20, 60, 120].map((n) => Number(studentOf(n).toFixed(3)))).toEqual([12.706, 2.228, 2.086, 2, 1.98]);
    expect(studentOf(0)).toBeNaN();
  });
  it('says what differed besides: one thing is what is compared, of several it cannot be put down to one', () => {
    const side = { label: 'a', readings: said('stringing', [1, 2]) };
    expect(comparisonWords(side, side, ['room: 18 / 24'])[0]).toBe('one thing differed between them: room: 18 / 24');
    expect(comparisonWords(side, side, ['room: 18 / 24', 'drying: none / 6 h'])[0]).toBe(
      'more than one thing differed between them, so the difference cannot be put down to one of them: room: 18 / 24; drying: none / 6 h',
    );
  });
  it('knows of a measured quantity whether more or less is better, and what its instrument tells', () => {
    const a = { label: 'old', readings: said('sag', [0.9, 1, 1.1]) };
    const b = { label: 'new', readings: said('sag', [0.4, 0.5, 0.6]) };
    expect(comparisonWords(a, b, [])[0]).toMatch(
      /^sag: 1 against 0\.5 mm, new is better by 0\.5 ± 0\.09 mm \(3 cells\)$/,
    );
    // Within what the caliper tells, ±0.05 mm, nothing is clear; a thickness is neither better nor worse.
    const near = { label: 'near', readings: said('sag', [0.93, 1.03, 1.13]) };
    expect(comparisonWords(a, near, [])[0]).toContain('no clear difference');
    const thin = [said('thickness', [1, 1, 1, 1]), said('thickness', [1.5, 1.5, 1.5, 1.5])] as const;
    expect(comparisonWords({ label: 'x', readings: thin[0] }, { label: 'y', readings: thin[1] }, [])[0]).toMatch(
      /^thickness: 1 against 1\.5 mm, they differ by 0\.5 ± 0\.02 mm/,
    );
  });
  it('takes the user’s own quantities by their words, and a series in time hour by hour', () => {
    const measures = [{ id: 'own-bend', label: 'bend', unit: 'mm', better: 'less' as const, error: 0.1, how: '' }];
    const at = (values: [number, number][]): Reading[] =>
      values.map(([after, value], i) => ({ ...said('own-bend', [value])[0]!, after, replicate: i + 1 }));
    const a = {
      label: 'a',
      readings: at([
        [0, 1],
        [60, 2],
        [120, 3],
      ]),
      measures,
    };
    const b = {
      label: 'b',
      readings: at([
        [60, 2.5],
        [120, 3.5],
        [180, 9],
      ]),
      measures,
    };
    expect(differences(a, b)[0]).toMatchObject({ label: 'bend', unit: 'mm', n: 2, difference: 0.5 });
  });
  it('tells time and filament where both are known', () => {
    const side = (label: string, time?: number, mass?: number) => ({
      label,
      readings: [],
      ...(time !== undefined && { time }),
      ...(mass !== undefined && { mass }),
    });
    expect(comparisonWords(side('a', 100, 10), side('b', 112, 9), []).slice(1)).toEqual([
      'time: b takes 12 % more',
      'filament: b takes 10 % less',
    ]);
    expect(comparisonWords(side('a', 100, 10), side('b', 100.1), []).slice(1)).toEqual(['time: the same']);
  });
  it('leaves out what is excluded and what only one was read on', () => {
    const a = { label: 'a', readings: said('stringing', [1, 2]) };
    const b = { label: 'b', readings: said('stringing', [3, 3]).map((r) => ({ ...r, excluded: 'wrong spool' })) };
    const brushed = { label: 'b', readings: said('stringing', [3, 3]).map((r) => ({ ...r, brushed: true })) };
    expect(differences(a, b)).toEqual([]);
    expect(differences(a, brushed)).toEqual([]);
    expect(comparisonWords(a, b, [])).toEqual(['no track was read on both']);
  });
});

it('a full 2 × 2 gives effects and interaction, worked by hand', () => {
  // Ironing lifts the score by 2 alone and by 1 with one-way order: effects 1.5 and 0.5, interaction −0.5.
  expect(effectsOf([1, 3, 2, 3])).toEqual({ first: 1.5, second: 0.5, interaction: -0.5 });
});

describe('the trade-off', () => {
  const score = (cell: number, together: number): CellScore => ({
    cell,
    level: 10 * (cell + 1),
    byQuality: {},
    together,
    n: 1,
    broke: false,
  });
  const scores = [score(0, 1), score(1, 3), score(2, 2.9), score(3, 3.5)];
  const costs = [
    { cell: 0, time: 600, mass: 4 },
    { cell: 1, time: 700, mass: 5 },
    { cell: 2, time: 900, mass: 6 },
    { cell: 3, time: 1000, mass: 7 },
  ];
  it('marks what passes and what nothing beats', () => {
    const trades = tradeOff(scores, costs);
    expect(trades.map((t) => t.passes)).toEqual([false, true, true, true]);
    // The third costs more than the second and is worse.
    expect(trades.map((t) => t.pareto)).toEqual([true, true, false, true]);
  });
  it('goes by the curve through all levels, as the value does', () => {
    // One lucky score of the cheapest level: on the curve the dearer one is better, so it is worth its price.
    const lucky = [
      { ...score(0, 4), smoothed: 3.2 },
      { ...score(1, 3.5), smoothed: 3.6 },
    ];
    const trades = tradeOff(lucky, costs);
    expect(trades.map((t) => [t.quality, t.pareto])).toEqual([
      [3.2, true],
      [3.6, true],
    ]);
    expect(gains(trades, (v) => `${v} %`)).toEqual(['10 % → 20 %: 0.4 points more for +2 min and +1 g']);
  });
  it('counts costs within a hundredth as the same', () => {
    const nearly = scores.map((s) => ({ cell: s.cell, time: 600 + s.cell, mass: 4 }));
    // All cost alike, so only the best is not beaten.
    expect(tradeOff(scores, nearly).map((t) => t.pareto)).toEqual([false, false, false, true]);
  });
  it('says what each further gain costs', () => {
    expect(gains(tradeOff(scores, costs), (v) => `${v} %`)).toEqual([
      '10 % → 20 %: 2 points more for +2 min and +1 g',
      '20 % → 40 %: 0.5 points more for +5 min and +2 g',
    ]);
  });
});
