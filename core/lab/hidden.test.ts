import { describe, expect, it } from 'vitest';
import { heron, marshPetg, saltpanPla } from '#core/demo';
import { hiddenBehind, offFrom } from './hidden';
import { drawTraits, ownTraits } from './traits';

const context = { printer: heron, filament: marshPetg };
const traits = drawTraits(context, 7);
const middle = 242.5;

describe('what was hidden', () => {
  it('is told at the temperature that is settled, as the printer shows it', () => {
    const shown = middle + traits.printer.sensorError;
    expect(hiddenBehind('pressure-advance', traits, context, shown)!.best).toBeCloseTo(traits.printer.pressureTime, 9);
    expect(hiddenBehind('pressure-advance', traits, context, shown + 10)!.best!).toBeLessThan(
      traits.printer.pressureTime,
    );
    expect(hiddenBehind('volumetric-flow', traits, context, shown)!.best).toBeCloseTo(traits.printer.melts, 9);
    expect(hiddenBehind('volumetric-flow', traits, context, shown + 10)!.best!).toBeGreaterThan(traits.printer.melts);
    expect(hiddenBehind('flow', traits, context, shown)!.best! * (1 + traits.printer.feedError)).toBeCloseTo(1, 9);
  });

  it('has welded to nine tenths where its temperatures begin', () => {
    const { from } = hiddenBehind('nozzle-temperature', traits, context, middle)!;
    const { weldsAt, weldWidth } = traits.filament;
    const real = from! - traits.printer.sensorError;
    expect(1 / (1 + Math.exp(-(real - weldsAt) / weldWidth))).toBeCloseTo(0.9, 9);
  });

  it('has nothing to tell of what no single figure answers', () => {
    expect(hiddenBehind('top-layers', traits, context, middle)).toBeUndefined();
  });

  it('belongs to a printer and to a filament, whatever they are paired with', () => {
    const [one, other] = [ownTraits(context), ownTraits({ printer: heron, filament: saltpanPla })];
    expect(other.printer.feedError).toBe(one.printer.feedError);
    expect(other.filament).not.toEqual(one.filament);
    expect(ownTraits({ printer: { ...heron, id: 'another' }, filament: marshPetg }).filament).toEqual(one.filament);
  });
});

describe('how far a value is from what was hidden', () => {
  it('is told from the best, or from the nearer end of what is good; within it nothing is lost', () => {
    expect(offFrom({ best: 0.4, words: '' }, 0.5)).toEqual({ off: expect.closeTo(0.1, 9), near: 0.4 });
    const good = { from: 240, to: 250, words: '' };
    expect(offFrom(good, 235)).toEqual({ off: -5, near: 240 });
    expect(offFrom(good, 252)).toEqual({ off: 2, near: 250 });
    for (const value of [240, 245, 250]) expect(offFrom(good, value)).toEqual({ off: 0, near: undefined });
  });
  it('is told from the middle where it wants more than it bears: that costs something too', () => {
    expect(offFrom({ from: 261, to: 259, words: '' }, 250)).toEqual({ off: -10, near: 260 });
  });
});
