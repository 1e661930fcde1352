import { describe, expect, it } from 'vitest';
import { demoData } from '../demo';
import { paceOf, type Print, type TrialRecord } from '.';

const base = demoData().records.find((r) => r.id === 'demo-heron-temperature')!;
const { id } = base.trial.context.printer;
const print = (time: number, planned: number | undefined, over: Partial<Print> = {}): Print => ({
  id: 'p',
  on: '2026-11-14',
  conditions: { firmware: '2.1', room: '', drying: '', note: '' },
  took: { time, mass: 1, cost: 0, ...(planned !== undefined && { planned }) },
  ...over,
});
const record = (...prints: Print[]): TrialRecord => ({ ...base, prints });

describe('how long a printer takes against what was planned', () => {
  it('is the median of what ran to its end, and nothing where nothing did', () => {
    expect(paceOf([record(print(3000, undefined))], id)).toBeUndefined();
    expect(paceOf([record(print(1080, 1000))], id)).toEqual({ ratio: 1.08, prints: 1, practice: false });
    const three = paceOf([record(print(1080, 1000), print(2000, 1000), print(1100, 1000))], id);
    expect(three).toMatchObject({ ratio: 1.1, prints: 3 });
    const even = paceOf([record(print(1100, 1000), print(1200, 1000))], id);
    expect(even!.ratio).toBeCloseTo(1.15, 9);
  });

  it('leaves out what stood idle, on both sides of where that is believed', () => {
    const ratio = (time: number) => paceOf([record(print(time, 1000))], id)?.ratio;
    expect([ratio(490), ratio(510), ratio(2490), ratio(2510)]).toEqual([undefined, 0.51, 2.49, undefined]);
  });

  it('is of the printer that is asked for, and of practice only where nothing else is known', () => {
    const practice = print(1500, 1000, { practice: true });
    expect(paceOf([record(practice)], 'another')).toBeUndefined();
    expect(paceOf([record(practice)], id)).toEqual({ ratio: 1.5, prints: 1, practice: true });
    expect(paceOf([record(practice, print(1100, 1000))], id)).toEqual({ ratio: 1.1, prints: 1, practice: false });
  });

  it('leaves out what was asked to go wrong', () => {
    const wrong = print(1500, 1000, { practice: true, bed: { seed: 1, mishaps: ['heater-lags'] } });
    expect(paceOf([record(wrong)], id)).toBeUndefined();
    expect(paceOf([record({ ...wrong, bed: { seed: 1 } })], id)?.ratio).toBe(1.5);
  });

  it('goes by the newest ten', () => {
    const old = Array.from({ length: 15 }, () => print(2000, 1000, { on: '2026-01-01' }));
    const fresh = Array.from({ length: 10 }, () => print(1050, 1000, { on: '2026-06-01' }));
    expect(paceOf([record(...fresh, ...old)], id)).toMatchObject({ ratio: 1.05, prints: 10 });
  });
});
