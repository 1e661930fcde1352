import * as z from 'zod';
import { rounded, show } from '#core/base';
import { factorOf, levelWords } from '#core/factors';
import { settingOf } from '#core/settings';
import { stopOf, stops, type Stop } from './stops';

/** One settled value with where it came from. */
export const tunedSchema = z.strictObject({
  factor: z.string().max(60),
  value: z.number(),
  low: z.number(),
  high: z.number(),
  interval95: z.tuple([z.number(), z.number()]),
  rule: z.string().max(60),
  why: z.string().max(600),
  trial: z.string().max(80),
  trialTitle: z.string().max(120),
  evidence: z.string().max(300),
  on: z.string().max(30),
  state: z.enum(['settled', 'steady', 'shaken']),
  shakenBy: z.string().max(300).optional(),
  /** The factor whose move shook it. */
  shakenFor: z.string().max(60).optional(),
  /** The levels, by factor, that were in force when it was found: of all that it rests on. */
  under: z.record(z.string().max(60), z.number()).optional(),
});

/** A value on the tune sheet, with its band, reason and state. */
export type Tuned = z.infer<typeof tunedSchema>;

/** The newest value of each factor; the others are its history. */
export const newest = (values: readonly Tuned[]): Tuned[] => {
  const last = new Map<string, Tuned>();
  for (const v of values) last.set(v.factor, v);
  return [...last.values()];
};

/** The stops that a stop rests on and that are not settled yet. */
export const unsettledBefore = (stop: Stop, values: readonly Tuned[]): Stop[] =>
  stop.restsOn.flatMap((id) => {
    const below = stopOf(id);
    return below && !newest(values).some((v) => below.factors.includes(v.factor) && v.state !== 'shaken')
      ? [below]
      : [];
  });

/** The stop to go to next: shaken ones first, then the first open one that rests on nothing open. */
export function nextStop(values: readonly Tuned[]): Stop | undefined {
  const own = stops.filter((s) => !s.beside);
  const state = (s: Stop) => stopState(s, values, false).state;
  return (
    own.find((s) => state(s) === 'shaken') ??
    own.find((s) => state(s) === 'open' && unsettledBefore(s, values).length === 0) ??
    own.find((s) => state(s) === 'open')
  );
}

/** An earlier value put in force again, as a value of its own. */
export const restored = (value: Tuned, on: string): Tuned => ({
  ...value,
  on,
  state: 'settled',
  shakenBy: undefined,
  shakenFor: undefined,
  why: `put back: ${value.why}`.slice(0, 600),
});

/** A value taken over from another pair: it must be confirmed here. */
export const copied = (value: Tuned, from: string, on: string): Tuned => ({
  ...value,
  on,
  state: 'shaken',
  shakenBy: `taken over from ${from}, not confirmed on this pair`.slice(0, 300),
});

const COUNTS = ['', 'One', 'Two', 'Three', 'Four', 'Five'];

/**
 * Methods for one setting whose bands do not all meet: each is said, with what to repeat; they are not averaged. From
 * three on the median is named, and the one that lies furthest from it is to be repeated.
 *
 * @param methodOf the name of the method by the trial that found a value; undefined for none
 */
export function disagreements(
  values: readonly Tuned[],
  methodOf: (trial: string) => string | undefined,
): { factor: string; message: string }[] {
  const found: { factor: string; message: string }[] = [];
  for (const factor of new Set(values.map((v) => v.factor))) {
    const byMethod = new Map<string, Tuned>();
    for (const v of values) {
      const method = v.factor === factor ? methodOf(v.trial) : undefined;
      if (method !== undefined) byMethod.set(method, v);
    }
    const methods = [...byMethod].map(([name, value]) => ({ name: name.toLowerCase(), value }));
    const apart = methods.some((a) =>
      methods.some((b) => Math.max(a.value.low, b.value.low) > Math.min(a.value.high, b.value.high)),
    );
    if (!apart) continue;
    const said = methods.map((m, i) => `${m.name}${i === 0 ? ' says' : ''} ${valueWords(m.value)}`).join(', ');
    const head = `${COUNTS[methods.length] ?? methods.length} methods disagree: ${said}.`;
    if (methods.length === 2 || factorOf(factor)?.choices) {
      found.push({
        factor,
        message: `${head} They are not averaged: repeat both on one day with the same filament, the shorter one first.`,
      });
      continue;
    }
    const inOrder = [...methods].sort((a, b) => a.value.value - b.value.value);
    const k = Math.floor(inOrder.length / 2);
    const middle = inOrder.length % 2 ? [inOrder[k]!] : [inOrder[k - 1]!, inOrder[k]!];
    const median = middle.reduce((sum, m) => sum + m.value.value, 0) / middle.length;
    const far = [...methods].sort((a, b) => Math.abs(b.value.value - median) - Math.abs(a.value.value - median))[0]!;
    found.push({
      factor,
      message: `${head} Their median is ${valueWords({ factor, value: median })}; repeat ${far.name}, which lies furthest from it.`,
    });
  }
  return found;
}

