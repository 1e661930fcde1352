import { must, normal, seeded } from '#core/base';
import { factorOf } from '#core/factors';
import type { Reading } from '#core/judge';
import { planned, trialOfKind, type Trial } from '#core/trial';
import { describe, expect, it } from 'vitest';
import { heronPair, smallTower } from '../testing/fixtures';
import { settle } from '.';
import type { LevelCost } from './costs';
import { cheaperOfEqual, cheapestOfFlat, SAVES, TIE } from './picks';
import type { CellScore } from './scores';
import { strongerOfEqual, WORTH } from './stronger';
import type { Study } from './study';

const { context, baseline } = heronPair;
const factor = factorOf('top-layers')!;
const scored = (level: number, score: number, cell = level): CellScore => ({
  cell,
  level,
  byQuality: { 'top-skin': { mean: score, n: 1 } },
  together: score,
  n: 1,
  broke: false,
});
/** Time in s and mass in g of levels. */
const costing = (of: Record<number, [number, number]>): LevelCost[] =>
  Object.entries(of).map(([cell, [time, mass]]) => ({ cell: Number(cell), time, mass }));
const picked = (value: number) => ({
  value,
  low: value - 1,
  high: value + 1,
  why: 'the score is highest there',
  cells: [],
});

describe('between equals the cheaper is taken', () => {
  const read = [scored(3, 2), scored(4, 3), scored(5, 3.6), scored(6, 3.65)];
  const take = (at: (level: number) => number, costs: LevelCost[]) =>
    cheaperOfEqual(picked(6), read, costs, factor, at);
  const costs = costing({ 3: [900, 3], 4: [960, 3.2], 5: [1000, 3.4], 6: [1100, 3.7] });
  const mean = (by: number) => (level: number) => (level === 6 ? 3.65 : level === 5 ? 3.65 - by : level - 1);

  it('within a tenth of a point, and not beyond', () => {
    const found = take(mean(TIE - 1e-6), costs);
    expect(found).toMatchObject({ value: 5, low: 5, high: 7 });
    expect(found.why).toBe(
      'the score is highest there; 5 is as good within a tenth of a point and takes 9 % less time than 6',
    );
    expect(take(mean(TIE + 1e-6), costs).value).toBe(6);
  });
  it('where it saves two per cent, and not for less', () => {
    const same = mean(0);
    const by = (share: number) => costing({ 5: [1000 * (1 - share), 3.5], 6: [1000, 3.5] });
    expect(take(same, by(SAVES + 1e-6)).value).toBe(5);
    expect(take(same, by(SAVES - 1e-6)).value).toBe(6);
    // In the same time, less filament; faster for more filament is no saving.
    expect(take(same, costing({ 5: [1000, 3.4], 6: [1000, 3.5] })).why).toMatch(/3 % less filament/);
    expect(take(same, costing({ 5: [900, 3.6], 6: [1000, 3.5] })).value).toBe(6);
  });
  it('and a line that is fed less is not cheaper but thinner', () => {
    const equal = [scored(1, 3.6, 0), scored(0.97, 3.6, 1)];
    const less = costing({ 0: [1000, 3.5], 1: [1000, 3.4] });
    const from = (id: string, price = less) =>
      cheaperOfEqual({ ...picked(1), low: 0.98, high: 1.02 }, equal, price, factorOf(id)!, () => 3.6).value;
    for (const id of ['flow', 'first-skin-flow', 'top-skin-flow', 'bridge-flow', 'ironing-flow', 'unretract-extra'])
      expect(from(id), id).toBe(1);
    // Of what lays more or fewer lines less is a saving, and so is less time whatever is fed.
    for (const id of ['infill-density', 'top-layers', 'line-width']) expect(from(id), id).toBe(0.97);
    expect(from('flow', costing({ 0: [1000, 3.5], 1: [900, 3.4] }))).toBe(0.97);
    const alike = [scored(1, 3.6, 0), scored(0.97, 3.6, 1)];
    expect(cheapestOfFlat(alike, less, factorOf('flow')!)).toBeUndefined();
    expect(cheapestOfFlat(alike, less, factorOf('infill-density')!)?.value).toBe(0.97);
  });
  it('and nothing is said where no cost is known', () => {
    expect(take(mean(0), [])).toEqual(picked(6));
  });
});

