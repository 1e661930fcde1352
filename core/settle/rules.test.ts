import { describe, expect, it } from 'vitest';
import { factorOf } from '#core/factors';
import {
  highestBeforeFault,
  isClean,
  lastGoodLess,
  lowestWithoutFault,
  middleOfCleanBand,
  PASS,
  type NoPick,
  type Pick,
  type Rule,
} from './rules';
import type { CellScore } from './scores';

type Said = number | 'broke' | undefined;

/** Cells at levels 10, 20, 30 … with the scores of each quality; `undefined` is not read. */
function cells(said: Record<string, readonly Said[]>): CellScore[] {
  const count = Math.max(...Object.values(said).map((list) => list.length));
  return Array.from({ length: count }, (_, cell) => {
    const byQuality: CellScore['byQuality'] = {};
    let broke = false;
    for (const [track, list] of Object.entries(said)) {
      const value = list[cell];
      if (value === 'broke') broke = true;
      if (value !== undefined) byQuality[track] = { mean: value === 'broke' ? 0 : value, n: 1 };
    }
    const means = Object.values(byQuality).map((q) => q.mean);
    const together = means.length > 0 ? means.reduce((a, b) => a + b, 0) / means.length : undefined;
    return { cell, level: 10 * (cell + 1), byQuality, together, n: means.length, broke };
  });
}
const picked = (rule: Rule, said: Record<string, readonly Said[]>, factor: string): Pick => {
  const found = rule.pick(cells(said), { ...factorOf(factor)!, unit: 'mm/s', shown: 1 });
  if ('code' in found) throw new Error(found.message);
  return found;
};
const refused = (rule: Rule, said: Record<string, readonly Said[]>, factor: string): NoPick => {
  const found = rule.pick(cells(said), { ...factorOf(factor)!, unit: 'mm/s', shown: 1 });
  if (!('code' in found)) throw new Error(`picked ${found.value}`);
  return found;
};

describe('what passes', () => {
  const clean = (...scores: Said[]) => isClean(cells({ surface: [scores[0]], stringing: [scores[1]] })[0]!);
  it('is at worst a trace of a fault on every quality read', () => {
    expect(PASS).toBe(2.75);
    expect(clean(4, 3)).toBe(true);
    expect(clean(2.75, undefined)).toBe(true);
    expect(clean(4, 2.7)).toBe(false);
    expect(clean(4, 'broke')).toBe(false);
    // Nothing read is nothing passed.
    expect(clean(undefined, undefined)).toBe(false);
  });
});

describe('the middle of the clean band', () => {
  it('lies between the ends of the longest run that is clean on all', () => {
    const found = picked(middleOfCleanBand, { surface: [4, 1, 3, 4, 3, 2], stringing: [3, 3, 3, 3, 4, 4] }, 'fan');
    expect(found).toMatchObject({ value: 40, low: 30, high: 50, cells: [2, 3, 4] });
    expect(found.why).toBe('30 mm/s to 50 mm/s are clean on every quality read, and both sides show faults');
  });
  it('may be one level', () => {
    expect(picked(middleOfCleanBand, { surface: [1, 3, 1] }, 'fan')).toMatchObject({ value: 20, low: 20, high: 20 });
  });
  it('is not known where the run reaches an end, and says on which side to look', () => {
    expect(refused(middleOfCleanBand, { surface: [4, 4, 1, 1] }, 'fan')).toMatchObject({
      code: 'not-bracketed',
      toward: 'lower',
    });
    expect(refused(middleOfCleanBand, { surface: [1, 1, 4] }, 'fan').toward).toBe('higher');
    expect(refused(middleOfCleanBand, { surface: [3, 3, 3] }, 'fan')).toMatchObject({ toward: 'both' });
  });
  it('is none where nothing is clean on all', () => {
    const said = { surface: [4, 4, 1, 1], stringing: [1, 1, 4, 4] };
    expect(refused(middleOfCleanBand, said, 'fan').code).toBe('nothing-clean');
  });
});