/** Prints, time, filament and money that the trials of a pair took. */
export interface Effort {
  prints: number;
  time: number;
  mass: number;
  cost: number;
}

/** What all prints of some trials took; prints whose cost was not noted count as prints only. */
export function effortOf(
  prints: readonly { took?: { time: number; mass: number; cost: number } | undefined }[],
): Effort {
  const sum = (key: 'time' | 'mass' | 'cost') => prints.reduce((n, p) => n + (p.took?.[key] ?? 0), 0);
  return { prints: prints.length, time: sum('time'), mass: sum('mass'), cost: sum('cost') };
}

/** How a stop stands for a pair. */
export type StopState = { state: 'open' | 'in hand' | 'settled' | 'steady' | 'shaken'; words: string };

/** How a stop stands, with its values in words. */
export function stopState(stop: Stop, values: readonly Tuned[], inHand: boolean): StopState {
  const own = newest(values).filter((v) => stop.factors.includes(v.factor));
  const words = own.map((v) => valueWords(v)).join(', ');
  const first = own.find((v) => v.state === 'shaken') ?? own[0];
  if (inHand) return { state: 'in hand', words: words || 'in hand' };
  if (first) return { state: first.state, words };
  return { state: 'open', words: '' };
}

/** A value as a person reads it: 244 °C. */
export function valueWords(v: Pick<Tuned, 'factor' | 'value'>): string {
  const f = factorOf(v.factor);
  if (f?.choices) return levelWords(f, v.value);
  return `${show(v.value * (f?.shown ?? 1), 3)} ${f?.unit ?? ''}`.trim();
}

/** The newest values in the order of the route. */
export const inRouteOrder = (values: readonly Tuned[]): Tuned[] => {
  const place = (v: Tuned) => {
    const at = stops.findIndex((s) => s.factors.includes(v.factor));
    return at < 0 ? stops.length : at;
  };
  return newest(values).sort((a, b) => place(a) - place(b));
};

/** The levels of what a value rests on, under which it was found, in words. */
export const conditionWords = ({ under }: Tuned): string =>
  Object.entries(under ?? {})
    .filter(([factor, value]) => !FEED.has(factor) && !isUnsaid(factor, value))
    .map(([factor, value]) => `${factorOf(factor)?.label ?? factor} ${valueWords({ factor, value })}`)
    .join(', ');

/** Whether a setting is left to the firmware. */
function isUnsaid(factor: string, value: number): boolean {
  const setting = factorOf(factor)?.setting;
  return setting !== undefined && value === 0 && settingOf(setting).neutral === 0;
}

/** What the printer says of itself is on its own page. */
const FEED = new Set(stopOf('feed')!.factors);

/** Printer and filament of a tune sheet, by name. */
export interface SheetOf {
  printer: string;
  filament: string;
}

/**
 * The tune sheet as CSV (RFC 4180); cells that a spreadsheet would run as formulas are quoted away, also those that hide
 * behind blanks. A negative figure is a figure.
 */
export function tuneSheetCsv(
  values: readonly Tuned[],
  { printer, filament }: SheetOf,
  names: Readonly<Record<string, string>> = {},
): string {
  const cell = (text: string | number) => {
    const t = typeof text === 'number' ? String(text) : /^\s*[=+@|\t\r−-]/.test(text) ? `'${text}` : text;
    return /[",\r\n]/.test(t) ? `"${t.replaceAll('"', '""')}"` : t;
  };
  const rows = inRouteOrder(values).map((v) => {
    const f = factorOf(v.factor);
    const k = f?.shown ?? 1;
    return [
      printer,
      filament,
      f?.label ?? v.factor,
      names[v.factor] ?? '',
      f?.choices ? valueWords(v) : rounded(v.value * k, 9),
      f?.unit ?? '',
      f?.choices ? '' : rounded(v.low * k, 9),
      f?.choices ? '' : rounded(v.high * k, 9),
      v.rule,
      v.state,
      v.on,
      v.trialTitle,
      v.evidence,
      v.why,
      conditionWords(v),
    ]
      .map(cell)
      .join(',');
  });
  const head =
    'printer,filament,setting,own name,value,unit,low,high,rule,state,date,trial,evidence,reason,found under';
  return [head, ...rows].join('\r\n') + '\r\n';
}
