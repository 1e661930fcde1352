import { describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { demoPair } from '#core/demo';
import { drawTraits, hiddenBehind } from '#core/lab';
import { planned, trialOfKind } from '#core/trial';
import { costBetween, priceOf } from '.';

const pair = demoPair('heron-marsh-petg')!;
const traits = drawTraits(pair.context, 7, '2026-11-28');
const trialOf = (kind: string) => trialOfKind(kind, pair.context, pair.baseline)!;

describe('what a settled value costs against the best', () => {
  it('is quality where it is far off, and nothing where it is the same', () => {
    const { best } = hiddenBehind('flow', traits, pair.context, 245)! as { best: number };
    const of = (settled: number) =>
      must(finish(priceOf(trialOf('flow-coarse'), { factor: 'flow', settled, best }, traits)))!;
    const far = of(best + 0.12);
    expect(far.best).toBeGreaterThan(far.settled + 0.5);
    // Beyond the third figure nothing is another level.
    const same = of(Number(best.toPrecision(3)));
    expect(same.settled).toBe(same.best);
    const near = of(Number(best.toPrecision(3)) + 0.004);
    expect(Math.abs(near.settled - near.best)).toBeLessThan(0.7);
  });

  it('is little where a temperature is off by a degree, and more where it is by fifteen', { timeout: 120_000 }, () => {
    // The same print laid from other corners shifts the price on one printer by up to 0.3; over four it is steadier.
    const printers = [7, 9, 10, 11].map((seed) => drawTraits(pair.context, seed, '2026-11-28'));
    const lost = (off: number) => {
      const of = { factor: 'nozzle-temperature', settled: 245 + off, best: 245 };
      const prices = printers.map((p) => must(finish(priceOf(trialOf('temperature-tower'), of, p)))!);
      return prices.reduce((sum, p) => sum + p.best - p.settled, 0) / prices.length;
    };
    expect(Math.abs(lost(1))).toBeLessThan(0.15);
    expect(lost(15)).toBeGreaterThan(0.8);
    expect(lost(-15)).toBeGreaterThan(0.25);
  });

  it('is told of one factor where two were varied, and not where each level is a print', () => {
    const fence = trialOf('retraction-fence');
    const [a] = fence.axes;
    const of = { factor: a!.factor, settled: a!.levels[0]!, best: a!.levels[1]! };
    expect(must(finish(priceOf(fence, of, traits)))).toBeDefined();
    const apart = { ...fence, axes: [{ ...a!, along: 'print' as const }] };
    expect(must(finish(priceOf(apart, of, traits)))).toBeUndefined();
  });
});

describe('what a level takes more than another', () => {
  const plan = must(planned(trialOf('temperature-tower')));
  const level = (cell: number) => plan.cells[cell]!.levels['nozzle-temperature']!;
  // A foot of 90 s and a top of 30 s more; between them 2 s and 0.1 g for each degree.
  const costs = plan.cells.map(({ id }, i) => ({
    cell: id,
    time: 300 + 2 * level(i) + (i === 0 ? 90 : 0) + (i === plan.cells.length - 1 ? 30 : 0),
    mass: 0.1 * level(i) + (i === 0 ? 3 : 0),
  }));
  const between = (from: number, to: number) => costBetween(plan, costs, 'nozzle-temperature', [from, to]);

  it('is read between the cells, without the foot and the top', () => {
    expect(between(245, 252.5)!.time).toBeCloseTo(15, 9);
    expect(between(245, 252.5)!.mass).toBeCloseTo(0.75, 9);
    expect(between(252, 252)).toEqual({ time: 0, mass: 0 });
    // Beyond the cells that count nothing is guessed.
    expect(between(260, 300)!.time).toBe(0);
    expect(between(235, 200)!.time).toBe(0);
  });

  it('is not told where two factors vary, or no cell has a cost', () => {
    const fence = must(planned(trialOf('retraction-fence')));
    expect(costBetween(fence, costs, fence.trial.axes[0]!.factor, [1, 2])).toBeUndefined();
    expect(costBetween(plan, [], 'nozzle-temperature', [240, 250])).toBeUndefined();
  });
});
