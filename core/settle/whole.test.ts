import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { demoPairs } from '#core/demo';
import { measureOf, type Reading } from '#core/judge';
import { tensile } from '#core/specimens';
import { freshTrial, planned, trialOfKind, type Planned, type Trial } from '#core/trial';
import { heronPair } from '../testing/fixtures';
import { settleHeights, settleWhole, SPREAD_UNKNOWN, type LevelCost } from '.';

const read = (track: string, cell: number, value: number, replicate = 1): Reading => ({
  print: 'p',
  cells: [cell],
  track,
  value,
  judge: 'me',
  replicate,
});
const height = (track: string, mm: number) => read(`height-${track}`, 0, mm);
const plan = (trial: Trial) => must(planned(trial));
const tower = (levels: number[], kind: 'step' | 'ramp' = 'step') => {
  const fresh = freshTrial('temperature-tower', 'nozzle-temperature', heronPair.context, heronPair.baseline);
  return plan({ ...fresh, axes: [{ ...fresh.axes[0]!, levels, kind }] });
};
const edges = ({ built }: Planned) => {
  const z = built.places.map((p) => p.z).sort((a, b) => a[0] - b[0]);
  return [...z.map((p) => p[0]), z.at(-1)![1]];
};

describe('a height by caliper', () => {
  const bands = tower([260, 250, 240, 230]);
  const at = edges(bands);
  const middle = (k: number) => (at[k]! + at[k + 1]!) / 2;

  it('of a good stretch gives its middle and ends', () => {
    const s = settleWhole(bands, [height('good-from', middle(1)), height('good-to', middle(2))]);
    expect(s.choices).toMatchObject([
      { factor: 'nozzle-temperature', choice: 245, low: 240, high: 250, rule: 'measured' },
    ]);
    expect(s.choices[0]!.why).toMatch(/^good from .* to .*, which is 240 °C to 250 °C$/);
    expect(s.flags).toEqual([]);
  });
  it('of the best place gives the band, or both bands at a border', () => {
    expect(settleWhole(bands, [height('best', middle(2))]).choices).toMatchObject([
      { choice: 240, low: 240, high: 240 },
    ]);
    const border = settleWhole(bands, [height('best', at[2]! + 0.1)]).choices[0]!;
    expect([border.low, border.high]).toEqual([240, 250]);
    // Measured nine times, 0.1 mm is surely above the border.
    const often = Array.from({ length: 9 }, () => height('best', at[2]! + 0.1));
    expect(settleWhole(bands, often).choices[0]).toMatchObject({ low: 240, high: 240 });
  });
  it('of the place where it fails gives the last band below, and none below the first', () => {
    expect(settleWhole(bands, [height('fails', middle(2))]).choices).toMatchObject([
      { choice: 250, low: 240, high: 250 },
    ]);
    expect(settleHeights(bands, [height('fails', middle(0))], 0)).toBeUndefined();
    const none = settleWhole(bands, [height('fails', middle(0))]);
    expect([none.choices, none.flags.map((f) => f.code)]).toEqual([[], ['at-the-edge']]);
  });
  it('on a flow limit wall is the limit less its margin, by one measurement', () => {
    const wall = plan(trialOfKind('flow-limit', heronPair.context, heronPair.baseline)!);
    const [low, high] = [edges(wall)[0]!, edges(wall).at(-1)!];
    const axis = wall.trial.axes[0]!;
    const share = 0.6;
    const fails = low + share * (high - low);
    const s = settleWhole(wall, [height('fails', fails)]);
    // By hand: the value runs on evenly from level to level.
    const n = axis.levels.length;
    const at = share * n;
    const k = Math.floor(at);
    const expected = axis.kind === 'ramp' ? undefined : axis.levels[k - 1]!;
    expect(s.choices).toHaveLength(1);
    const kept = s.choices[0]!;
    if (expected !== undefined) expect(kept.choice).toBeCloseTo(0.95 * expected, 1);
    else {
      expect(kept.choice).toBeGreaterThan(0.95 * Math.min(...axis.levels));
      expect(kept.choice).toBeLessThan(0.95 * Math.max(...axis.levels));
    }
    expect(kept.why).toMatch(/5 % less for safety/);
    const none = settleWhole(wall, [height('fails', fails)], { rule: 'less-0' }).choices[0]!;
    expect(kept.choice / none.choice).toBeCloseTo(0.95, 2);
  });
  it('left out of the sums decides nothing', () => {
    expect(settleHeights(bands, [{ ...height('best', middle(1)), excluded: 'slipped' }], 0)).toBeUndefined();
  });
});

