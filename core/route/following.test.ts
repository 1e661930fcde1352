import { demoData } from '#core/demo';
import { freshFilament, freshPrinter, type Context } from '#core/context';
import { factorOf, levelInForce } from '#core/factors';
import { startingSettings } from '#core/settings';
import { kinds, planned, trialOfKind } from '#core/trial';
import { describe, expect, it } from 'vitest';
import { followed, givenValue, recheckOf, stops, withSetting, withSettled, type PairRecord, type TrialRecord } from '.';

const data = demoData();
const context: Context = { printer: data.printers[0]!, filament: data.filaments[0]! };
const start = startingSettings(context);
const pair: Pick<PairRecord, 'baseline' | 'values'> = { baseline: start, values: [] };
const record = (kind: string, more: Partial<TrialRecord> = {}): TrialRecord => ({
  kind: 'steady-tune/record',
  version: 1,
  id: 'waits',
  pair: 'heron',
  stop: 'retraction',
  created: '2026-11-20',
  trial: trialOfKind(kind, context, start)!,
  prints: [],
  readings: [],
  rule: 'best',
  weights: {},
  checklist: {},
  ...more,
});
const typed = { from: 'typed', on: '2026-11-28' } as const;

describe('a waiting plan', () => {
  const waits = record('retraction-fence');
  const hot = withSettled(
    pair,
    context,
    givenValue('nozzle-temperature', start.nozzleTemperature + 7, 'x', '2026-11-28'),
  );

  it('takes what its pair has by now, and says what changed', () => {
    const after = followed(waits, hot, context)!;
    expect(after.record.trial.baseline.nozzleTemperature).toBe(start.nozzleTemperature + 7);
    expect(after.changes).toEqual([
      `nozzle temperature ${start.nozzleTemperature} °C → ${start.nozzleTemperature + 7} °C`,
    ]);
    expect(after.record.trial.axes).toEqual(waits.trial.axes);
    // Once in line, there is nothing to say.
    expect(followed(after.record, hot, context)).toBeUndefined();
    expect(followed(waits, pair, context)).toBeUndefined();
  });
  it('follows its printer too, and names the field', () => {
    const printer = {
      ...context.printer,
      startCode: `${context.printer.startCode}\n;more`,
      height: context.printer.height - 20,
    };
    const after = followed(waits, pair, { ...context, printer })!;
    expect(after.record.trial.context.printer).toEqual(printer);
    expect(after.changes.join('; ')).toMatch(/highest z .* mm → .* mm/);
    expect(after.changes.join('; ')).toMatch(/start code was edited/);
  });
  it('keeps what it holds and varies itself, without a word about that', () => {
    const other = withSetting(
      withSetting(pair, context, 'fan', 0.9, typed),
      context,
      'retractionDistance',
      start.retractionDistance + 0.3,
      typed,
    );
    const held = record('retraction-strips');
    expect(held.trial.frozen.fan).toBeDefined();
    const after = followed(held, other, context)!;
    expect(after.changes).toEqual([]);
    expect(after.record.trial.frozen).toEqual(held.trial.frozen);
  });
  it('stays as it is once it is printed, kept as planned, or meant for another machine', () => {
    const print = { id: 'p', on: '2026-11-21', conditions: { firmware: '', room: '', drying: '', note: '' } };
    expect(followed({ ...waits, prints: [print] }, hot, context)).toBeUndefined();
    expect(followed({ ...waits, asPlanned: true }, hot, context)).toBeUndefined();
    expect(followed(waits, hot, { ...context, printer: { ...context.printer, id: 'another' } })).toBeUndefined();
    expect(followed(waits, hot, { ...context, filament: { ...context.filament, id: 'another' } })).toBeUndefined();
  });
  it('that its pair no longer allows stays on the sheet as a draft, with the last good one beside it', () => {
    const wide = withSetting(pair, context, 'brimWidth', 400 as never, typed);
    const after = followed(record('temperature-tower'), wide, context)!;
    expect(after.record.draft).toBeDefined();
    expect(planned(after.record.trial).ok).toBe(true);
  });
});

describe('the shortest trial that rechecks a value', () => {
  const small: Context = { printer: freshPrinter('p', 'Plain'), filament: freshFilament('f', 'PLA') };
  it('lays the value between its neighbours, for every factor that a kind varies alone', () => {
    for (const c of [context, small]) {
      const base = startingSettings(c);
      let found = 0;
      for (const stop of stops)
        for (const id of stop.factors) {
          const factor = factorOf(id)!;
          const value = levelInForce(factor, base, c.printer);
          if (value === undefined) continue;
          const trial = recheckOf(givenValue(id, value, 'x', '2026-11-28'), c, base);
          const kind = kinds.find((k) => k.stop === stop.id && k.recipe(c, base).axes[0]?.factor === id);
          if (!trial) continue;
          found++;
          expect(planned(trial).ok, id).toBe(true);
          expect(kind, id).toBeDefined();
          if (factor.choices) continue;
          expect(trial.axes[0]!.levels, id).toHaveLength(3);
          expect(
            trial.axes[0]!.levels.some((v) => Math.abs(v - value) < 1e-6),
            `${id} ${value} in ${trial.axes[0]!.levels.join()}`,
          ).toBe(true);
        }
      expect(found).toBeGreaterThan(20);
    }
  });
  it('takes the shorter kind of a stop where there is one', () => {
    const trial = recheckOf(givenValue('retraction-distance', 0.8, 'x', '2026-11-28'), context, start)!;
    expect(trial.specimen.id).toBe('dash-strips');
    expect(trial.axes[0]!.levels).toEqual([0.6, 0.8, 1]);
  });
  it('has none for what no trial varies', () => {
    expect(recheckOf(givenValue('extruder-steps', 415, 'x', '2026-11-28'), context, start)).toBeUndefined();
  });
});