describe('the highest before the fault', () => {
  const factor = 'outer-wall-speed';
  it('is the last level before the first that is spoilt, whatever comes after', () => {
    const found = picked(highestBeforeFault, { echo: [4, 4, 3, 2, 4, 0] }, factor);
    expect(found).toMatchObject({ value: 30, low: 30, high: 40, cells: [2, 3] });
    expect(found.why).toMatch(/^40 mm\/s is the first level with a fault \(.+\); 30 mm\/s is the last without$/);
  });
  it('passes over what is not read', () => {
    expect(picked(highestBeforeFault, { echo: [4, undefined, 4, undefined, 1] }, factor)).toMatchObject({
      value: 30,
      high: 50,
    });
  });
  it('does not hold against a level what a too low value makes', () => {
    // Layers bond worse when the nozzle is too cold; strings are those of a hot one.
    const said = { 'layer-strength': [0, 1, 3, 4, 4], stringing: [4, 4, 4, 3, 1] };
    expect(picked(highestBeforeFault, said, 'nozzle-temperature').value).toBe(40);
  });
  it('is none where the lowest is spoilt, or where nothing is', () => {
    expect(refused(highestBeforeFault, { echo: [1, 1, 0] }, factor)).toMatchObject({
      code: 'at-the-edge',
      toward: 'lower',
      cells: [0],
    });
    expect(refused(highestBeforeFault, { echo: [4, 4, 3] }, factor)).toMatchObject({
      code: 'no-fault',
      toward: 'higher',
      cells: [2],
    });
    expect(refused(highestBeforeFault, { echo: [] }, factor).code).toBe('at-the-edge');
  });
});

describe('the lowest without the fault', () => {
  const factor = 'retraction-distance';
  it('is where, from the top down, it shows first', () => {
    // A clean level below a faulty one was luck.
    expect(picked(lowestWithoutFault, { stringing: [0, 3, 1, 3, 4] }, factor)).toMatchObject({
      value: 40,
      low: 30,
      high: 50,
      cells: [2, 3],
    });
  });
  it('says so where even the lowest is without', () => {
    expect(refused(lowestWithoutFault, { stringing: [3, 4, 4] }, factor)).toMatchObject({
      code: 'no-fault',
      toward: 'lower',
    });
  });
  it('is the lowest clean one where the highest is spoilt too, and none where all are', () => {
    expect(picked(lowestWithoutFault, { stringing: [1, 3, 4, 2] }, factor)).toMatchObject({ value: 20, high: 30 });
    expect(refused(lowestWithoutFault, { stringing: [1, 2, 2] }, factor)).toMatchObject({
      code: 'nothing-clean',
      toward: 'higher',
    });
  });
});

describe('the last good less a margin', () => {
  it('takes so much off the level, not off the range', () => {
    const found = picked(lastGoodLess(10), { echo: [4, 4, 4, 1] }, 'outer-wall-speed');
    expect(found).toMatchObject({ value: 27, low: 27, high: 30 });
    expect(found.why).toMatch(/30 mm\/s is the last without; 10 % less for safety$/);
    expect(picked(lastGoodLess(0), { echo: [4, 4, 4, 1] }, 'outer-wall-speed').value).toBe(30);
  });
  it('refuses as its rule does', () => {
    expect(refused(lastGoodLess(5), { echo: [4, 4] }, 'outer-wall-speed').code).toBe('no-fault');
  });
});

describe('the words of a rule', () => {
  it('tell a share as it is shown', () => {
    const fan = cells({ overhang: [0, 1, 4, 4] }).map((c) => ({ ...c, level: c.level / 100 }));
    const found = lowestWithoutFault.pick(fan, factorOf('fan')!);
    expect(found).toMatchObject({ value: 0.3, low: 0.2 });
    expect('why' in found && found.why).toMatch(/^20 % still shows a fault \(overhang\); 30 % is the lowest without$/);
  });
});
