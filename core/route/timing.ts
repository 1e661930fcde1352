import type { TrialRecord } from './record';

/** How long the prints of a printer take against what was planned for them. */
export interface Pace {
  /** Time taken ÷ time planned. */
  ratio: number;
  prints: number;
  /** They came off the practice printer. */
  practice: boolean;
}

/** So many prints, the newest, are looked at. */
const NEWEST = 10;
/** Beyond these something else happened: a print was left standing, or a clock set. */
const LEAST = 0.5;
const MOST = 2.5;

/**
 * How long the prints of a printer take against what was planned: the median of its newest prints that ran to their end
 * while they were watched. Practice prints count only where nothing else is known of it.
 */
export function paceOf(records: readonly TrialRecord[], printer: string): Pace | undefined {
  const all = records
    .filter((r) => r.trial.context.printer.id === printer)
    .flatMap((r) => r.prints)
    .flatMap(({ on, took, practice, bed }) => {
      // What was asked to go wrong is not the printer’s manner.
      const ratio = took?.planned && !bed?.mishaps ? took.time / took.planned : NaN;
      return ratio >= LEAST && ratio <= MOST ? [{ on, ratio, practice: practice === true }] : [];
    });
  const real = all.filter((p) => !p.practice);
  const own = (real.length > 0 ? real : all).sort((a, b) => a.on.localeCompare(b.on)).slice(-NEWEST);
  if (own.length === 0) return undefined;
  const ratios = own.map((p) => p.ratio).sort((a, b) => a - b);
  const middle = (ratios.length - 1) / 2;
  const ratio = (ratios[Math.floor(middle)]! + ratios[Math.ceil(middle)]!) / 2;
  return { ratio, prints: own.length, practice: real.length === 0 };
}
