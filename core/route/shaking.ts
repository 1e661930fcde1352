import { variedIn } from '#core/plan';
import type { Context, Printer } from '#core/context';
import { factorOf, levelInForce, levelWords, mattersOf } from '#core/factors';
import type { Settings } from '#core/settings';
import type { Trial } from '#core/trial';
import { causes, shakenStops, stopOfFactor, stops } from './stops';
import { newest, type Tuned } from './tune-sheet';

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
    'fan hardware': differ(
      (p) => p.fanLeast,
      (p) => p.fanSpinUp,
    ),
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

/** The factors whose move can shake a value of a factor: of all stops that its stop rests on or is touched by. */
export function restedOn(factor: string): string[] {
  const own = stopOfFactor(factor);
  if (!own) return [];
  const beneath = stops.filter((s) => shakenStops(s.id).includes(own)).flatMap((s) => s.factors);
  return [...beneath, ...(own.leansOn ?? []).map((l) => l.factor)];
}

/** The levels of all that a factor rests on, as settings and printer have them. */
export const conditionsOf = (factor: string, settings: Settings, printer: Printer): Record<string, number> =>
  Object.fromEntries(
    restedOn(factor).flatMap((id) => {
      const f = factorOf(id);
      const level = f && levelInForce(f, settings, printer);
      return level === undefined ? [] : [[id, level]];
    }),
  );

/** The conditions under which a trial finds a factor; what it varies itself is none. */
export function conditionsIn(factor: string, { context, baseline, frozen, axes }: Trial): Record<string, number> {
  const varied = new Set(variedIn(axes));
  const all = conditionsOf(factor, { ...baseline, ...frozen }, context.printer);
  return Object.fromEntries(Object.entries(all).filter(([id]) => !varied.has(id)));
}

/** A factor of which another level is in force than before. */
export interface Move {
  factor: string;
  /** Undefined where nobody knows it. */
  before: number | undefined;
  after: number;
}

/**
 * The values after a factor moved: one that was found at a level too far from the new one is shaken, with the sentence why;
 * one that such a move had shaken stands again when the level is back.
 */
export function shakenByMove(values: readonly Tuned[], { factor, before, after }: Move, context: Context): Tuned[] {
  const [moved, stop] = [factorOf(factor), stopOfFactor(factor)];
  if (!moved || !stop) return [...values];
  const hit = new Set(shakenStops(stop.id));
  const latest = new Set(newest(values));
  const matters = mattersOf(moved, context);
  return values.map((v) => {
    const found = v.under?.[factor] ?? before;
    const own = stopOfFactor(v.factor);
    if (!latest.has(v) || found === undefined || !own) return v;
    const by = hit.has(own) ? matters : own.leansOn?.find((l) => l.factor === factor)?.by;
    if (by === undefined) return v;
    if (Math.abs(found - after) <= by * (1 + 1e-9)) {
      if (v.shakenFor !== factor) return v;
      const { shakenBy: _, shakenFor: __, ...rest } = v;
      return { ...rest, state: 'settled' as const };
    }
    // What another cause has shaken keeps that cause.
    if (v.state === 'shaken' && v.shakenFor !== factor) return v;
    const why = `${moved.label} moving to ${levelWords(moved, after)}; this was found at ${levelWords(moved, found)}`;
    return { ...v, state: 'shaken' as const, shakenFor: factor, shakenBy: why.slice(0, 300) };
  });
}
