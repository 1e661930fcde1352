import { describe, expect, it } from 'vitest';
import { qualities } from '#core/judge';
import { kindOf } from '#core/trial';
import { heronPair, made, smallTower } from '../testing/fixtures';
import { causesOf, seenInFile, stopOf, symptomOf, symptoms, type Known, type Tuned } from '.';

const known = (more: Partial<Known> = {}): Known => ({
  values: [],
  filament: { ...heronPair.context.filament, driedOn: '2026-11-20' },
  today: '2026-11-22',
  ...more,
});
const tuned = (factor: string, value: number, state: Tuned['state']): Tuned => ({
  factor,
  value,
  low: value,
  high: value,
  interval95: [value, value],
  rule: 'measured',
  why: '',
  trial: 't',
  trialTitle: 't',
  evidence: '',
  on: '2026-11-10',
  state,
  ...(state === 'shaken' && { shakenBy: 'another nozzle' }),
});
const order = (id: string, e: Known) =>
  causesOf(
    symptoms.find((s) => s.id === id)!,
    e,
  ).map((c) => c.label);

describe('what is wrong', () => {
  it('names stops and kinds of trial that there are', () => {
    for (const s of symptoms)
      for (const c of s.causes) {
        if (c.stop !== undefined) expect(stopOf(c.stop), c.label).toBeDefined();
        if (c.kind !== undefined) expect(kindOf(c.kind), c.label).toBeDefined();
      }
    expect(new Set(symptoms.map((s) => s.id)).size).toBe(symptoms.length);
  });
  it('tells for each quality which one symptom low scores of it show', () => {
    const said = symptoms.flatMap((s) => s.qualities);
    expect([...said].sort()).toEqual(qualities.map((q) => q.id).sort());
    expect(symptomOf('surface')!.label).toBe('torn or rough walls');
    expect(symptomOf('hairs')!.id).toBe('strings');
    expect(symptomOf('no such quality')).toBeUndefined();
  });
  it('leads from torn walls to pressure advance first where it was never settled, and to damp filament where that is', () => {
    expect(order('torn-walls', known())[0]).toBe('pressure advance off');
    const wet = { ...heronPair.context.filament, driedOn: '2026-09-01' };
    const values = [tuned('pressure-advance', 0.05, 'settled')];
    expect(order('torn-walls', known({ values, filament: wet }))[0]).toBe('damp filament');
  });
  it('puts last what the trial that led here has shown not to matter', () => {
    const of = (elsewhere?: string) => order('torn-walls', known(elsewhere === undefined ? {} : { elsewhere }));
    expect(of().indexOf('nozzle temperature too low')).toBeLessThan(of().length - 1);
    expect(of('temperature').at(-1)).toBe('nozzle temperature too low');
    expect(of('pressure-advance').at(-1)).toBe('pressure advance off');
    const last = causesOf(symptomOf('surface')!, known({ elsewhere: 'temperature' })).at(-1)!;
    expect(last.known).toContain('the trial that led here shows it at every level alike');
  });
  it('asks for drying first where it is overdue, and last where it is fresh', () => {
    const wet = { ...heronPair.context.filament, driedOn: '2026-09-01' };
    expect(order('strings', known({ filament: wet }))[0]).toBe('damp filament');
    expect(order('strings', known())[0]).toBe('retraction too short or too slow');
    expect(causesOf(symptoms[0]!, known({ filament: wet }))[0]!.known[0]).toMatch(/dried 82 days ago/);
  });
  it('puts back what is settled, and forward what is shaken', () => {
    const settled = known({ values: [tuned('retraction-distance', 0.8, 'settled')] });
    expect(order('strings', settled)[0]).toBe('nozzle temperature too high');
    const steady = known({ values: [tuned('retraction-distance', 0.8, 'steady')] });
    const at = (e: Known) => order('strings', e).indexOf('retraction too short or too slow');
    expect(at(steady)).toBeGreaterThanOrEqual(at(settled));
    const shaken = known({
      values: [tuned('retraction-distance', 0.8, 'shaken'), tuned('nozzle-temperature', 245, 'settled')],
    });
    expect(order('strings', shaken)[0]).toBe('retraction too short or too slow');
    expect(causesOf(symptoms[0]!, shaken)[0]!.known[0]).toContain('another nozzle');
  });
  it('weighs what the file shows: crossings for strings, changes of speed for gloss bands', () => {
    const file = { crossings: 200, layers: 60, layerTimeJump: 1.1, speedJump: 1 };
    const place = (f: typeof file) => order('strings', known({ file: f })).indexOf('travel across walls');
    expect(place(file)).toBeLessThan(place({ ...file, crossings: 3 }));
    // 200 over 300 layers are few.
    expect(place({ ...file, layers: 300 })).toBe(place({ ...file, crossings: 3 }));
    const words = (f: typeof file) =>
      causesOf(symptoms[0]!, known({ file: f })).find((c) => c.label === 'travel across walls')!.known;
    expect(words(file)).toContain('200 ways in the file cross a wall, about 3 a layer');
    expect(words({ ...file, crossings: 1 })).toContain('only 1 way in the file crosses a wall, in 60 layers');
    expect(order('gloss-bands', known({ file: { ...file, layerTimeJump: 4 } }))[0]).toMatch(/speed changes/);
    expect(order('gloss-bands', known({ file })).at(-1)).not.toBe('nozzle temperature too high');
  });
  it('sees jumps of layer time and speed in an inspection, by hand', () => {
    const still = {
      tool: 0,
      nozzle: 240,
      fan: 0,
      advance: 0,
      acceleration: 0,
      wallSpeed: 0,
      retractions: 0,
      left: 0,
      right: 9,
    };
    const layer = (z: number, time: number, peakFlow: number) => ({
      z,
      height: 0.2,
      time,
      peakFlow,
      cell: 0,
      line: 1,
      ...still,
    });
    const seen = seenInFile({
      layers: [layer(0.2, 90, 1), layer(1.2, 10, 4), layer(1.4, 25, 2), layer(1.6, 20, 3)],
      travel: { length: 1, wallCrossings: 7, retractions: 0, drawnBack: 1, risks: { loose: 0, hot: 0, streak: 0 } },
    });
    expect(seen).toEqual({ crossings: 7, layers: 4, layerTimeJump: 2.5, speedJump: 2 });
    const tower = seenInFile(made(smallTower([250, 245])).inspection);
    expect(tower.layerTimeJump).toBeGreaterThanOrEqual(1);
  });
});
