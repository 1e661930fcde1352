import { describe, expect, it } from 'vitest';
import type { Reading } from '#core/judge';
import { comparisonWords, conditionDifferences, differences, effectsOf, gains, tradeOff, type CellScore } from '.';

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
  it('takes the difference cell by cell with its standard error', () => {
    const a = { label: 'morning', readings: said('stringing', [1, 2, 3, 2]) };
    const b = { label: 'evening', readings: said('stringing', [2, 3, 4, 4]) };
    // Differences 1, 1, 1, 2: mean 1.25, s = 0.5, error 0.25.
    const [d] = differences(a, b);
    expect(d).toMatchObject({ difference: 1.25, n: 4, means: [2, 3.25] });
    expect(d!.error).toBeCloseTo(0.25, 12);
    expect(comparisonWords(a, b, [])[0]).toContain('evening is better by 1.3 ± 0.5');
    expect(comparisonWords(a, b, ['room: 18 / 24'])[0]).toMatch(/more than one thing differed.*room: 18 \/ 24/);
  });
  it('leaves out what is excluded and what only one was read on', () => {
    const a = { label: 'a', readings: said('stringing', [1, 2]) };
    const b = { label: 'b', readings: said('stringing', [3, 3]).map((r) => ({ ...r, excluded: 'wrong spool' })) };
    expect(differences(a, b)).toEqual([]);
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
