import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { demoPairs, heron, marshPetg, plover, saltpanPla } from '#core/demo';
import { startingSettings } from '#core/settings';
import { asThePairPrints, checkedPair, checkedTrial, freshTrial, pairOf, planned, settingFaults, varied } from '.';

const context = { printer: heron, filament: marshPetg };
const base = startingSettings(context);
const faultsAt = (change: Partial<typeof base>, c: Parameters<typeof settingFaults>[1] = context) =>
  settingFaults({ ...base, ...change }, c).map((f) => f.at);

describe('starting values', () => {
  it('can be planned on every demo pair, within the limits', () => {
    for (const p of demoPairs) {
      const trial = freshTrial('temperature-tower', 'nozzle-temperature', p.context, p.baseline);
      const plan = planned(trial);
      expect(plan.ok ? [] : plan.faults, p.id).toEqual([]);
      const levels = trial.axes[0]!.levels;
      expect(levels.length).toBeGreaterThanOrEqual(5);
      // Hot to cold, in the filament's own range, within what the liner bears.
      expect([...levels].sort((a, b) => b - a)).toEqual(levels);
      expect(Math.max(...levels)).toBeLessThanOrEqual(
        p.context.printer.extruder.liner === 'ptfe' ? 240 : p.context.filament.temperature.max,
      );
    }
  });
  it('of a factor that is added are levels that the rest of the trial bears', () => {
    // A line of 0.2 mm cannot carry layers of 0.24 mm, one of 0.3 mm can.
    const trial = freshTrial('infill-coupon', 'infill-density', context, { ...base, layerHeight: 0.24 });
    const both = varied(trial, 'line-width', 'tile', 1);
    const { levels } = both.axes[1]!;
    expect(levels.length).toBeGreaterThan(1);
    expect(Math.min(...levels)).toBeGreaterThanOrEqual(0.24);
    const plan = planned(both);
    expect(plan.ok ? [] : plan.faults.filter((f) => f.at.includes('levels'))).toEqual([]);
    // Where all but one are forbidden the usual ones stay, and say why they cannot be.
    const thick = varied({ ...trial, baseline: { ...base, layerHeight: 0.45 } }, 'line-width', 'tile', 1);
    expect(thick.axes[1]!.levels.length).toBeGreaterThan(1);
  });
  it('follow the context: Bowden, hardened nozzle, material', () => {
    const bowden = startingSettings({ printer: plover, filament: saltpanPla });
    expect(bowden.retractionDistance).toBeGreaterThan(base.retractionDistance);
    expect(bowden.pressureAdvance).toBeGreaterThan(base.pressureAdvance);
    const hardened = startingSettings({
      printer: { ...heron, nozzle: { diameter: 0.4, material: 'hardened' } },
      filament: marshPetg,
    });
    expect(hardened.nozzleTemperature - base.nozzleTemperature).toBe(10);
  });
});

describe('what printer and filament forbid', () => {
  it('names the setting', () => {
    expect(faultsAt({})).toEqual([]);
    expect(faultsAt({ bedTemperature: 120 })).toEqual(['baseline.bedTemperature']);
    expect(faultsAt({ retractionSpeed: 90 })).toEqual(['baseline.retractionSpeed']);
    expect(faultsAt({ acceleration: 9000 })).toEqual(['baseline.acceleration']);
    expect(faultsAt({ zSpeed: 40 })).toEqual(['baseline.zSpeed']);
    expect(faultsAt({ layerHeight: 0.34 })).toEqual(['baseline.layerHeight']);
    expect(faultsAt({ lineWidth: 0.15 })).toContain('baseline.lineWidth');
    expect(faultsAt({ wallCount: 0, infillDensity: 0 })).toEqual(['baseline.wallCount']);
    expect(
      faultsAt(
        { firstLayerTemperature: 245 },
        { printer: { ...heron, extruder: { ...heron.extruder, liner: 'ptfe' } }, filament: marshPetg },
      ),
    ).toEqual(['baseline.firstLayerTemperature']);
  });
});

describe('the pair file', () => {
  const pair = pairOf('mine', 'Mine', context, base);
  it('comes back as it went', () => expect(must(checkedPair(JSON.parse(JSON.stringify(pair))))).toEqual(pair));
  it('is refused with the place', () => {
    const at = (v: unknown) => {
      const r = checkedPair(v);
      return r.ok ? '' : r.faults[0]!.at;
    };
    expect(at({ ...pair, version: 3 })).toBe('pair.version');
    expect(at({ ...pair, baseline: { ...base, flow: 9 } })).toBe('pair.baseline.flow');
    expect(at({ ...pair, printer: { ...heron, startCode: 'M84' } })).toBe('pair.printer.startCode');
    expect(at({ ...pair, filament: { ...marshPetg, opened: 'yesterday' } })).toBe('pair.filament.opened');
  });
});

describe('the place on the bed', () => {
  const tower = freshTrial('temperature-tower', 'nozzle-temperature', context, base);
  it('is its middle, clear of clips and inside a round bed', () => {
    expect(must(planned(tower)).origin).toEqual({ x: 117.5, y: 117.5 });
    const clip = { label: 'magnet', x: 110, y: 110, width: 10, depth: 10 };
    const blocked = checkedTrial({ ...tower, context: { ...context, printer: { ...heron, keepOut: [clip] } } });
    expect(blocked.ok ? '' : blocked.faults[0]!.code).toBe('trial.bed');
    const small = checkedTrial({
      ...tower,
      context: {
        ...context,
        printer: { ...heron, keepOut: [], bed: { shape: 'round', diameter: 60, origin: 'centre' } },
      },
    });
    expect(small.ok ? '' : small.faults[0]!.wrong).toMatch(/does not fit/);
  });
});

describe('what a trial is made on, as the pair prints it', () => {
  it('has nothing varied and nothing held, unless a level prints just so', () => {
    const trial = freshTrial('infill-coupon', 'infill-density', context, base);
    const at = (levels: number[], frozen = {}) =>
      asThePairPrints({ ...trial, frozen, axes: [{ ...trial.axes[0]!, levels }] });
    const plain = at([0.1, 0.5])!;
    expect(plain).toMatchObject({ axes: [], frozen: {}, baseline: base });
    expect(plain.title).not.toMatch(/%/);
    expect(at([base.infillDensity, 0.5])).toBeUndefined();
    // Held otherwise, that level is another print.
    expect(at([base.infillDensity, 0.5], { layerHeights: 'adaptive' })).toBeDefined();
  });
});
