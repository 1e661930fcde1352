import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { demoData } from '#core/demo';
import { settle } from '#core/settle';
import { planned } from '#core/trial';
import { keptOf, readBeside, settledOf, tunedFrom, type TrialRecord } from '.';

const { records } = demoData();
const own = (id: string): TrialRecord => records.find((r) => r.id === id)!;
const asked = (record: TrialRecord) => ({
  ...keptOf(record),
  earlier: readBeside(record, records),
  inspection: undefined,
  costs: [],
});

describe('what a trial comes to', () => {
  it('goes from worker to page and back unharmed, of every trial of the demo, maps and names among them', () => {
    let maps = 0;
    for (const record of records) {
      const settled = settledOf(structuredClone(asked(record)));
      expect(structuredClone(settled), record.id).toEqual(settledOf(asked(record)));
      if (settled?.surface) maps++;
    }
    expect(maps).toBeGreaterThan(0);
  });
  it('is nothing before it is printed', () => {
    expect(settledOf({ ...asked(own('demo-heron-temperature')), prints: [] })).toBeUndefined();
  });
  it('counts how warm the newest print that is read was, and what differed between those', () => {
    const record = own('demo-heron-temperature');
    const print = record.prints[0]!;
    const { readings } = record;
    const cold = { ...print, id: 'cold', heated: [{ cell: 0, nozzle: 180 }] };
    const codes = (prints: typeof record.prints, said = readings) =>
      settledOf({ ...asked(record), prints, readings: said })!.flags.map((f) => f.code);
    // Of a print that nobody read nothing counts.
    expect(codes([print, cold])).not.toContain('void');
    const again = readings.map((r) => ({ ...r, print: 'cold', replicate: 2 }));
    expect(codes([print, cold], [...readings, ...again])).toContain('void');
    const otherwise = { ...print, id: 'cold', conditions: { ...print.conditions, firmware: 'another' } };
    expect(codes([print, otherwise])).not.toContain('confounded');
    expect(codes([print, otherwise], [...readings, ...again])).toContain('confounded');
  });
  it('is by the weights and the rule of its record', () => {
    const record = own('demo-heron-temperature');
    const plan = must(planned(record.trial));
    const rule = 'middle-of-the-clean-band';
    const weights = { 'layer-strength': 4 };
    const whole = settledOf({ ...asked(record), rule, weights });
    expect(whole!.choices).toEqual(settle(plan, record.readings, { rule, weights }).choices);
  });
  it('stands on the tune sheet with how much was read for it, here and before', () => {
    const record = own('demo-heron-temperature');
    const [choice] = settledOf(asked(record))!.choices;
    // Five qualities of eight bands.
    expect(tunedFrom(record, choice!, '2026-11-30').evidence).toBe('40 readings on 8 cells, 1 print, practice printer');
    const [one, ...rest] = record.readings;
    const beside = [{ readings: [{ ...one!, excluded: 'slipped' }, ...rest] }, { readings: [one!] }];
    expect(tunedFrom(record, choice!, '2026-11-30', beside).evidence).toBe(
      '40 readings on 8 cells, 1 print, practice printer; with 40 of before',
    );
  });
});
