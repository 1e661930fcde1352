import { describe, expect, it } from 'vitest';
import { demoPair } from '#core/demo';
import { FAULT_AT, type Choice } from '#core/settle';
import { trialOfKind, type Trial } from '#core/trial';
import { askedNext, disagreements, methodsIn, nextBegun, type TrialRecord, type Tuned } from '.';

const { context, baseline } = demoPair('heron-marsh-petg')!;
const limit = trialOfKind('flow-limit', context, baseline)!;
const tower = trialOfKind('temperature-tower', context, baseline)!;
const atLimit = trialOfKind('temperature-at-limit', context, baseline)!;

const choice = (factor: string, value: number): Choice => ({
  factor,
  choice: value,
  low: value,
  high: value,
  interval95: [value, value],
  rule: 'less-5',
  why: '',
});
/** Strength falls with flow: at 12 mm³/s it is what is given. */
const strength = (at12: number) => {
  const level = [4, 8, 12, 16];
  const mean = [4, (4 + at12) / 2, at12, 0];
  return {
    choices: [choice('volumetric-flow', 12)],
    byQuality: { 'layer-strength': { level, mean, low: mean, high: mean } },
  };
};
const found = (trial: string, value = 240): Tuned => ({
  ...choice('nozzle-temperature', value),
  value,
  trial,
  trialTitle: '',
  evidence: '',
  on: '2026-11-30',
  state: 'settled',
});
const trials: Record<string, Trial> = { tower, atLimit };
const ask = (settled: Parameters<typeof askedNext>[1], values: Tuned[] = [found('tower')], trial = limit) =>
  askedNext(trial, settled, context, values, (id) => trials[id]);
const at = (nozzleTemperature: number): Trial => ({ ...limit, baseline: { ...baseline, nozzleTemperature } });

describe('what a flow limit asks of the temperature', () => {
  it('is a hotter nozzle where layers do not hold at the limit, and nothing where they do', () => {
    expect(ask(strength(FAULT_AT))).toBeUndefined();
    expect(ask(strength(FAULT_AT - 0.01))).toMatchObject({
      kind: 'temperature-at-limit',
      stop: 'temperature',
      after: 'tower',
    });
  });
  it('says at which flow and temperature they do not hold, and that the tower counts with it', () => {
    expect(ask(strength(0.5))!.why).toBe(
      'Layers score 0.5 of 4 in strength at 12 mm³/s and 240 °C: they may hold on a hotter nozzle. What was read on the temperature tower counts with it.',
    );
    // A temperature that no trial of the pair found has nothing to go on from.
    expect(ask(strength(0.5), [])).toMatchObject({ after: undefined });
    expect(ask(strength(0.5), [found('elsewhere')])).toMatchObject({ after: undefined });
  });
  it('is not asked again where the temperature in force was found at the limit', () => {
    expect(ask(strength(0.5), [found('tower'), found('atLimit', 250)])).toBeUndefined();
    expect(ask(strength(0.5), [found('atLimit', 250), found('tower')])).toBeDefined();
  });
  it('is not asked where nothing hotter can be set', () => {
    // Marsh PETG bears 270 °C, and a degree is the least that can be set.
    expect(ask(strength(0.5), [], at(269))).toBeDefined();
    expect(ask(strength(0.5), [], at(270))).toBeUndefined();
  });
  it('is not asked by other trials, of a limit that has no value, or where nobody looked at strength', () => {
    expect(ask(strength(0.5), [], { ...tower })).toBeUndefined();
    expect(ask({ ...strength(0.5), choices: [] })).toBeUndefined();
    expect(ask({ ...strength(0.5), byQuality: {} })).toBeUndefined();
  });
  it('is begun already where such a trial is planned or being read, until it is settled or set aside', () => {
    const record = (over: Partial<TrialRecord>) =>
      ({ id: 'r', stop: 'temperature', trial: atLimit, prints: [], ...over }) as TrialRecord;
    const asked = ask(strength(0.5))!;
    expect(nextBegun(asked, [record({}), record({ id: 's', trial: tower })])?.id).toBe('r');
    expect(nextBegun(asked, [record({ prints: [{}] as never })])?.id).toBe('r');
    expect(nextBegun(asked, [record({ settledOn: '2026-11-30' })])).toBeUndefined();
    expect(nextBegun(asked, [record({ aside: true as never })])).toBeUndefined();
    expect(nextBegun(asked, [record({ confirms: {} as never })])).toBeUndefined();
    expect(nextBegun(asked, [record({ stop: 'flow-limit' })])).toBeUndefined();
  });
});

describe('a temperature at the flow limit', () => {
  it('is printed as fast as nine tenths of what melts allow, up to 20 °C hotter, and no faster than what is known to melt', () => {
    const { frozen, axes } = atLimit;
    // The section of a rounded line of 0.45 × 0.2 mm is 0.45 · 0.2 − (1 − π/4) · 0.2² = 0.0814 mm².
    expect(frozen.outerWallSpeed! * 0.0814).toBeLessThan(0.9 * context.printer.extruder.maximumFlow + 1e-6);
    expect((frozen.outerWallSpeed! + 5) * 0.0814).toBeGreaterThan(0.9 * context.printer.extruder.maximumFlow);
    expect(axes[0]!.levels).toEqual([260, 255, 250, 245, 240, 235]);
  });
  it('has as many bands where it cannot be so much hotter', () => {
    const at = (nozzleTemperature: number) =>
      trialOfKind('temperature-at-limit', context, { ...baseline, nozzleTemperature })!.axes[0]!.levels;
    expect(at(250)).toEqual([270, 265, 260, 255, 250, 245]);
    expect(at(251)).toEqual([270, 265, 260, 255, 250, 245]);
    expect(at(270)).toEqual([270, 265, 260, 255, 250, 245]);
    expect(at(249)[0]).toBe(269);
  });
});

describe('methods for one setting', () => {
  const record = (id: string, trial: Trial, over: Partial<TrialRecord> = {}) =>
    ({ id, trial, readings: [{}], ...over }) as TrialRecord;
  const before = record('a', tower);
  const values = [
    { ...found('a', 230), low: 228, high: 232 },
    { ...found('b', 245), low: 242, high: 248 },
  ];
  it('disagree where they are told apart, but not with the trial that one goes on from', () => {
    const told = (records: TrialRecord[]) => disagreements(values, methodsIn(records)).length;
    expect(told([before, record('b', atLimit)])).toBe(1);
    expect(told([before, record('b', atLimit, { after: 'a' })])).toBe(0);
    // Planned only, it says nothing yet.
    expect(told([before, record('b', atLimit), record('c', atLimit, { after: 'a', readings: [] })])).toBe(1);
  });
});