/** A trial over one factor on bars, its loads as they are read. */
const bars = (factor: string, levels: number[]) => {
  const fresh = freshTrial('lying-bar', factor, heronPair.context, heronPair.baseline);
  return plan({ ...fresh, axes: [{ factor, levels, kind: 'step', along: fresh.axes[0]!.along }] });
};
const load = { ...measureOf('load')! };

describe('loads of bars', () => {
  const temperatures = bars('nozzle-temperature', [230, 240, 250, 260, 270]);
  const cells = temperatures.cells;
  const loads = (means: number[], spread: number) =>
    cells.flatMap((c, k) => [-1, 0, 1].map((d, n) => read('load', c.id, means[k]! + d * spread, n + 1)));
  const { scale, thickness } = temperatures.trial.specimen.params as { scale: number; thickness: number };
  const section = tensile.narrow * scale * thickness;

  it('choose the strongest level, in MPa, where it stands out', () => {
    const s = settleWhole(temperatures, loads([300, 340, 420, 380, 330], 4), { quantities: [load] });
    expect(s.choices).toMatchObject([{ choice: 250, low: 250, high: 250, rule: 'measured' }]);
    expect(s.choices[0]!.why).toContain(`${Math.round((420 / section) * 100) / 100}`.slice(0, 4));
    expect(s.flags).toEqual([]);
    // Three at a level, sd 4: Student’s value for ten degrees is 2.228.
    expect(s.quantities[0]!.levels[2]!.half).toBeCloseTo((2.228 * 4) / Math.sqrt(3) / section, 3);
  });
  it('name levels that cannot be told apart, and take the cheapest of them', () => {
    const costs: LevelCost[] = cells.map((c, k) => ({ cell: c.id, time: 600 - 20 * k, mass: 5 }));
    const s = settleWhole(temperatures, loads([300, 400, 402, 398, 310], 12), { quantities: [load], costs });
    expect(s.choices).toMatchObject([{ choice: 260, low: 240, high: 260 }]);
    expect(s.choices[0]!.why).toMatch(/^3 levels cannot be told apart from the best, 250 °C .*the cheapest of them/);
  });
  it('say where they tell nothing apart, and still give the cheapest', () => {
    const s = settleWhole(temperatures, loads([400, 401, 399, 400, 402], 15), { quantities: [load] });
    expect(s.choices).toHaveLength(1);
    expect(s.flags.map((f) => f.code)).toEqual(['no-visible-difference']);
  });
  it('give the cheapest that surely has enough, and say where none has', () => {
    const costs: LevelCost[] = cells.map((c, k) => ({ cell: c.id, time: 300 + 20 * k, mass: 5 }));
    const options = (mpa: number) => ({ quantities: [load], costs, enough: { load: mpa } });
    const of = (mpa: number) => settleWhole(temperatures, loads([300, 340, 420, 380, 330], 4), options(mpa));
    const half = (2.228 * 4) / Math.sqrt(3);
    expect(of((340 - half - 0.1) / section).choices[0]!.choice).toBe(240);
    expect(of((340 - half + 0.1) / section).choices[0]!.choice).toBe(250);
    const none = of(430 / section);
    expect(none.choices).toEqual([]);
    expect(none.flags[0]!.message).toMatch(/^no level surely has at least .* MPa: the best, 250 °C, has/);
  });
  it('read once each are told apart only beyond a spread that is taken for granted', () => {
    const once = (second: number) =>
      settleWhole(temperatures, [read('load', cells[0]!.id, 400), read('load', cells[1]!.id, second)], {
        quantities: [load],
      }).choices[0]!;
    const bound = 1.96 * SPREAD_UNKNOWN * Math.SQRT2;
    expect(once(400 * (1 + bound + 0.03)).low).toBe(240);
    expect(once(400 * (1 + bound - 0.03)).low).toBe(230);
  });
});

