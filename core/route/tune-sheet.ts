import * as z from 'zod';
import { factorOf } from '#core/factors';
import { show } from '#core/base';
import { stopOfFactor, type Stop } from './stops';

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
});

export type Tuned = z.infer<typeof tunedSchema>;

/** The newest value of each factor; the others are its history. */
export const newest = (values: readonly Tuned[]): Tuned[] => {
  const last = new Map<string, Tuned>();
  for (const v of values) last.set(v.factor, v);
  return [...last.values()];
};

/** What a change of printer or filament shakes, by stop. */
export const shakes: Record<string, readonly string[]> = {
  filament: [
    'first-layer',
    'temperature',
    'flow-limit',
    'flow',
    'pressure-advance',
    'retraction',
    'cooling',
    'bridges',
    'infill',
    'supports',
    'top-surface',
  ],
  nozzle: ['first-layer', 'temperature', 'flow-limit', 'flow', 'pressure-advance', 'retraction'],
  feed: ['flow-limit', 'flow', 'pressure-advance', 'retraction'],
  temperature: ['flow-limit', 'flow', 'pressure-advance', 'retraction'],
  'fan hardware': ['cooling', 'bridges'],
};

/** Marks the newest values of the shaken stops, with the reason. */
export function shaken(values: readonly Tuned[], cause: string, why: string): Tuned[] {
  const hit = new Set(shakes[cause] ?? []);
  const latest = new Set(newest(values));
  return values.map((v) => {
    const stop = stopOfFactor(v.factor);
    return stop && hit.has(stop.id) && latest.has(v) ? { ...v, state: 'shaken' as const, shakenBy: why } : v;
  });
}

/** How a stop stands for a pair. */
export type StopState = { state: 'to come' | 'open' | 'in hand' | 'settled' | 'steady' | 'shaken'; words: string };

export function stopState(stop: Stop, values: readonly Tuned[], inHand: boolean): StopState {
  const own = newest(values).filter((v) => stop.factors.includes(v.factor));
  const words = own.map((v) => valueWords(v)).join(', ');
  const first = own[0];
  if (inHand) return { state: 'in hand', words: words || 'in hand' };
  if (first) return { state: first.state, words };
  return stop.factors.length === 0 ? { state: 'to come', words: 'to come' } : { state: 'open', words: '' };
}

/** A value as a person reads it: 244 °C. */
export function valueWords(v: Pick<Tuned, 'factor' | 'value'>): string {
  const f = factorOf(v.factor);
  return `${show(v.value * (f?.shown ?? 1), 3)} ${f?.unit ?? ''}`.trim();
}

/** The tune sheet as CSV (RFC 4180); cells that a spreadsheet would run as formulas are quoted away. */
export function tuneSheetCsv(values: readonly Tuned[]): string {
  const cell = (text: string | number) => {
    const t = typeof text === 'number' ? String(text) : /^[=+@\t\r-]/.test(text) ? `'${text}` : text;
    return /[",\r\n]/.test(t) ? `"${t.replaceAll('"', '""')}"` : t;
  };
  const rows = newest(values).map((v) => {
    const f = factorOf(v.factor);
    const k = f?.shown ?? 1;
    return [
      f?.label ?? v.factor,
      v.value * k,
      f?.unit ?? '',
      v.low * k,
      v.high * k,
      v.rule,
      v.state,
      v.on,
      v.trialTitle,
      v.evidence,
      v.why,
    ]
      .map(cell)
      .join(',');
  });
  return ['setting,value,unit,low,high,rule,state,date,trial,evidence,reason', ...rows].join('\r\n') + '\r\n';
}
