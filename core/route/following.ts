import { variedIn } from '#core/plan';
import { show } from '#core/base';
import { filamentFields, printerFields, fieldValue, type Context, type Field } from '#core/context';
import { factorOf } from '#core/factors';
import { settingIds, settingOf, type Settings } from '#core/settings';
import { settingWords, type Trial } from '#core/trial';
import { patchesBetween } from './history';
import { tunedBaseline, type PairValues } from './in-force';
import { planOf, withPlan } from './planning';
import type { TrialRecord } from './record';

/** A waiting plan as it stands with the pair of today, and what that changed, in words. */
export interface Followed {
  record: TrialRecord;
  changes: string[];
}

/**
 * A plan that is not printed yet, with printer, filament and values as the pair has them by now; undefined where it has
 * them already, was printed, stays as it was planned, or is for another printer or filament.
 *
 * @param context that of the pair, with what was found of its hotend in force
 */
export function followed(record: TrialRecord, pair: PairValues, context: Context): Followed | undefined {
  const plan = planOf(record);
  const [{ printer, filament, others }, now] = [plan.context, context];
  if (record.prints.length > 0 || record.asPlanned || record.settledOn !== undefined) return undefined;
  if (printer.id !== now.printer.id || filament.id !== now.filament.id) return undefined;
  const baseline = tunedBaseline(pair.baseline, pair.values);
  // What the second tool holds is a choice of the plan.
  const tools = others ?? now.others;
  const next: Trial = {
    ...plan,
    context: { printer: now.printer, filament: now.filament, ...(tools && { others: tools }) },
    baseline,
  };
  const changes = [
    ...settingChanges(plan, baseline),
    ...fieldChanges(printerFields, printer, now.printer),
    ...fieldChanges(filamentFields, filament, now.filament),
  ];
  if (
    patchesBetween({ context: plan.context, baseline: plan.baseline }, { context: next.context, baseline }).length === 0
  )
    return undefined;
  return { record: withPlan(record, next), changes };
}

/** The settings that come out otherwise on this plan; what it holds or varies itself is none. */
function settingChanges({ baseline, frozen, axes }: Trial, now: Settings): string[] {
  const varied = new Set(variedIn(axes).map((id) => factorOf(id)?.setting));
  return settingIds
    .filter((id) => baseline[id] !== now[id] && frozen[id] === undefined && !varied.has(id))
    .map((id) => `${settingOf(id).label} ${settingWords(id, baseline[id])} → ${settingWords(id, now[id])}`);
}

function fieldChanges<D extends object>(fields: readonly Field<D>[], before: D, now: D): string[] {
  const words = (f: Field<D>, document: D) => {
    const value = fieldValue(document, f.path);
    if (f.kind === 'code') return '';
    if (typeof value === 'number') return `${show(value)} ${f.unit}`.trim();
    const named = f.choices?.find((c) => c.value === value)?.label;
    return named ?? (typeof value === 'string' && value !== '' ? value : 'not said');
  };
  return fields
    .filter((f) => JSON.stringify(fieldValue(before, f.path)) !== JSON.stringify(fieldValue(now, f.path)))
    .map((f) =>
      f.kind === 'code'
        ? `${f.label.toLowerCase()} was edited`
        : `${f.label.toLowerCase()} ${words(f, before)} → ${words(f, now)}`,
    );
}
