import * as z from 'zod';
import { rounded, show } from '#core/base';
import type { Printer } from '#core/context';
import { dialects, lineFor, untold, type Action, type Firmware } from '#core/firmware';
import { factorOf, levelWords } from '#core/factors';
import { levelSettings } from '#core/plan';
import type { Settings } from '#core/settings';
import { causes, shakenStops, stopOf, stopOfFactor, stops, type Stop } from './stops';

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

/** A value on the tune sheet, with its band, reason and state. */
export type Tuned = z.infer<typeof tunedSchema>;

/** The newest value of each factor; the others are its history. */
export const newest = (values: readonly Tuned[]): Tuned[] => {
  const last = new Map<string, Tuned>();
  for (const v of values) last.set(v.factor, v);
  return [...last.values()];
};

/** Marks the newest values of the shaken stops, with the reason. */
export function shaken(values: readonly Tuned[], cause: string, why: string): Tuned[] {
  const hit = new Set(shakenStops(cause).map((s) => s.id));
  const latest = new Set(newest(values));
  return values.map((v) => {
    const stop = stopOfFactor(v.factor);
    return stop && hit.has(stop.id) && latest.has(v) ? { ...v, state: 'shaken' as const, shakenBy: why } : v;
  });
}

/** What changed between two states of a printer, by cause. */
export function printerCauses(before: Printer, now: Printer): (typeof causes)[number][] {
  const differ = (...pick: ((p: Printer) => unknown)[]) => pick.some((f) => f(before) !== f(now));
  const changed: Record<string, boolean> = {
    nozzle: differ(
      (p) => p.nozzle.diameter,
      (p) => p.nozzle.material,
    ),
    feed: differ(
      (p) => p.extruder.type,
      (p) => p.extruder.stepsPerMm,
      (p) => p.extruder.rotationDistance,
    ),
    'fan hardware': differ((p) => p.fanLeast),
    firmware: differ((p) => p.firmware),
  };
  return causes.filter((c) => changed[c.id]);
}

/** The values after several causes, each with its words. */
export const shakenByAll = (values: readonly Tuned[], all: readonly { id: string; label: string }[]): Tuned[] =>
  all.reduce<Tuned[]>((now, cause) => shaken(now, cause.id, cause.label), [...values]);

/** The newest values that a change would shake. */
export const shakenBy = (values: readonly Tuned[], cause: string): Tuned[] => {
  const after = shaken(values, cause, '');
  return values.filter((v, i) => after[i] !== v && v.state !== 'shaken');
};

/** The values with a new one; where it differs from what stood there, what rests on it is shaken. */
export function withSettled(values: readonly Tuned[], fresh: Tuned): Tuned[] {
  const before = newest(values).find((v) => v.factor === fresh.factor);
  const [factor, stop] = [factorOf(fresh.factor), stopOfFactor(fresh.factor)];
  // By less than a person can set, nothing has moved.
  const moved = before !== undefined && Math.abs(before.value - fresh.value) > (factor?.settable ?? 0) / 2;
  const rest =
    stop && moved ? shaken(values, stop.id, `${factor?.label ?? stop.label} is now ${valueWords(fresh)}`) : values;
  return [...rest, fresh];
}

/** The baseline of a pair with every value on its tune sheet in force. */
export function tunedBaseline(baseline: Settings, values: readonly Tuned[]): Settings {
  let settings = baseline;
  for (const v of newest(values)) {
    const factor = factorOf(v.factor);
    // A flow limit bounds speeds; it is not a speed.
    if (!factor || v.factor === 'volumetric-flow') continue;
    settings = { ...settings, ...levelSettings({ [v.factor]: v.value }, settings) };
  }
  return settings;
}

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
  why: `put back: ${value.why}`.slice(0, 600),
});

/** A value taken over from another pair: it must be confirmed here. */
export const copied = (value: Tuned, from: string, on: string): Tuned => ({
  ...value,
  on,
  state: 'shaken',
  shakenBy: `taken over from ${from}, not confirmed on this pair`.slice(0, 300),
});

/** What puts a value in force in the firmware, where anything does. */
const actions: Record<string, (value: number) => Action> = {
  'extruder-steps': (v) => ({ kind: 'steps', axes: { e: v } }),
  'pressure-advance': (v) => ({ kind: 'advance', value: v, tool: 0 }),
  acceleration: (v) => ({ kind: 'acceleration', print: v }),
  'corner-speed': (v) => ({ kind: 'limit', of: 'corner', axes: { x: v, y: v } }),
  'junction-deviation': (v) => ({ kind: 'limit', of: 'junction-deviation', axes: { x: v } }),
  'z-offset': (v) => ({ kind: 'offset', name: '', axes: { z: v }, adds: true }),
};

/** The firmware commands that put those values in force which live in the firmware. */
export function firmwareLines(values: readonly Tuned[], firmware: Firmware): string[] {
  return newest(values).flatMap(({ factor, value }) => {
    const v = rounded(value, 5);
    const { label } = dialects[firmware];
    if (factor === 'rotation-distance')
      return firmware === 'klipper'
        ? [`; in the configuration file, under [extruder]: rotation_distance: ${v}`]
        : [`; ${label} keeps steps/mm instead of a rotation distance of ${v} mm`];
    const action = actions[factor]?.(v);
    if (!action) return [];
    const line = lineFor(action, untold(firmware));
    if (line === undefined) return [`; ${label} keeps a rotation distance instead of ${v} steps/mm`];
    return [factor === 'z-offset' ? `${line} ; shifts the nozzle now; store it with the probe offset` : line];
  });
}

/** Two methods for one setting whose bands do not meet: both are said, with what to do; they are not averaged. */
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
    const methods = [...byMethod];
    for (let i = 0; i < methods.length; i++)
      for (const [other, b] of methods.slice(i + 1)) {
        const [method, a] = methods[i]!;
        if (Math.max(a.low, b.low) <= Math.min(a.high, b.high)) continue;
        found.push({
          factor,
          message: `Two methods disagree: ${method.toLowerCase()} says ${valueWords(a)}, ${other.toLowerCase()} ${valueWords(b)}. They are not averaged: repeat both on one day with the same filament, the shorter one first.`,
        });
      }
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

/** The tune sheet as CSV (RFC 4180); cells that a spreadsheet would run as formulas are quoted away. */
export function tuneSheetCsv(values: readonly Tuned[], names: Readonly<Record<string, string>> = {}): string {
  const cell = (text: string | number) => {
    const t = typeof text === 'number' ? String(text) : /^[=+@\t\r-]/.test(text) ? `'${text}` : text;
    return /[",\r\n]/.test(t) ? `"${t.replaceAll('"', '""')}"` : t;
  };
  const rows = newest(values).map((v) => {
    const f = factorOf(v.factor);
    const k = f?.shown ?? 1;
    return [
      f?.label ?? v.factor,
      names[v.factor] ?? '',
      f?.choices ? valueWords(v) : v.value * k,
      f?.unit ?? '',
      f?.choices ? '' : v.low * k,
      f?.choices ? '' : v.high * k,
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
  return ['setting,own name,value,unit,low,high,rule,state,date,trial,evidence,reason', ...rows].join('\r\n') + '\r\n';
}