describe('levels that all pass and do not differ', () => {
  const trial = trialOfKind('top-layers', context, baseline)!;
  const plan = must(planned({ ...trial, axes: [{ ...trial.axes[0]!, levels: [3, 4, 5, 6] }] } as Trial));
  const read = (scores: number[]): Reading[] =>
    scores.flatMap((value, cell) =>
      ['top-skin', 'surface'].map((track) => ({ print: 'p', cells: [cell], track, value, judge: 'me', replicate: 1 })),
    );
  const rising = costing({ 0: [900, 3], 1: [950, 3.2], 2: [1000, 3.4], 3: [1050, 3.6] });

  it('settle on the cheapest, with the words that nothing differs', () => {
    const { choices, flags } = settle(plan, read([4, 4, 4, 4]), { costs: rising });
    expect(choices).toHaveLength(1);
    expect(choices[0]).toMatchObject({ choice: 3, rule: 'cheapest-that-passes' });
    expect(choices[0]!.why).toMatch(/of the 4 that pass, 3 takes least: 15 min and 3 g/);
    expect(flags.map((f) => f.message).join()).toMatch(/no visible difference between 3 and 6, and all pass/);
  });
  it('do not where they cost the same, where nothing passes, or where the costs are not known', () => {
    const even = costing({ 0: [1000, 3], 1: [1001, 3], 2: [1002, 3], 3: [1003, 3] });
    expect(settle(plan, read([4, 4, 4, 4]), { costs: even }).choices).toEqual([]);
    expect(settle(plan, read([2, 2, 2, 2]), { costs: rising }).choices).toEqual([]);
    expect(settle(plan, read([4, 4, 4, 4])).choices).toEqual([]);
    // A single level that fails is a difference, or at least no reason to save.
    expect(cheapestOfFlat([scored(3, 2.7, 0), scored(4, 4, 1)], rising, factor)).toBeUndefined();
    expect(cheapestOfFlat([scored(3, 2.75, 0), scored(4, 4, 1)], rising, factor)).toMatchObject({ value: 3 });
  });
});

describe('the next trial', () => {
  it('has a level at the answer and one to each side, then those that teach', () => {
    const trial = smallTower([265, 260, 255, 250, 245, 240, 235, 230]);
    const plan = must(planned(trial));
    const readings: Reading[] = [1, 2, 3, 4, 4, 3, 2, 1].flatMap((value, cell) =>
      [1, 2].map((replicate) => ({ print: 'p', cells: [cell], track: 'surface', value, judge: 'me', replicate })),
    );
    const { choices, next } = settle(plan, readings);
    const answer = choices[0]!.choice;
    const own = next!.axes[0]!.levels;
    expect(own).toContain(answer);
    // Half a step of 5 °C to each side, as can be set.
    for (const side of [-1, 1]) expect(own.some((v) => Math.abs(v - answer - side * 2.5) <= 1)).toBe(true);
    expect(own.length).toBeGreaterThan(3);
  });
});

describe('a margin', () => {
  it('never leads beyond what can be set, and that is said', () => {
    const plan = must(planned(smallTower([250, 245, 240, 235])));
    const readings: Reading[] = [0, 1, 2, 4].map((value, cell) => ({
      print: 'p',
      cells: [cell],
      track: 'stringing',
      value,
      judge: 'me',
      replicate: 1,
    }));
    const [choice] = settle(plan, readings, { rule: 'less-15' }).choices;
    // 235 °C less 15 % is 200 °C; this filament is printed at 225 °C at least.
    expect(choice).toMatchObject({ choice: 225 });
    expect(choice!.low).toBeGreaterThanOrEqual(225);
    expect(choice!.why).toContain('nothing beyond 225 °C can be set');
  });
});

