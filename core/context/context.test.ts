import { macrosIn } from '#core/firmware';
import { describe, expect, it } from 'vitest';
import { areaOf } from '#core/geometry';
import { heron, marshPetg, plover } from '#core/demo';
import {
  bedArea,
  checkedFilament,
  checkedPrinter,
  costOf,
  fillPlaceholders,
  freshFilament,
  freshPrinter,
  hottest,
  massOf,
  printerFields,
  standing,
  unknownPlaceholders,
} from '.';

const faultsOf = (value: unknown) => {
  const r = checkedPrinter(value);
  return r.ok ? [] : r.faults.map((f) => f.at);
};

describe('printer and filament', () => {
  it('accepts what it offers itself', () => {
    expect(checkedPrinter(freshPrinter('a')).ok).toBe(true);
    for (const material of ['PLA', 'PETG', 'ASA', 'TPU', 'PA'] as const)
      expect(checkedFilament(freshFilament('f', material)).ok).toBe(true);
  });
  it('names the field of each fault', () => {
    expect(faultsOf({ ...heron, height: -3 })).toEqual(['printer.height']);
    expect(faultsOf({ ...heron, bed: { ...heron.bed, width: 'wide' } })).toEqual(['printer.bed.width']);
    expect(faultsOf({ ...heron, colour: 'red' })).toEqual(['printer']);
    expect(faultsOf({ ...heron, startCode: 'M104 S{nozzle}' })).toEqual(['printer.startCode']);
    const f = checkedFilament({ ...marshPetg, temperature: { min: 250, max: 240 } });
    expect(f.ok ? '' : f.faults[0]!.at).toBe('filament.temperature.max');
  });
  it('has a form field for every value that a person types', () => {
    const paths = printerFields.map((f) => f.path);
    for (const path of [
      'nozzle.diameter',
      'extruder.maximumFlow',
      'maximum.nozzleTemperature',
      'corner.value',
      'head.gantryHeight',
    ])
      expect(paths).toContain(path);
  });
  it('takes the lowest of hotend, liner and filament as the hottest', () => {
    expect(hottest({ printer: heron, filament: marshPetg })).toEqual({ value: 270, by: 'filament' });
    expect(hottest({ printer: plover, filament: marshPetg })).toEqual({ value: 240, by: 'liner' });
    expect(
      hottest({ printer: { ...heron, maximum: { ...heron.maximum, nozzleTemperature: 255 } }, filament: marshPetg }),
    ).toEqual({ value: 255, by: 'hotend' });
  });
  it('cuts the clips out of the bed', () => {
    expect(areaOf(bedArea(heron))).toBeCloseTo(235 * 235 - 2 * 8 * 25, 3);
    expect(areaOf(bedArea(plover)) / (Math.PI * 90 * 90)).toBeGreaterThan(0.999);
  });
  it('weighs and prices filament', () => {
    // 1 m of 1.75 mm at 1.27 g/cm³: π/4 × 0.175² × 100 × 1.27 g.
    expect(massOf(marshPetg, 1000)).toBeCloseTo((Math.PI / 4) * 0.175 ** 2 * 100 * 1.27, 9);
    expect(costOf(marshPetg, 1000)).toBeCloseTo(massOf(marshPetg, 1000) * 0.027, 9);
  });
});

describe('macros in start code', () => {
  it('are found, and must be declared', () => {
    expect(macrosIn('G28\nM104 S200\nN3 T1\nREADY BED={bed} ; OTHER\n  park_head\nSET_VELOCITY_LIMIT ACCEL=9')).toEqual(
      ['READY', 'park_head'],
    );
    const startCode = 'READY BED={bed}';
    expect(faultsOf({ ...heron, startCode })).toEqual(['printer.startCode', 'printer.macros']);
    const macros = [{ name: 'READY', homes: true, heatsNozzle: false, heatsBed: true }];
    expect(faultsOf({ ...heron, startCode, macros })).toEqual([]);
  });
});

describe('usual ranges', () => {
  it('asks at ten times beyond, not before', () => {
    const usual = { min: 0.2, max: 2, step: 0.2 };
    expect([1, 3, 0.1, 20.5, 0.019].map((v) => standing(v, usual))).toEqual([
      'usual',
      'unusual',
      'unusual',
      'question',
      'question',
    ]);
    expect(standing(5, { min: 0, max: 0.1, step: 0.01 })).toBe('question');
    // Nothing at all is an ordinary thing to ask for.
    expect(standing(0, { min: 2, max: 7, step: 0.5 })).toBe('unusual');
    expect(standing(0.01, { min: 2, max: 7, step: 0.5 })).toBe('question');
  });
});

describe('placeholders', () => {
  const values = {
    nozzle: 240,
    nozzle_later: 235,
    bed: 75,
    width: 235,
    depth: 235,
    height: 250,
    top: 40,
    diameter: 0.4,
    material: 'PETG',
  };
  it('lists the unknown ones, whatever brackets they stand in, and not those in comments', () => {
    expect(unknownPlaceholders('M104 S{nozzle}\nM140 S[plate_heat] ; {remark}\nX A={tool_colour}', {})).toEqual([
      'plate_heat',
      'tool_colour',
    ]);
    expect(unknownPlaceholders('M140 S[plate_heat]', { plate_heat: 'bed' })).toEqual([]);
  });
  it('fills ours and mapped ones; an unknown one never reaches a file', () => {
    const good = fillPlaceholders('M104 S{nozzle} ; {x}\n\nM140 S[plate_heat]', { plate_heat: 'bed' }, values, 'start');
    expect(good).toEqual({ ok: true, value: ['M104 S240', 'M140 S75'] });
    const bad = fillPlaceholders('M104 S{hot}', {}, values, 'start');
    expect(bad.ok ? '' : bad.faults[0]!.wrong).toContain('hot');
  });
});
