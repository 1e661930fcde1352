import { describe, expect, it } from 'vitest';
import { reckonedAgain } from '#core/plan';
import { trialOfKind } from '#core/trial';
import { heronPair } from '../testing/fixtures';
import { passOf } from '.';

const { context, baseline } = heronPair;
const fine = trialOfKind('flow-fine', context, { ...baseline, flow: 1.02 })!;

describe('passes of flow', () => {
  it('lays the same steps out as points or multiplied', () => {
    expect(fine.axes[0]!.levels).toEqual([1, 1.01, 1.02, 1.03, 1.04]);
    // 102 % × 0.98, 0.99, 1, 1.01, 1.02 by hand
    const multiplied = reckonedAgain(fine.axes[0]!.levels, 1.02, 'points', 'multiplied');
    expect(multiplied).toEqual([0.9996, 1.0098, 1.02, 1.0302, 1.0404]);
    expect(reckonedAgain(multiplied, 1.02, 'multiplied', 'points')).toEqual(fine.axes[0]!.levels);
  });
  it('shows both sums of the value found and which one the trial goes by', () => {
    const points = passOf(fine, 'flow', 1)!;
    expect([points.multiplied, points.points, points.reckoned]).toEqual([
      expect.closeTo(0.9996, 12),
      expect.closeTo(1, 12),
      'points',
    ]);
    expect(points.words).toContain('102 % × 0.98 = 99.96 %');
    expect(points.words).toContain('102 − 2 = 100 %');
    const axes = [{ ...fine.axes[0]!, reckoned: 'multiplied' as const }];
    const multiplied = passOf({ ...fine, axes }, 'flow', 0.9996)!;
    expect(multiplied.points).toBeCloseTo(1, 12);
    expect(multiplied.words).toContain('this trial goes by multiplying');
  });
  it('says nothing of what is no flow', () => {
    expect(passOf(trialOfKind('temperature-tower', context, baseline)!, 'nozzle-temperature', 240)).toBeUndefined();
  });
});
