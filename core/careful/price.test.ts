import { describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { demoPair } from '#core/demo';
import { drawTraits, hiddenBehind } from '#core/lab';
import { trialOfKind } from '#core/trial';
import { priceOf } from '.';

const pair = demoPair('heron-marsh-petg')!;
const traits = drawTraits(pair.context, 7, '2026-11-28');

describe('what a settled value costs against the best', () => {
  it('is quality where it is far off, and nothing where it is the same', () => {
    const trial = trialOfKind('flow-coarse', pair.context, pair.baseline)!;
    const { best } = hiddenBehind('flow', traits, pair.context, 245)! as { best: number };
    const of = (settled: number) => must(finish(priceOf(trial, { factor: 'flow', settled, best }, traits)))!;
    const far = of(best + 0.12);
    expect(far.best.quality).toBeGreaterThan(far.settled.quality + 0.5);
    // More flow is more filament, by about as much.
    expect(far.settled.mass / far.best.mass).toBeCloseTo((best + 0.12) / best, 1);
    const same = of(best);
    expect(same.settled).toEqual(same.best);
  });

  it('is time where a flow limit is lower than it need be', () => {
    const trial = trialOfKind('flow-limit', pair.context, pair.baseline)!;
    const price = must(finish(priceOf(trial, { factor: 'volumetric-flow', settled: 5, best: 9 }, traits)))!;
    expect(price.settled.time).toBeGreaterThan(price.best.time);
  });

  it('is of one level where two factors were varied', () => {
    const trial = trialOfKind('retraction-fence', pair.context, pair.baseline)!;
    const [a] = trial.axes;
    const price = must(
      finish(priceOf(trial, { factor: a!.factor, settled: a!.levels[0]!, best: a!.levels[1]! }, traits)),
    );
    expect(price?.best.mass).toBeGreaterThan(0);
  });
});
