import { bodies } from '#core/specimens';
import { planned } from '#core/trial';
import { describe, expect, it } from 'vitest';
import { demoData } from '#core/demo';
import { checkedBackup, newest, shaken, stopOf, stops, stopState, tuneSheetCsv, valueWords, type Tuned } from '.';

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
    expect(stopState(temperature, [tuned], false)).toEqual({ state: 'settled', words: '244 °C' });
    expect(stopState(stopOf('flow')!, [tuned], false).state).toBe('to come');
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

describe('the tune sheet as CSV', () => {
  it('has a row a setting, quoted where it must be, and no formulas', () => {
    const nasty: Tuned = { ...tuned, why: '=HYPERLINK("x"), "quoted"', trialTitle: 'a\nb' };
    const [head, row] = tuneSheetCsv([nasty]).split('\r\n');
    expect(head!.split(',')).toHaveLength(11);
    expect(row).toContain('nozzle temperature,244,°C');
    expect(row).toContain(`"'=HYPERLINK(""x""), ""quoted"""`);
    expect(valueWords(tuned)).toBe('244 °C');
  });
});

describe('the demo data and backups', () => {
  const round = () => JSON.parse(JSON.stringify(data)) as typeof data;
  const at = (v: unknown) => {
    const r = checkedBackup(v);
    return r.ok ? '' : r.faults[0]!.at;
  };
  it('is a sound backup with three pairs, one of them settled', () => {
    expect(checkedBackup(round()).ok).toBe(true);
    expect(data.pairs).toHaveLength(3);
    expect(data.records.slice(0, 3).map((r) => [r.prints.length, r.readings.length])).toEqual([
      [1, 40],
      [1, 8],
      [0, 0],
    ]);
    // The engine checks: every solid of the reference set, each of which can be planned.
    const checks = data.records.slice(3);
    expect(checks.map((r) => r.trial.specimen.id)).toEqual(bodies.map((b) => b.id));
    for (const r of checks) expect(planned(r.trial).ok, r.id).toBe(true);
    expect(tuned.state).toBe('settled');
  });
  it('refuses what is damaged, with the place', () => {
    expect(at(null)).toBe('backup.kind');
    expect(at({ kind: 'else' })).toBe('backup.kind');
    expect(at({ ...round(), version: 9 })).toBe('backup.version');
    expect(at({ ...round(), pairs: round().pairs.map((p) => ({ ...p, printer: 'gone' })) })).toBe(
      'backup.pairs.0.printer',
    );
    const broken = round();
    broken.records[0]!.readings[3]!.value = 'superb' as never;
    expect(at(broken)).toBe('backup.records.0.readings.3.value');
    const odd = round();
    (odd.printers[1] as { nozzle: { diameter: unknown } }).nozzle.diameter = 'thin';
    expect(at(odd)).toBe('backup.printers.1.nozzle.diameter');
  });
});
