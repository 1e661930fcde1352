import { done, fault, refuse, rounded, show, type Result } from '#core/base';

/** A sweep as a person states it. */
export type Sweep =
  | { mode: 'steps'; from: number; to: number; step: number }
  | { mode: 'around'; middle: number; below: number; above: number; step: number }
  | { mode: 'list'; levels: number[] };

/** The levels of a sweep, with a remark where the step does not land on the end. */
export interface Levels {
  levels: number[];
  remark?: string;
}

/** At most so many levels stand on one axis. */
export const MOST_LEVELS = 24;

/**
 * The exact list of levels of a sweep.
 *
 * @example levelsOf({ mode: 'steps', from: 265, to: 230, step: 5 }, 'levels') // 265, 260, … 230
 */
export function levelsOf(sweep: Sweep, at: string): Result<Levels> {
  const clean = (v: number) => rounded(v, 6);
  if (sweep.mode === 'list') return checked(sweep.levels.map(clean), at);
  const step = Math.abs(sweep.step);
  if (!(step > 0) || !Number.isFinite(step)) {
    return refuse(fault('plan.step', `${at}.step`, 'the step is not above zero', 'give the distance of two levels'));
  }
  if (sweep.mode === 'around') {
    const n = sweep.below + sweep.above + 1;
    return checked(
      Array.from({ length: Math.min(n, MOST_LEVELS + 1) }, (_, i) => clean(sweep.middle + (i - sweep.below) * step)),
      at,
    );
  }
  const span = Math.abs(sweep.to - sweep.from);
  const count = Math.floor(span / step + 1e-9) + 1;
  if (!(count <= MOST_LEVELS)) {
    return refuse(
      fault(
        'plan.count',
        `${at}.step`,
        `${show(sweep.from)} to ${show(sweep.to)} by ${show(step)} is more than ${MOST_LEVELS} levels`,
        'take a larger step or a narrower sweep',
      ),
    );
  }
  const sign = sweep.to >= sweep.from ? 1 : -1;
  const levels = Array.from({ length: count }, (_, i) => clean(sweep.from + sign * i * step));
  const result = checked(levels, at);
  if (!result.ok) return result;
  const last = levels[levels.length - 1]!;
  return Math.abs(last - sweep.to) < 1e-6
    ? result
    : done({ levels, remark: `by ${show(step)} the sweep ends at ${show(last)}, not at ${show(sweep.to)}` });
}

function checked(levels: number[], at: string): Result<Levels> {
  if (levels.length > MOST_LEVELS) {
    return refuse(
      fault('plan.count', at, `${levels.length} levels are too many for one print`, `give at most ${MOST_LEVELS}`),
    );
  }
  if (levels.length < 1 || levels.some((v) => !Number.isFinite(v))) {
    return refuse(fault('plan.levels', at, 'there is no list of levels', 'give at least two figures'));
  }
  if (new Set(levels).size < levels.length) {
    return refuse(fault('plan.levels', at, 'a level stands there twice', 'give each level once'));
  }
  return done({ levels });
}

/** The sweep that gives these levels: steps where they are even, else the list. */
export function sweepOf(levels: readonly number[]): Sweep {
  const from = levels[0] ?? 0;
  const to = levels[levels.length - 1] ?? 0;
  const step = levels.length > 1 ? Math.abs(to - from) / (levels.length - 1) : 1;
  const even = levels.every((v, i) => Math.abs(v - (from + (Math.sign(to - from) || 1) * i * step)) < 1e-6);
  return even ? { mode: 'steps', from, to, step: rounded(step, 6) } : { mode: 'list', levels: [...levels] };
}
