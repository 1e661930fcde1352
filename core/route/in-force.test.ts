import { finish } from '#core/base';
import { demoData } from '#core/demo';
import { everyFactor, factorOf, mattersOf } from '#core/factors';
import { settingIds, settingOf, startingSettings, type SettingId } from '#core/settings';
import { trialOfKind } from '#core/trial';
import { make } from '#core/make';
import { describe, expect, it } from 'vitest';
import {
  conditionsIn,
  contextInForce,
  givenValue,
  newest,
  printsWith,
  reverted,
  takenFrom,
  tunedBaseline,
  valueInForce,
  withSetting,
  withSettled,
  type Tuned,
} from '.';

const data = demoData();
const context = { printer: data.printers[0]!, filament: data.filaments[0]! };
const start = startingSettings(context);
const empty = { baseline: start, values: [] as Tuned[] };
const given = (factor: string, value: number, more: Partial<Tuned> = {}): Tuned => ({
  ...givenValue(factor, value, 'the maker', '2026-11-20'),
  ...more,
});
const typed = { from: 'typed', on: '2026-11-28' } as const;
const states = (values: readonly Tuned[]) => Object.fromEntries(newest(values).map((v) => [v.factor, v.state]));

describe('a value keeps the conditions it was found under', () => {
  it('is shaken by a move beyond a twentieth of the usual range, and not by one up to it', () => {
    // Flow is usual from 0.9 to 1.1 or the like: whatever the range is, the two sides of its twentieth differ.
    for (const [factor, above] of [
      ['nozzle-temperature', 'flow'],
      ['flow', 'retraction-distance'],
      ['pressure-advance', 'retraction-distance'],
      ['volumetric-flow', 'flow'],
    ] as const) {
      const f = factorOf(factor)!;
      const { min, max } = (f.usual ?? f.limits)(context);
      const by = Math.max(f.settable, (max - min) / 20);
      const at = (min + max) / 2;
      const before = withSettled(withSettled(empty, context, given(factor, at)), context, given(above, 1));
      const moved = (to: number) => states(withSettled(before, context, given(factor, to)).values)[above];
      expect(moved(at + by * 0.99), factor).toBe('settled');
      expect(moved(at + by * 1.01), factor).toBe('shaken');
      expect(moved(at - by * 1.01), factor).toBe('shaken');
    }
  });
  it('is shaken by what is settled after it and moves far, on both sides of the border', () => {
    // A temperature by a fan and by pressure advance, a limit by a fan, a flow by pressure advance.
    for (const [above, value, factor, before, by] of [
      ['nozzle-temperature', 240, 'fan', 0.4, 0.25],
      ['nozzle-temperature', 240, 'pressure-advance', 0.5, 0.1],
      ['volumetric-flow', 12, 'fan', 0.4, 0.25],
      ['flow', 0.98, 'pressure-advance', 0.5, 0.05],
    ] as const) {
      const found = withSettled(withSettled(empty, context, given(factor, before)), context, given(above, value));
      const at = (to: number) => states(withSettled(found, context, given(factor, to)).values)[above];
      expect(at(before + 0.97 * by), above).toBe('settled');
      expect(at(before + 1.03 * by), above).toBe('shaken');
      expect(at(before - 1.03 * by), above).toBe('shaken');
    }
  });
  it('is not shaken bit by bit without a word: each move is held against where it was found', () => {
    const by = mattersOf(factorOf('nozzle-temperature')!, context);
    let pair = withSettled(withSettled(empty, context, given('nozzle-temperature', 240)), context, given('flow', 0.98));
    pair = withSettled(pair, context, given('nozzle-temperature', 240 + 0.7 * by));
    expect(states(pair.values)['flow']).toBe('settled');
    pair = withSettled(pair, context, given('nozzle-temperature', 240 + 1.4 * by));
    expect(states(pair.values)['flow']).toBe('shaken');
    expect(newest(pair.values).find((v) => v.factor === 'flow')!.shakenBy).toMatch(
      /^nozzle temperature moving to .* °C; this was found at 240 °C$/,
    );
  });
  it('counts the first settling: what was found at a start value that then moves is shaken', () => {
    const at = start.nozzleTemperature;
    const early = withSettled(empty, context, given('retraction-distance', 0.8));
    expect(states(withSettled(early, context, given('nozzle-temperature', at)).values)['retraction-distance']).toBe(
      'settled',
    );
    expect(states(withSettled(early, context, given('nozzle-temperature', at + 20)).values)).toMatchObject({
      'retraction-distance': 'shaken',
      'nozzle-temperature': 'settled',
    });
  });
  it('stands again when the level comes back; another cause is not undone by it', () => {
    const two = withSettled(
      withSettled(empty, context, given('nozzle-temperature', 240)),
      context,
      given('flow', 0.98),
    );
    const gone = withSettled(two, context, given('nozzle-temperature', 260));
    expect(states(gone.values)['flow']).toBe('shaken');
    const back = reverted(gone.values, 'nozzle-temperature', 240, 'the old one strings less', '2026-11-28')!;
    expect(newest(withSettled(gone, context, back).values).find((v) => v.factor === 'flow')).toMatchObject({
      state: 'settled',
    });
    const damp = {
      ...gone,
      values: gone.values.map((v) => ({ ...v, state: 'shaken' as const, shakenBy: 'damp', shakenFor: undefined })),
    };
    const later = withSettled(damp, context, back).values;
    expect(newest(later).find((v) => v.factor === 'flow')!.shakenBy).toBe('damp');
  });
  it('has of a trial the settings of its print, and none that it varies', () => {
    const trial = trialOfKind('retraction-fence', context, { ...start, nozzleTemperature: 233 })!;
    const under = conditionsIn('retraction-distance', { ...trial, frozen: { ...trial.frozen, flow: 0.93 } });
    expect(under).toMatchObject({ 'nozzle-temperature': 233, flow: 0.93 });
    for (const axis of trial.axes) expect(under).not.toHaveProperty(axis.factor);
    // A feed check rests on nothing.
    expect(conditionsIn('extruder-steps', trial)).toEqual({});
  });
});

