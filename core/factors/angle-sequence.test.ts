import { describe, expect, it } from 'vitest';
import * as fc from 'fast-check';
import { must } from '#core/base';
import { settingOf } from '#core/settings';
import { trialOfKind } from '#core/trial';
import { heronPair, made } from '../testing/fixtures';
import { anglesOfLevel, anglesText, levelOfAngles } from './angle-list';
import { factorOf, levelInForce, levelWords } from '.';

const { context, baseline } = heronPair;
const angles = factorOf('angle-sequence')!;

describe('angles that a person types', () => {
  it('are a level of their own, and come back from it', () => {
    const half = fc.integer({ min: -360, max: 360 }).map((v) => v / 2);
    fc.assert(
      fc.property(fc.array(half, { minLength: 1, maxLength: 5 }), (list) => {
        const level = must(levelOfAngles(list.join(' ')));
        expect(Number.isSafeInteger(level)).toBe(true);
        expect(anglesOfLevel(level)).toEqual(list);
        expect(settingOf('skinAngles').schema.safeParse(anglesText(list)).success).toBe(true);
      }),
    );
  });
  it('are refused beyond what can be told: six of them, a third of a degree, more than half a turn, words', () => {
    for (const bad of ['1 2 3 4 5 6', '45.3', '180.5', '-181', 'across', ''])
      expect(levelOfAngles(bad).ok, bad).toBe(false);
    for (const good of ['1 2 3 4 5', '45.5', '180', '-180']) expect(levelOfAngles(good).ok, good).toBe(true);
  });
  it('that are a usual sequence are that one, however they are spaced', () => {
    expect(must(angles.typed!.of('0/90'))).toBe(1);
    expect(levelWords(angles, must(angles.typed!.of('30 -30')))).toBe('30/−30');
  });
  it('are in force once they are settled', () => {
    expect(levelInForce(angles, { ...baseline, skinAngles: '45, 135' }, context.printer)).toBe(0);
    const own = levelInForce(angles, { ...baseline, skinAngles: '45, 0, -45' }, context.printer)!;
    expect(angles.sets!(own, baseline)).toEqual({ skinAngles: '45, 0, -45' });
    // Three thirds of a degree can be typed in the settings, yet are no level.
    expect(levelInForce(angles, { ...baseline, skinAngles: '33.3' }, context.printer)).toBeUndefined();
  });
  it('are laid, and found again in the file', () => {
    const trial = trialOfKind('angle-sequence', context, baseline)!;
    const own = ['20, 80', '10/60/−70'].map((t) => must(angles.typed!.of(t)));
    const { inspection } = made({ ...trial, axes: [{ ...trial.axes[0]!, levels: [0, ...own] }] });
    expect(inspection.cells.map((c) => c.effective['angle-sequence']![0]!.value)).toEqual([0, ...own]);
    expect(inspection.cells.every((c) => c.ok)).toBe(true);
  });
});
