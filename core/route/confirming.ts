import type { Reading } from '#core/judge';
import type { Cell } from '#core/plan';
import { verdictOf, weightsFor, type Verdict } from '#core/settle';
import { planned, type Moved } from '#core/trial';
import type { TrialRecord } from './record';
import { newest, valueWords, type Tuned } from './tune-sheet';

/** What a confirmation holds against one another: one setting, or two that move together. */
export const movedIn = ({ factor, old, new: now, also }: NonNullable<TrialRecord['confirms']>): Moved[] => [
  { factor, old, new: now },
  ...(also ? [also] : []),
];

/** The values of several settings, old or new, in words. */
export const movedWords = (moved: readonly Moved[], which: 'old' | 'new'): string =>
  moved.map((m) => valueWords({ factor: m.factor, value: m[which] })).join(', ');

/** The values with the newest one of a factor confirmed: steady, with what the confirmation showed. */
export function steadied(values: readonly Tuned[], factor: string, why: string): Tuned[] {
  const now = newest(values).find((v) => v.factor === factor);
  return values.map((v) =>
    v === now ? { ...v, state: 'steady', shakenBy: undefined, why: `${v.why}; confirmed: ${why}`.slice(0, 600) } : v,
  );
}

/** The old value of a factor, to be in force again since the confirmation spoke for it; nothing where none stands. */
export function reverted(
  values: readonly Tuned[],
  factor: string,
  old: number,
  why: string,
  on: string,
): Tuned | undefined {
  const now = newest(values).find((v) => v.factor === factor);
  if (!now) return undefined;
  const before = values.findLast((v) => v.factor === factor && v !== now && Math.abs(v.value - old) < 1e-9);
  const { shakenBy: _, shakenFor: __, ...rest } = before ?? now;
  return {
    ...rest,
    value: old,
    low: before?.low ?? old,
    high: before?.high ?? old,
    interval95: before?.interval95 ?? [old, old],
    rule: 'confirmation',
    why: `put back by the confirmation: ${why}`.slice(0, 600),
    on,
    state: 'settled',
  };
}

/** How a confirmation stands by what was read of it; undefined where a record is none, or is not printed. */
export function verdictIn(record: TrialRecord, cells: readonly Cell[]): Verdict | undefined {
  const { confirms } = record;
  if (!confirms || record.prints.length === 0) return undefined;
  const at = (which: 'old' | 'new') =>
    cells.find((c) => movedIn(confirms).every((m) => Math.abs(c.levels[m.factor]! - m[which]) < 1e-6))?.id ?? -1;
  return verdictOf(
    { old: at('old'), new: at('new') },
    record.readings,
    record.pairs ?? [],
    weightsFor(confirms.factor, record.weights),
  );
}

/** Readings beside those of a trial that speak of the same levels. */
export interface Beside {
  cells: readonly Cell[];
  readings: readonly Reading[];
  /** Of a trial that this one goes on from: its title. */
  title?: string;
  /** Of a confirmation: the value that it put back. */
  putBack?: { factor: string; value: number };
}

/**
 * Readings of a confirmation as they count in the trial: as two looks, since both values were held against one another on
 * one print and judged blind. A single look would pass for a slip among the neighbours of its level.
 */
export const blindly = (readings: readonly Reading[]): Reading[] => [...readings, ...readings];

/** Trials that are followed back at most. */
const MOST_BACK = 8;

/**
 * What else was read for the answer of a trial: the trials that it goes on from, and confirmations that put an old value
 * back, of it or of those. A confirmation that held says nothing new, and one of two settings cannot tell them apart.
 *
 * @param all the records of the pair
 */
export function readBeside(record: TrialRecord, all: readonly TrialRecord[]): Beside[] {
  const cellsIn = ({ trial }: TrialRecord): readonly Cell[] => {
    const plan = planned(trial);
    return plan.ok ? plan.value.cells : [];
  };
  const found: Beside[] = [];
  const own = [record.id];
  for (let at = record.after; at !== undefined && found.length < MOST_BACK;) {
    const before = all.find((r) => r.id === at);
    const cells = before ? cellsIn(before) : [];
    if (!before || cells.length === 0) break;
    found.push({ cells, readings: before.readings, title: before.trial.title });
    own.push(before.id);
    at = before.after;
  }
  for (const other of all) {
    const { confirms, settledOn } = other;
    if (!confirms || confirms.also || settledOn === undefined || !own.includes(confirms.trial)) continue;
    // Answers to “which is better?” decide between two values, and tell nothing of a level by itself.
    if (other.readings.length === 0) continue;
    const cells = cellsIn(other);
    if (verdictIn(other, cells)?.state === 'reverted')
      found.push({
        cells,
        readings: blindly(other.readings),
        putBack: { factor: confirms.factor, value: confirms.old },
      });
  }
  return found;
}
