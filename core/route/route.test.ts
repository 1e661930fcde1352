import { bodies } from '#core/specimens';
import { planned } from '#core/trial';
import { describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { qualities } from '#core/judge';
import { kinds } from '#core/trial';
import {
  recordSchema,
  restorable,
  copied,
  disagreements,
  effortOf,
  firmwareLines,
  kindsOf,
  newest,
  nextStop,
  printerCauses,
  restored,
  shaken,
  shakenBy,
  shakenByAll,
  stopOf,
  stopOfFactor,
  stops,
  stopState,
  tuneSheetCsv,
  tunedBaseline,
  unsettledBefore,
  valueWords,
  withSettled,
  type Tuned,
} from '.';

const data = demoData();
const tuned = data.pairs[0]!.values[0]!;

describe('the route', () => {
  it('rests only on stops that stand before it', () => {
    const order = stops.map((s) => s.id);
    for (const s of stops)
      for (const below of s.restsOn)
        expect(order.indexOf(below), `${s.id} on ${below}`).toBeLessThan(order.indexOf(s.id));
  });
  it('tells each state', () => {
    const temperature = stopOf('temperature')!;
    expect(stopState(temperature, [], false)).toEqual({ state: 'open', words: '' });
    expect(stopState(temperature, [], true).state).toBe('in hand');
    expect(stopState(temperature, [tuned], false)).toEqual({ state: 'settled', words: '245 °C' });
    expect(stopState(stopOf('flow')!, [tuned], false).state).toBe('open');
    const broken = shaken([tuned], 'nozzle', 'another nozzle');
    expect(stopState(temperature, broken, false)).toEqual({ state: 'shaken', words: '245 °C' });
  });
  it('is shaken by another nozzle, not by another extruder feed; history stays', () => {
    const older: Tuned = { ...tuned, value: 250 };
    const after = shaken([older, tuned], 'nozzle', 'another nozzle');
    expect(after.map((v) => v.state)).toEqual(['settled', 'shaken']);
    expect(after[1]!.shakenBy).toBe('another nozzle');
    expect(shaken([tuned], 'feed', 'x')[0]!.state).toBe('settled');
    expect(newest([older, tuned])).toEqual([tuned]);
  });
});

const { baseline } = data.pairs[0]!;
const context = { printer: data.printers[0]!, filament: data.filaments[0]! };
/** The values of the first demo pair's records after another one. */
const settledInto = (values: readonly Tuned[], fresh: Tuned): Tuned[] => [
  ...withSettled({ baseline, values }, context, fresh).values,
];

const value = (factor: string, v: number, more: Partial<Tuned> = {}): Tuned => ({
  ...tuned,
  factor,
  value: v,
  ...more,
});

describe('what rests on what', () => {
  it('has a stop for the factors of every trial, and trials at every stop', () => {
    for (const k of kinds) expect(stopOf(k.stop), k.id).toBeDefined();
    for (const s of stops) expect(kindsOf(s.id).length, s.id).toBeGreaterThan(0);
    expect(stopOfFactor('pressure-advance')!.id).toBe('pressure-advance');
  });
  it('shakes what rests on the temperature when that moves, not when it is found again', () => {
    const before = [
      value('nozzle-temperature', 240),
      value('flow', 0.98),
      value('fan', 0.4),
      value('retraction-distance', 0.8),
    ];
    const states = (values: Tuned[]) => Object.fromEntries(newest(values).map((v) => [v.factor, v.state]));
    expect(states(settledInto(before, value('nozzle-temperature', 250)))).toEqual({
      'nozzle-temperature': 'settled',
      flow: 'shaken',
      fan: 'shaken',
      'retraction-distance': 'shaken',
    });
    expect(states(settledInto(before, value('nozzle-temperature', 240)))['flow']).toBe('settled');
    const moved = settledInto(before, value('nozzle-temperature', 250));
    expect(moved.find((v) => v.factor === 'flow')!.shakenBy).toBe(
      'nozzle temperature moving to 250 °C; this was found at 240 °C',
    );
  });
  it('is one graph: every edge that the page prints shakes, and nothing else does', () => {
    const one = (stop: (typeof stops)[number]) => value(stop.factors[0]!, 1);
    let edges = 0;
    for (const below of stops.filter((s) => s.factors.length > 0))
      for (const above of stops.filter((s) => s.factors.length > 0 && s !== below)) {
        const after = settledInto([one(below), one(above)], value(below.factors[0]!, 500));
        const hit = newest(after).find((v) => v.factor === above.factors[0])!.state === 'shaken';
        // Speed, cooling and pressure go both ways: the temperature is found at a speed, and under a fan.
        // So do flow and pressure advance: skins of lines that begin thin close at another flow.
        const back =
          (above.id === 'temperature' && ['speed', 'cooling', 'pressure-advance'].includes(below.id)) ||
          (above.id === 'flow-limit' && below.id === 'cooling') ||
          (above.id === 'flow' && below.id === 'pressure-advance');
        const printed = above.restsOn.includes(below.id) || back;
        expect(hit, `${above.id} on ${below.id}`).toBe(printed);
        edges += Number(hit);
      }
    expect(edges).toBeGreaterThan(28);
  });
  it('knows from an edited printer what changed', () => {
    const heron = data.printers[0]!;
    const ids = (now: typeof heron) => printerCauses(heron, now).map((c) => c.id);
    expect(ids(heron)).toEqual([]);
    expect(ids({ ...heron, name: 'Heron II', height: 200 })).toEqual([]);
    expect(ids({ ...heron, nozzle: { ...heron.nozzle, diameter: 0.6 }, firmware: 'klipper' })).toEqual([
      'nozzle',
      'firmware',
    ]);
    expect(ids({ ...heron, extruder: { ...heron.extruder, stepsPerMm: 700 } })).toEqual(['feed']);
    const after = shakenByAll([value('flow', 1), value('fan', 1)], printerCauses(heron, { ...heron, fanLeast: 0.3 }));
    expect(after.map((v) => v.state)).toEqual(['settled', 'shaken']);
  });
  it('says before what a change would shake', () => {
    const values = [value('nozzle-temperature', 240), value('fan', 0.4), value('z-offset', -0.02)];
    expect(shakenBy(values, 'nozzle').map((v) => v.factor)).toEqual(['nozzle-temperature', 'z-offset']);
    expect(shakenBy(values, 'fan hardware').map((v) => v.factor)).toEqual(['fan']);
    expect(shakenBy(shaken(values, 'nozzle', 'x'), 'nozzle')).toEqual([]);
  });
  it('proposes the shaken stop first, then the first open one with nothing open beneath', () => {
    expect(nextStop([])!.id).toBe('feed');
    const fed = [value('extruder-steps', 415)];
    expect(nextStop(fed)!.id).toBe('first-layer');
    expect(unsettledBefore(stopOf('flow')!, [...fed, tuned]).map((s) => s.id)).toEqual(['flow-limit']);
    const all = stops.filter((s) => !s.beside).map((s) => value(s.factors[0]!, 1));
    expect(nextStop(all)).toBeUndefined();
    expect(nextStop(shaken(all, 'fan hardware', 'x'))!.id).toBe('cooling');
  });
  it('puts settled values into the baseline of the next trial, and a flow limit not', () => {
    const base = data.pairs[0]!.baseline;
    const next = tunedBaseline(base, [
      value('nozzle-temperature', 250),
      value('flow', 0.97),
      value('seam', 2),
      value('volumetric-flow', 11),
    ]);
    expect(next).toMatchObject({
      nozzleTemperature: 250,
      flow: 0.97,
      seam: 'aligned',
      outerWallSpeed: base.outerWallSpeed,
    });
    expect(tunedBaseline(base, [value('flow', 0.9), value('flow', 0.97)]).flow).toBe(0.97);
  });
});

describe('values put back, taken over, and put into firmware', () => {
  it('put back, a value is the newest again and says so; its history stays', () => {
    const values = settledInto([value('flow', 0.95), value('flow', 0.98)], restored(value('flow', 0.95), '2026-11-23'));
    expect(values).toHaveLength(3);
    expect(newest(values)[0]).toMatchObject({ value: 0.95, state: 'settled', on: '2026-11-23' });
    expect(newest(values)[0]!.why).toMatch(/^put back: /);
  });
  it('taken over, it is not confirmed', () => {
    expect(copied(tuned, 'Heron', '2026-11-23')).toMatchObject({
      state: 'shaken',
      shakenBy: 'taken over from Heron, not confirmed on this pair',
    });
  });
  it('says where two methods disagree, and keeps still where their bands meet', () => {
    const by = (trial: string) => ({ ribbon: 'Surge ribbon', star: 'Star wall' })[trial];
    const a = value('pressure-advance', 0.04, { low: 0.035, high: 0.045, trial: 'ribbon' });
    const b = value('pressure-advance', 0.07, { low: 0.06, high: 0.08, trial: 'star' });
    expect(disagreements([a, b], by).map((d) => d.message)[0]).toMatch(/surge ribbon says 0.04 s, star wall 0.07 s/);
    expect(disagreements([a, { ...b, low: 0.044 }], by)).toEqual([]);
    expect(disagreements([a, { ...b, trial: 'ribbon' }], by)).toEqual([]);
    // From three methods on the middle one is named, and the one to repeat.
    const three = (trial: string) => by(trial) ?? (trial === 'wall' ? 'Loop wall' : undefined);
    const c = value('pressure-advance', 0.045, { low: 0.04, high: 0.05, trial: 'wall' });
    expect(disagreements([a, b, c], three).map((d) => d.message)).toEqual([
      'Three methods disagree: surge ribbon says 0.04 s, star wall 0.07 s, loop wall 0.045 s. Their median is 0.045 s; repeat star wall, which lies furthest from it.',
    ]);
  });
  it('speaks each firmware', () => {
    const values = [
      value('pressure-advance', 0.0425),
      value('acceleration', 2500),
      value('rotation-distance', 22.6789),
      value('fan', 1),
    ];
    expect(firmwareLines(values, 'marlin')).toEqual(['M900 K0.0425', 'M204 P2500', expect.stringMatching(/^; /)]);
    expect(firmwareLines(values, 'klipper')).toEqual([
      'SET_PRESSURE_ADVANCE ADVANCE=0.0425',
      'SET_VELOCITY_LIMIT ACCEL=2500',
      '; in the configuration file, under [extruder]: rotation_distance: 22.6789',
    ]);
    expect(firmwareLines(values, 'reprap')[0]).toBe('M572 D0 S0.0425');
  });
  it('adds up what prints took; one that was not noted counts as a print', () => {
    const took = { time: 600, mass: 2, cost: 0.05 };
    expect(effortOf([{ took }, { took }, {}])).toEqual({ prints: 3, time: 1200, mass: 4, cost: 0.1 });
  });
});

describe('the tune sheet as CSV', () => {
  it('has a row a setting, quoted where it must be, and no formulas', () => {
    const nasty: Tuned = { ...tuned, why: '=HYPERLINK("x"), "quoted"', trialTitle: 'a\nb' };
    const of = { printer: '=Heron', filament: ' @Marsh' };
    const [head, row] = tuneSheetCsv([nasty], of).split('\r\n');
    expect(head!.split(',')).toHaveLength(15);
    expect(row).toContain("'=Heron,' @Marsh,nozzle temperature,,245,°C");
    const named = tuneSheetCsv([nasty], of, { 'nozzle-temperature': 'Hot end' }).split('\r\n')[1];
    expect(named).toContain('nozzle temperature,Hot end,245,°C');
    expect(row).toContain(`"'=HYPERLINK(""x""), ""quoted"""`);
    for (const bad of ['=1', '+1', '-1', '@x', '\t=1', '\r=1', ' =1', '|x', '−1'])
      expect(tuneSheetCsv([{ ...tuned, why: bad }], of)).toContain(`'${bad}`);
    // A figure is a figure, below zero too, and without the tail of its binary form.
    const low = tuneSheetCsv([value('z-offset', -0.02), value('flow', 0.57)], of).split('\r\n');
    expect(low[1]).toContain('nozzle height offset,,-0.02,mm');
    expect(low[2]).toContain('flow,,57,%');
    expect(valueWords(tuned)).toBe('245 °C');
  });
  it('follows the route, and says under what each value was found', () => {
    const of = { printer: 'Heron', filament: 'Marsh' };
    const sheet = [
      value('retraction-distance', 0.8, { under: { 'nozzle-temperature': 245, flow: 0.97, 'extruder-steps': 415 } }),
      value('flow', 0.97),
      value('nozzle-temperature', 245),
      value('fit-clearance', 0.2),
    ];
    const rows = tuneSheetCsv(sheet, of).trim().split('\r\n').slice(1);
    expect(rows.map((r) => r.split(',')[4])).toEqual(['245', '97', '0.8', '0.2']);
    expect(rows[2]).toContain('"nozzle temperature 245 °C, flow 97 %"');
  });
});

describe('the demo data and backups', () => {
  const round = () => JSON.parse(JSON.stringify(data)) as typeof data;
  const taken = (v: unknown) => {
    const r = restorable(v);
    if (!r.ok) throw new Error(r.faults[0]!.at);
    return r.value;
  };
  it('is a sound backup with three pairs, one of them settled', () => {
    expect(taken(round())).toMatchObject({ left: [], mended: [], documents: { records: data.records } });
    expect(data.pairs).toHaveLength(3);
    expect(data.records.slice(0, 5).map((r) => [r.prints.length, r.readings.length])).toEqual([
      [1, 75],
      [0, 0],
      [1, 40],
      [1, 8],
      [0, 0],
    ]);
    // The engine checks: every solid of the reference set, each of which can be planned.
    const checks = data.records.slice(5);
    expect(checks.map((r) => r.trial.specimen.id)).toEqual(bodies.map((b) => b.id));
    for (const r of checks) expect(planned(r.trial).ok, r.id).toBe(true);
    expect(tuned.state).toBe('settled');
  });
  it('refuses what is none, or newer', () => {
    expect(() => taken(null)).toThrow('backup.kind');
    expect(() => taken({ kind: 'else' })).toThrow('backup.kind');
    expect(() => taken({ ...round(), version: 9 })).toThrow('backup.version');
    // The first version had neither histories nor drafts.
    const { histories: _, drafts: __, files: ___, set: ____, ...first } = round();
    expect(taken({ ...first, version: 1 }).documents.records).toHaveLength(data.records.length);
  });
  it('gives back what is sound, and names the rest with the reason', () => {
    const broken = round();
    broken.records[0]!.readings[3]!.value = 'superb' as never;
    const seen = taken(broken);
    expect(seen.documents.records).toEqual(data.records.slice(1));
    expect(seen.left).toEqual([
      { what: `trial ${data.records[0]!.trial.title}`, why: expect.stringMatching(/^readings\.3\.value: /) as string },
    ]);
    // A printer that cannot be read takes its pairs and their trials along, each by name.
    const odd = round();
    (odd.printers[0] as { nozzle: { diameter: unknown } }).nozzle.diameter = 'thin';
    const rest = taken(odd);
    const own = data.pairs.filter((p) => p.printer === 'heron').map((p) => p.id);
    expect(rest.documents.printers.map((p) => p.id)).toEqual(data.printers.slice(1).map((p) => p.id));
    expect(rest.documents.pairs.some((p) => own.includes(p.id))).toBe(false);
    expect(rest.left).toHaveLength(1 + own.length + data.records.filter((r) => own.includes(r.pair)).length);
    expect(rest.left.find((l) => l.what.startsWith('pair'))!.why).toBe(
      'its printer is not in the backup, or is damaged',
    );
    expect(taken({ ...round(), pairs: [...data.pairs, data.pairs[0]] }).left[0]!.why).toBe('it stands there twice');
  });
  it('cuts a text that is too long, and leaves a value that cannot be set to the draft', () => {
    const long = round();
    long.records[0]!.prints[0]!.conditions.room = 'r'.repeat(81);
    const cut = taken(long);
    expect(cut.left).toEqual([]);
    expect(cut.documents.records[0]!.prints[0]!.conditions.room).toBe('r'.repeat(80));
    expect(cut.mended[0]!.why).toBe('prints.0.conditions.room was cut to 80 letters');
    for (const [key, value] of [
      ['wallCount', 2.5],
      ['retractionDistance', 20],
    ] as const) {
      const wild = round();
      (wild.records[0]!.trial.frozen as Record<string, unknown>)[key] = value;
      const record = taken(wild).documents.records[0]!;
      expect(record.trial.frozen[key]).toBeUndefined();
      expect(record.draft!.frozen[key]).toBe(value);
      expect(recordSchema.safeParse(record).success).toBe(true);
    }
  });
});

describe('what counts less where a factor is settled', () => {
  it('is set right at a later stop, or one that is gone to again, by a factor of it that spoils the quality too', () => {
    const order = stops.map((s) => s.id);
    for (const { id, fault, counts } of qualities)
      for (const [factor, { since, as }] of Object.entries(counts ?? {})) {
        const later = stopOf(since);
        expect(later, `${id}: ${since}`).toBeDefined();
        // An earlier stop that leans on the factor is shaken where that moves far, so it is gone to again.
        const again = later!.leansOn?.some((l) => l.factor === factor) ?? false;
        expect(again || order.indexOf(since) > order.indexOf(stopOfFactor(factor)!.id), `${id}: ${since}`).toBe(true);
        expect(
          later!.factors.some((f) => fault[f] !== undefined),
          `${id} at ${since}`,
        ).toBe(true);
        expect(as).toBeLessThan(1);
      }
  });
});
