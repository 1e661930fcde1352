import { describe, expect, it } from 'vitest';
import { factorOf } from '#core/factors';
import { specimenOf } from '#core/specimens';
import { kinds, trialOfKind, varied, type Trial } from '#core/trial';
import { demoPairs } from '#core/demo';
import { judgedOn, measuredFrom, measuredOn, measureOf } from '.';

const { context, baseline } = demoPairs[0]!;
const kind = (id: string): Trial => trialOfKind(id, context, baseline)!;

describe('what is judged on a trial', () => {
  it('is what its factor changes and its specimen shows', () => {
    const tower = kind('temperature-tower');
    expect(judgedOn(tower).map((q) => q.id)).toEqual(['stringing', 'overhang', 'bridge', 'surface', 'layer-strength']);
    // Flow on tiles: of what flow changes, a flat tile shows its skin.
    const shown = specimenOf(kind('flow-coarse').specimen.id)!.judges;
    for (const q of judgedOn(kind('flow-coarse'))) expect(shown).toContain(q.id);
  });
  it('is less where the specimen tells less of that factor; what was said of it besides is seen', () => {
    const ids = (trial: Trial, ...said: string[]) =>
      judgedOn(
        trial,
        said.map((track) => ({ track })),
      ).map((q) => q.id);
    const wall = kind('temperature-at-limit');
    expect(ids(wall)).toEqual(['layer-strength']);
    expect(ids(kind('flow-limit'))).toEqual(['wall-fullness', 'layer-strength']);
    // Beside another factor that one tells what it tells.
    const limit = kind('flow-limit');
    const map = { ...limit, axes: [...limit.axes, { ...wall.axes[0]!, along: 'tile' as const }] };
    expect(ids(map)).toEqual(ids(limit));
    expect(ids({ ...map, axes: [...map.axes].reverse() }).sort()).toEqual([...ids(limit)].sort());
    expect(ids(wall, 'layer-strength', 'surface', 'surface', 'nobody-knows')).toEqual(['layer-strength', 'surface']);
  });
  it('is what the specimen shows where the two have nothing in common', () => {
    const odd = varied(kind('flow-coarse'), 'fit-clearance');
    const wanted = factorOf('fit-clearance')!.qualities;
    const shown = specimenOf(odd.specimen.id)!.judges!;
    expect(wanted.some((id) => shown.includes(id))).toBe(false);
    expect(judgedOn(odd).map((q) => q.id)).toEqual([...shown]);
  });
  it('leaves no kind of trial without something to judge or to measure, each quality once', () => {
    for (const k of kinds) {
      const trial = k.lacks?.(context) === undefined ? trialOfKind(k.id, context, baseline) : undefined;
      if (!trial) continue;
      const ids = judgedOn(trial).map((q) => q.id);
      expect(new Set(ids).size, k.id).toBe(ids.length);
      expect(ids.length + measuredOn(trial).length, k.id).toBeGreaterThan(0);
    }
  });
});

describe('what is measured', () => {
  it('is in the catalogue, by the words of the specimen', () => {
    expect(measuredOn(kind('flow-coarse')).map((m) => m.id)).toEqual(['mass', 'thickness']);
    expect(measureOf('load')).toMatchObject({ unit: 'N', better: 'more' });
    expect(measureOf('no-such')).toBeUndefined();
  });
  it('is taken as typed: sums, units, comma decimals', () => {
    const load = measureOf('load')!;
    expect(measuredFrom('12,5 + 2*3', load)).toEqual({ ok: true, value: 18.5 });
    expect(measuredFrom('4.2 N', load)).toEqual({ ok: true, value: 4.2 });
    // One kilogram-force is 9.80665 N, by definition.
    expect(measuredFrom('2 kgf', load)).toEqual({ ok: true, value: 19.6133 });
    expect(measuredFrom('heavy', load)).toMatchObject({ ok: false, faults: [{ at: 'load' }] });
  });
  it('is yes or no where it is asked so, in full or by the letter', () => {
    const leaks = measureOf('leaks')!;
    for (const yes of ['yes', ' Y', '1']) expect(measuredFrom(yes, leaks)).toEqual({ ok: true, value: 1 });
    for (const no of ['no', 'N ', '0']) expect(measuredFrom(no, leaks)).toEqual({ ok: true, value: 0 });
    for (const bad of ['', 'maybe', '2', 'yes and no'])
      expect(measuredFrom(bad, leaks)).toMatchObject({ ok: false, faults: [{ right: 'write yes or no' }] });
  });
});
