import { done, type Job } from '#core/base';
import { printFile, type Traits } from '#core/lab';
import { make } from '#core/make';
import { weightsFor, type LevelCost, type Weights } from '#core/settle';
import { planned, type Planned, type Trial } from '#core/trial';
import { responseOf, together } from './clear';
import { truthOf } from './read';

/** What a settled value and the best there is come to on a piece that has both: quality 0–4 without any noise. */
export interface Price {
  settled: number;
  best: number;
}

/** A best value is given to so many figures: nobody types more. */
const FIGURES = 3;

/** The trial with two levels of one factor and the middle one of every other, all on one print where it has several. */
function pairOf(trial: Trial, factor: string, levels: readonly [number, number]): Trial {
  const middle = (of: readonly number[]) => of[Math.floor(of.length / 2)]!;
  const axes = trial.axes
    .filter((a) => a.factor === factor || trial.axes.length > 1)
    .map(({ also, ...a }) => ({
      ...a,
      kind: 'step' as const,
      levels: a.factor === factor ? [...levels] : [middle(a.levels)],
      ...(also && {
        also: { ...also, levels: a.factor === factor ? levels.map(() => middle(also.levels)) : [middle(also.levels)] },
      }),
    }));
  return { ...trial, axes };
}

/**
 * What a settled value of a trial costs against the best: its specimen with these two levels alone, made and printed on
 * the practice printer. Refused where that cannot be made; undefined where the eye tells nothing of it, or each level
 * would be a print of its own.
 *
 * @param weights of the person, as they settle by them
 */
export function* priceOf(
  trial: Trial,
  { factor, settled, best }: { factor: string; settled: number; best: number },
  traits: Traits,
  weights: Weights = {},
): Job<Price | undefined> {
  const other = Number(best.toPrecision(FIGURES));
  // Within the rounding of a level nothing is lost.
  if (Math.abs(other - settled) < 1e-9) return done({ settled: 4, best: 4 });
  if (trial.axes.some((a) => a.along === 'print')) return done(undefined);
  const qualities = { settled: 0, best: 0 };
  // In both orders: a foot, a top, what was printed just before count for each alike.
  for (const levels of [
    [settled, other],
    [other, settled],
  ] as const) {
    const two = pairOf(trial, factor, levels);
    const plan = planned(two);
    if (!plan.ok) return plan;
    const made = yield* make(two);
    if (!made.ok) return made;
    const { file } = made.value;
    const printed = yield* printFile(file.bytes, trial.context, traits);
    if (!printed.ok) return printed;
    const truth = truthOf(printed.value, plan.value, file.bytes);
    for (const [which, level] of [
      ['settled', settled],
      ['best', other],
    ] as const) {
      const cell = plan.value.cells.find((c) => Math.abs(c.levels[factor]! - level) < 1e-9)?.id;
      const at = truth.find((t) => t.cell === cell);
      const quality = at && together(responseOf(two, at.amounts, printed.value), weightsFor(factor, weights));
      if (quality === undefined) return done(undefined);
      qualities[which] += quality / 2;
    }
  }
  return done(qualities);
}

/** Cells that are compared, at least. */
const FEWEST = 2;

/**
 * What a cell with one level takes more than one with another, by the cells of the trial’s own file, between which it is
 * read: s, g. The lowest and highest of a stack hold its foot and its top, and are left out; undefined where too few
 * cells are left, or several factors vary.
 */
export function costBetween(
  { trial, cells }: Planned,
  costs: readonly LevelCost[],
  factor: string,
  [from, to]: readonly [number, number],
): { time: number; mass: number } | undefined {
  if (trial.axes.length !== 1) return undefined;
  const stacked = trial.axes[0]!.along === 'height';
  const own = (stacked ? cells.slice(1, -1) : cells)
    .flatMap(({ id, levels }) => {
      const cost = costs.find((c) => c.cell === id);
      const level = levels[factor];
      return cost && level !== undefined ? [{ level, time: cost.time, mass: cost.mass }] : [];
    })
    .sort((a, b) => a.level - b.level);
  if (own.length < FEWEST) return undefined;
  const at = (level: number, of: 'time' | 'mass'): number => {
    const above = own.findIndex((c) => c.level >= level);
    if (above <= 0) return own.at(above)![of];
    const [p, q] = [own[above - 1]!, own[above]!];
    return p[of] + ((q[of] - p[of]) * (level - p.level)) / (q.level - p.level);
  };
  return { time: at(to, 'time') - at(from, 'time'), mass: at(to, 'mass') - at(from, 'mass') };
}
