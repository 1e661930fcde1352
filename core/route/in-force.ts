import { variedIn } from '#core/plan';
import * as z from 'zod';
import type { Context } from '#core/context';
import { factorId, factorOf, levelInForce, settingsAt } from '#core/factors';
import { settingIds, startingSettings, type SettingId, type Settings } from '#core/settings';
import type { Trial } from '#core/trial';
import { conditionsOf, shakenByMove } from './shaking';
import { newest, valueWords, type Tuned } from './tune-sheet';

/** Where a value beneath the tune sheet comes from, where it is no start value. */
export const originSchema = z.strictObject({
  from: z.enum(['typed', 'learnt']),
  on: z.string().max(30),
  /** The file it was learnt from. */
  words: z.string().max(200).optional(),
});

/** Where a value beneath the tune sheet comes from. */
export type Origin = z.infer<typeof originSchema>;

/** The values of a pair: a baseline beneath, where its values come from, and what was found. */
export interface PairValues {
  baseline: Settings;
  origins?: Record<string, Origin> | undefined;
  values: readonly Tuned[];
}

/** The settings that a value puts in force; none where the printer keeps it, as a flow limit or its feed. */
function settingsOf({ factor, value }: Tuned, settings: Settings): Partial<Settings> {
  const f = factorOf(factor);
  return f && !f.kept ? settingsAt(f, value, settings) : {};
}

/** The baseline of a pair with every value on its tune sheet in force. */
export const tunedBaseline = (baseline: Settings, values: readonly Tuned[]): Settings =>
  newest(values).reduce((settings, v) => ({ ...settings, ...settingsOf(v, settings) }), baseline);

/** The context of a pair with what was found of its hotend in force: the flow limit caps every later print. */
export function contextInForce(context: Context, values: readonly Tuned[]): Context {
  const limit = newest(values).find((v) => v.factor === 'volumetric-flow')?.value;
  if (limit === undefined) return context;
  const { printer } = context;
  return { ...context, printer: { ...printer, extruder: { ...printer.extruder, maximumFlow: limit } } };
}

/** The level of a factor that a pair prints with: what was found, else what settings or printer say; undefined where nobody knows. */
export function valueInForce({ baseline, values }: PairValues, context: Context, factor: string): number | undefined {
  const f = factorOf(factor);
  return (
    newest(values).find((v) => v.factor === factor)?.value ??
    (f && levelInForce(f, tunedBaseline(baseline, values), context.printer))
  );
}

/** A pair with a value found or given for it: in force from now on; what rests on it and was found elsewhere is shaken. */
export function withSettled<P extends PairValues>(pair: P, context: Context, fresh: Tuned): P {
  const before = valueInForce(pair, context, fresh.factor);
  const settings = tunedBaseline(pair.baseline, pair.values);
  const under = fresh.under ?? conditionsOf(fresh.factor, settings, contextInForce(context, pair.values).printer);
  const values = shakenByMove(pair.values, { factor: fresh.factor, before, after: fresh.value }, context);
  return { ...pair, values: [...values, { ...fresh, under }] };
}

/** The value found for a pair that has a setting in force. */
const ownerOf = (values: readonly Tuned[], settings: Settings, id: SettingId): Tuned | undefined =>
  newest(values).findLast((v) => id in settingsOf(v, settings));

/**
 * A pair with another value of a setting, typed or learnt. Where that setting was settled, the value joins the tune sheet
 * as one that is given; else it goes beneath it. What rests on it is shaken.
 */
export function withSetting<P extends PairValues>(
  pair: P,
  context: Context,
  id: SettingId,
  value: Settings[SettingId],
  origin: Origin,
): P {
  const settings = tunedBaseline(pair.baseline, pair.values);
  if (settings[id] === value) return pair;
  const owner = ownerOf(pair.values, settings, id);
  const factor = factorOf(owner?.factor ?? factorId(id));
  const next = { ...settings, [id]: value };
  const after = factor && levelInForce(factor, next, context.printer);
  if (owner && after !== undefined)
    return withSettled(pair, context, givenValue(owner.factor, after, originWords(origin), origin.on));
  const before = factor && levelInForce(factor, settings, context.printer);
  const values = owner ? pair.values.filter((v) => v !== owner) : pair.values;
  return {
    ...pair,
    baseline: { ...pair.baseline, [id]: value },
    origins: { ...pair.origins, [id]: origin },
    values:
      factor && after !== undefined ? shakenByMove(values, { factor: factor.id, before, after }, context) : [...values],
  };
}

/** Where a value is from, in words. */
const originWords = ({ from, words }: Origin): string =>
  from === 'typed' ? 'typed by hand' : `learnt from ${words ?? 'a file'}`;

/** A value that was known before, and from where. */
export const givenValue = (factor: string, value: number, from: string, on: string): Tuned => ({
  factor,
  value,
  low: value,
  high: value,
  interval95: [value, value],
  rule: 'given',
  why: from.slice(0, 500),
  trial: '',
  trialTitle: '',
  evidence: 'known before',
  on,
  state: 'settled',
});

/** A setting that a pair prints with, and where its value comes from. */
export interface InForce {
  setting: SettingId;
  value: Settings[SettingId];
  source: 'start' | 'kept' | 'typed' | 'learnt' | 'sheet';
  /** The source in words. */
  words: string;
  /** The value of the tune sheet that has it in force. */
  tuned?: Tuned;
}

/** Every setting that a pair prints with, each with its source, in the order of the catalogue. */
export function printsWith(pair: PairValues, context: Context): InForce[] {
  const settings = tunedBaseline(pair.baseline, pair.values);
  const start = startingSettings(context);
  return settingIds.map((setting): InForce => {
    const value = settings[setting];
    const tuned = ownerOf(pair.values, settings, setting);
    if (tuned) {
      const what = tuned.rule === 'given' ? 'given' : 'settled';
      return { setting, value, source: 'sheet', words: `${what} on ${tuned.on}: ${tuned.why}`, tuned };
    }
    const origin = pair.origins?.[setting];
    if (origin) return { setting, value, source: origin.from, words: `${originWords(origin)}, ${origin.on}` };
    if (value === start[setting]) return { setting, value, source: 'start', words: 'start value' };
    return { setting, value, source: 'kept', words: 'kept since the pair was made' };
  });
}

/** The values of the tune sheet that a trial prints with, in words; what it holds or varies itself is none. */
export function takenFrom(
  { baseline, frozen, axes }: Pick<Trial, 'baseline' | 'frozen' | 'axes'>,
  values: readonly Tuned[],
): { words: string; tuned: Tuned }[] {
  const varied = new Set(variedIn(axes));
  return newest(values).flatMap((tuned) => {
    const factor = factorOf(tuned.factor);
    if (!factor || varied.has(tuned.factor)) return [];
    const own = Object.entries(settingsOf(tuned, baseline)) as [SettingId, unknown][];
    return own.length > 0 && own.every(([id, value]) => baseline[id] === value && frozen[id] === undefined)
      ? [{ words: `${factor.label} ${valueWords(tuned)}`, tuned }]
      : [];
  });
}
