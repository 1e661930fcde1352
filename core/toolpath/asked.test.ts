import { describe, expect, it, vi } from 'vitest';
import { demoPairs } from '#core/demo';
import type { Settings } from '#core/settings';
import { BySettings } from './asked';

const s = demoPairs[0]!.baseline;
const walls = (of: Settings) => of.wallCount * of.lineWidth;

describe('what is remembered by the settings it asked for', () => {
  it('is made again only where one of those differs', () => {
    const memo = new BySettings<number>();
    const make = vi.fn(walls);
    const first = memo.of(s, make);
    expect(first).toBeCloseTo(s.wallCount * s.lineWidth, 12);
    expect(memo.of({ ...s, infillDensity: 0.77, nozzleTemperature: 1 }, make)).toBe(first);
    expect(make).toHaveBeenCalledTimes(1);
    expect(memo.of({ ...s, wallCount: s.wallCount + 1 }, make)).toBeCloseTo((s.wallCount + 1) * s.lineWidth, 12);
    expect(make).toHaveBeenCalledTimes(2);
  });

  it('counts what was asked on the way that was taken', () => {
    const memo = new BySettings<string>();
    const make = vi.fn((of: Settings) => (of.ironing === 'none' ? 'plain' : `ironed at ${of.ironingFlow}`));
    memo.of({ ...s, ironing: 'none', ironingFlow: 0.1 }, make);
    expect(memo.of({ ...s, ironing: 'none', ironingFlow: 0.2 }, make)).toBe('plain');
    expect(make).toHaveBeenCalledTimes(1);
    expect(memo.of({ ...s, ironing: 'top surfaces', ironingFlow: 0.1 }, make)).toBe('ironed at 0.1');
    expect(memo.of({ ...s, ironing: 'top surfaces', ironingFlow: 0.2 }, make)).toBe('ironed at 0.2');
    expect(make).toHaveBeenCalledTimes(3);
  });

  it('has asked for what it takes from another memory, found there or made', () => {
    const inner = new BySettings<number>();
    const outer = new BySettings<number>();
    const make = (of: Settings) => inner.of(of, walls) + of.topLayers;
    inner.of(s, walls);
    const found = outer.of(s, make);
    expect(outer.of({ ...s, wallCount: s.wallCount + 1 }, make)).toBeCloseTo(found + s.lineWidth, 12);
    expect(outer.of({ ...s, wallCount: s.wallCount + 1, topLayers: 99 }, make)).toBeCloseTo(
      (s.wallCount + 1) * s.lineWidth + 99,
      12,
    );
  });

  it('keeps so many and no more, the last ones asked for', () => {
    const memo = new BySettings<number>(2);
    const make = vi.fn(walls);
    const of = (wallCount: number) => memo.of({ ...s, wallCount }, make);
    of(1);
    of(2);
    of(1);
    expect(make).toHaveBeenCalledTimes(2);
    of(3);
    of(1);
    expect(make).toHaveBeenCalledTimes(3);
    of(2);
    expect(make).toHaveBeenCalledTimes(4);
  });

  it('refuses to be asked for all settings at once, which would hide what it rests on', () => {
    expect(() => new BySettings<Settings>().of(s, (of) => ({ ...of }))).toThrow('by name');
  });
});