describe('between equals the stronger is taken', () => {
  const heat = factorOf('nozzle-temperature')!;
  const grid = Float64Array.from({ length: 9 }, (_, i) => i);
  /** Levels 230 to 270 °C in steps of 5: the score together and that of the layers, at each. */
  const studied = (together: number[], strength: number[], track = 'layer-strength', weight = 1) =>
    ({
      parts: [{ track, weight, response: { grid, draws: [Float64Array.from(strength)] } }],
      grid,
      ranked: [Float64Array.from(together)],
      span: 8,
      toX: (level: number) => (level - 230) / 5,
      toLevel: (x: number) => 230 + 5 * x,
    }) as unknown as Study;
  const at = (together: number[], strength: number[], track?: string, weight?: number) =>
    strongerOfEqual(picked(245), studied(together, strength, track, weight), heat);
  const rising = [1, 1.4, 1.8, 2, 2.4, 2.8, 3.2, 3.6, 4];
  const hill = (one: number, two = one) => [2, 2.5, 3, 3.5, 3.5 - one, 3.5 - two, 3, 2.5, 2];

  it('within a tenth of a point, and not beyond', () => {
    expect(at(hill(TIE - 1e-6, TIE + 1e-6), rising).value).toBe(250);
    expect(at(hill(TIE - 1e-6), rising).value).toBe(255);
    expect(at(hill(TIE + 1e-6, 0), rising).value).toBe(245);
    expect(at(hill(TIE - 1e-6), rising).why).toBe(
      'the score is highest there; 255 °C is as good within a tenth of a point, and better in layer strength',
    );
  });
  it('where it is better by enough to be worth it', () => {
    const by = (more: number) => [2, 2, 2, 2, 2 + more, 2 + more, 2, 2, 2];
    expect(at(hill(0.05), by(WORTH + 1e-6)).value).toBe(250);
    expect(at(hill(0.05), by(WORTH - 1e-6)).value).toBe(245);
  });
  it('and no further than it takes: what holds within as much of the most is strong enough', () => {
    const near = (short: number) => [2, 2, 2, 2, 3 - short, 3, 2, 2, 2];
    expect(at(hill(0.05), near(WORTH - 1e-6)).value).toBe(250);
    expect(at(hill(0.05), near(WORTH + 1e-6)).value).toBe(255);
    // Of one way and the other the nearer.
    expect(at([2, 3.45, 3.45, 3.5, 3.45, 2, 2, 2, 2], [1, 3, 2, 2, 3, 1, 1, 1, 1]).value).toBe(250);
  });
  it('colder, where layers hold more there; and nothing of it for a quality that a later stop sets right', () => {
    expect(at([2, 3.45, 3.45, 3.5, 3, 2, 1, 1, 1], [...rising].reverse()).value).toBe(235);
    expect(at(hill(0), rising, 'stringing').value).toBe(245);
    // Nor for one that the person has said not to count.
    expect(at(hill(0), rising, 'layer-strength', 0).value).toBe(245);
  });
  it('counts as an answer: what is said of the optimum takes it in', () => {
    const random = seeded(5);
    const plan = must(planned(smallTower([270, 265, 260, 255, 250, 245, 240, 235])));
    let told = 0;
    for (let run = 0; run < 40; run++) {
      const best = 245 + 15 * random();
      const score = (v: number) => Math.max(0, Math.min(4, Math.round(v + 0.5 * normal(random))));
      const readings = plan.cells.flatMap(({ id, levels }): Reading[] => {
        const level = levels['nozzle-temperature']!;
        const said = (track: string, value: number) => ({
          print: 'p',
          cells: [id],
          track,
          value,
          judge: 'me',
          replicate: 1,
        });
        return [
          said('surface', score(3.6 - ((level - best) / 9) ** 2)),
          said('layer-strength', score(4 / (1 + Math.exp((250 - level) / 5)))),
        ];
      });
      const [choice] = settle(plan, readings, { rule: 'best-combined' }).choices;
      if (!choice) continue;
      if (choice.why.includes('better in layer strength')) told++;
      const [from, to] = choice.interval95;
      expect(from).toBeLessThanOrEqual(choice.choice);
      expect(to).toBeGreaterThanOrEqual(choice.choice);
    }
    expect(told).toBeGreaterThan(5);
  });
});