describe('what a pair prints with', () => {
  it('names every setting once, with its value and where it is from', () => {
    const pair = withSettled(
      withSetting(withSetting(empty, context, 'outerWallSpeed', 37, typed), context, 'seam', 'aligned', {
        ...typed,
        from: 'learnt',
        words: 'vase.gcode',
      }),
      context,
      given('nozzle-temperature', 243),
    );
    const rows = printsWith(pair, context);
    expect(rows.map((r) => r.setting)).toEqual(settingIds);
    const of = (id: SettingId) => rows.find((r) => r.setting === id)!;
    expect(of('nozzleTemperature')).toMatchObject({
      value: 243,
      source: 'sheet',
      words: 'given on 2026-11-20: the maker',
    });
    expect(of('outerWallSpeed')).toMatchObject({ value: 37, source: 'typed' });
    expect(of('seam')).toMatchObject({
      value: 'aligned',
      source: 'learnt',
      words: 'learnt from vase.gcode, 2026-11-28',
    });
    expect(of('fan')).toMatchObject({ value: start.fan, source: 'start' });
    expect(rows.map((r) => [r.setting, r.value])).toEqual(
      settingIds.map((id) => [id, tunedBaseline(pair.baseline, pair.values)[id]]),
    );
  });
  it('puts a typed value of any setting in force, settled before or not', () => {
    for (const id of settingIds) {
      const s = settingOf(id);
      const now = start[id];
      const value = s.choices
        ? s.choices.find((c) => c !== now)!
        : s.list
          ? '0, 90'
          : now === s.bounds!.min
            ? s.bounds!.max
            : s.bounds!.min;
      const fresh = withSetting(empty, context, id, value, typed);
      expect(tunedBaseline(fresh.baseline, fresh.values)[id], id).toBe(value);
      const factor = everyFactor().find((f) => f.setting === id && f.id !== 'volumetric-flow');
      if (!factor) continue;
      const level = s.choices ? s.choices.findIndex((c) => c === now) : (now as number);
      const settled = withSettled(empty, context, given(factor.id, level));
      const after = withSetting(settled, context, id, value, typed);
      expect(tunedBaseline(after.baseline, after.values)[id], id).toBe(value);
      expect(newest(after.values).find((v) => v.factor === factor.id)?.why, id).toMatch(/^typed/);
    }
  });
  it('shakes by a typed value what was found at another', () => {
    const two = withSettled(empty, context, given('pressure-advance', 0.04));
    const after = withSetting(two, context, 'nozzleTemperature', start.nozzleTemperature + 25, typed);
    expect(states(after.values)['pressure-advance']).toBe('shaken');
    expect(withSetting(two, context, 'flow', start.flow, typed)).toBe(two);
  });
  it('lets the settled flow limit cap what later prints melt', () => {
    const limited = withSettled(empty, context, given('volumetric-flow', 6.5));
    const inForce = contextInForce(context, limited.values);
    expect(inForce.printer.extruder.maximumFlow).toBe(6.5);
    expect(context.printer.extruder.maximumFlow).toBeGreaterThan(10);
    expect(valueInForce(empty, context, 'volumetric-flow')).toBe(context.printer.extruder.maximumFlow);
    const fast = { ...start, outerWallSpeed: 200, innerWallSpeed: 200, infillSpeed: 200 };
    const made = finish(make(trialOfKind('retraction-tower', inForce, fast)!));
    if (!made.ok) throw new Error('not made');
    expect(made.value.report.warnings.join()).toMatch(/6\.5 mm³\/s/);
  });
  it('says which values a plan has from the tune sheet, and none that it has not', () => {
    const pair = withSettled(withSettled(empty, context, given('flow', 0.97)), context, given('fan', 0.3));
    const trial = { baseline: { ...tunedBaseline(pair.baseline, pair.values), fan: 0.5 }, frozen: {}, axes: [] };
    expect(takenFrom(trial, pair.values).map((t) => t.words)).toEqual(['flow 97 %']);
    expect(takenFrom({ ...trial, frozen: { flow: 1 } }, pair.values)).toEqual([]);
    const sweep = { factor: 'flow', levels: [0.9, 1], kind: 'step', along: 'tile' } as const;
    expect(takenFrom({ ...trial, axes: [{ ...sweep, levels: [...sweep.levels] }] }, pair.values)).toEqual([]);
  });
});