describe('other quantities', () => {
  const infill = (levels: number[]) => {
    const fresh = freshTrial('block', 'infill-density', heronPair.context, heronPair.baseline);
    return plan({ ...fresh, axes: [{ factor: 'infill-density', levels, kind: 'step', along: 'print' }] });
  };
  it('of yes and no: where all are tight, the cheapest is enough', () => {
    const p = infill([0.15, 0.5, 1]);
    const costs = p.cells.map((c, k) => ({ cell: c.id, time: 600 + 300 * k, mass: 10 + 8 * k }));
    const leaks = (values: number[]) =>
      settleWhole(
        p,
        values.map((v, k) => read('leaks', p.cells[k]!.id, v)),
        { quantities: [measureOf('leaks')!], costs },
      );
    expect(leaks([0, 0, 0]).choices).toMatchObject([{ factor: 'infill-density', choice: 0.15 }]);
    expect(leaks([0, 0, 0]).choices[0]!.why).toBe('no level has leaks; the cheapest of them by time and filament');
    expect(leaks([1, 0, 0]).choices[0]!.choice).toBe(0.5);
    expect(leaks([1, 1, 1])).toMatchObject({ choices: [], flags: [{ message: 'every level has leaks' }] });
  });
  it('of which less is better choose the least', () => {
    const p = infill([0.15, 0.5, 1]);
    const sag = p.cells.flatMap((c, k) => [0, 1].map((n) => read('sag', c.id, [0.9, 0.3, 0.6][k]! + 0.01 * n, n + 1)));
    expect(settleWhole(p, sag, { quantities: [measureOf('sag')!] }).choices).toMatchObject([{ choice: 0.5 }]);
  });
  it('on a map give both values of the best cell', () => {
    const p = plan(trialOfKind('retraction-fence', heronPair.context, heronPair.baseline)!);
    const loads = p.cells.flatMap((c, k) => [0, 1].map((n) => read('load', c.id, 30 + 19 * k + n, n + 1)));
    const s = settleWhole(p, loads, { quantities: [load] });
    const best = p.cells.at(-1)!;
    expect(Object.fromEntries(s.choices.map((c) => [c.factor, c.choice]))).toEqual(best.levels);
  });
  it('stand back where cells are scored, unless the rule asks for them', () => {
    const p = infill([0.15, 0.5, 1]);
    const readings = p.cells.flatMap((c, k) => [
      read('surface', c.id, [4, 3, 1][k]!),
      read('load', c.id, 100 + 100 * k),
    ]);
    const by = (rule: string) => settleWhole(p, readings, { quantities: [load], rule }).choices[0]?.rule;
    expect(by('measured')).toBe('measured');
    expect(by('best-combined')).not.toBe('measured');
  });
});

describe('a feed check', () => {
  const check = (steps: number | undefined) => {
    const { context, baseline } = demoPairs[0]!;
    const extruder = { ...context.printer.extruder, stepsPerMm: steps, rotationDistance: undefined };
    return plan(trialOfKind('feed-check', { ...context, printer: { ...context.printer, extruder } }, baseline)!);
  };
  const left = (p: Planned, mm: number) => settleWhole(p, [read('remainder', p.cells[0]!.id, mm)]).choices;
  it('within the reading error leaves the steps as they are, and that is its value', () => {
    expect(left(check(415), 20.6)).toMatchObject([{ factor: 'extruder-steps', choice: 415 }]);
    expect(left(check(415), 20.6)[0]!.why).toMatch(/within the reading error, ± 1 mm, so it stays/);
    // Fed 94.1 of 100.
    expect(left(check(415), 25.9)[0]!.choice).toBeCloseTo((415 * 100) / 94.1, 2);
  });
  it('without steps that are known still has one: times what is set', () => {
    expect(left(check(undefined), 20)).toMatchObject([{ factor: 'feed-correction', choice: 1 }]);
    expect(left(check(undefined), 25.9)[0]).toMatchObject({ factor: 'feed-correction', choice: 100 / 94.1 });
  });
});
