import { show } from '#core/base';
import { factorOf, levelWords } from '#core/factors';
import { counted, type Measure, type Reading } from '#core/judge';
import type { Planned } from '#core/trial';
import { toldIn } from './bars';
import { studentOf } from './compare';
import type { LevelCost } from './costs';
import type { Choice, Flag } from './settled';

/** A quantity with its direction, as far as choosing goes by it. */
export type Quantity = Pick<Measure, 'id' | 'label' | 'unit' | 'better' | 'error'>;

/** What is measured on a level: its mean with a 95 % interval, of so many readings. */
export interface LevelMeasure {
  cell: number;
  label: string;
  levels: Record<string, number>;
  mean: number;
  n: number;
  half: number;
}

/** What quantities say of a trial: the curve over its levels, values, plain answers. */
export interface QuantityAnswer {
  quantity: Quantity;
  /** The unit of the figures: MPa of the loads of bars. */
  unit: string;
  levels: LevelMeasure[];
  choices: Choice[];
  flags: Flag[];
}

/** Where each level is measured once, its spread is taken to be this share of it, or the instrument’s error. */
export const SPREAD_UNKNOWN = 0.05;
/** Costs that differ by less are the same. */
const SAME_COST = 0.01;

/** The mean of a quantity on each level, with Student’s interval by the spread of all levels together. */
export function measuredLevels(
  plan: Pick<Planned, 'trial' | 'cells'>,
  said: readonly Reading[],
  quantity: Quantity,
): LevelMeasure[] {
  const told = toldIn(plan.trial, said, quantity);
  const own = plan.cells.map((cell) => ({
    cell,
    values: counted(said).flatMap((r) =>
      r.track === quantity.id && r.cells.includes(cell.id) && typeof r.value === 'number'
        ? [r.value * told.factor(cell.id)]
        : [],
    ),
  }));
  const read = own.filter((o) => o.values.length > 0).map((o) => ({ ...o, mean: meanOf(o.values) }));
  const freedom = read.reduce((n, o) => n + o.values.length - 1, 0);
  const squares = read.reduce((sum, o) => sum + o.values.reduce((s, v) => s + (v - o.mean) ** 2, 0), 0);
  return read.map(({ cell, values, mean }) => {
    const error = quantity.error * told.factor(cell.id);
    const sd =
      freedom > 0 ? Math.max(Math.sqrt(squares / freedom), error) : Math.max(error, SPREAD_UNKNOWN * Math.abs(mean));
    const t = freedom > 0 ? studentOf(freedom) : 1.96;
    return {
      cell: cell.id,
      label: cell.label,
      levels: cell.levels,
      mean,
      n: values.length,
      half: (t * sd) / Math.sqrt(values.length),
    };
  });
}

/**
 * The level that a measured quantity decides: the best; where several cannot be told apart, the cheapest of them; where
 * so much is asked, the cheapest that surely has it.
 *
 * @param enough what is enough, in the unit that is shown (MPa of bars); left out, the most or the least is best
 */
export function settleQuantity(
  plan: Planned,
  said: readonly Reading[],
  quantity: Quantity,
  costs: readonly LevelCost[],
  enough?: number,
): QuantityAnswer {
  const levels = measuredLevels(plan, said, quantity);
  const { unit } = toldIn(plan.trial, said, quantity);
  const none = { quantity, unit, levels, choices: [], flags: [] };
  if (levels.length < 2 || quantity.better === 'neither' || plan.trial.axes.length === 0) return none;
  const up = quantity.better === 'more';
  const sign = up ? 1 : -1;
  const figure = (l: LevelMeasure) => amount(quantity, l.mean, unit, l.half);
  const asked = (v: number) => amount(quantity, v, unit);
  const cheapest = (of: readonly LevelMeasure[]) => cheapestOf(of, costs);
  if (quantity.unit === 'yes/no') return yesNo(plan, none, cheapest);
  if (enough !== undefined) {
    const surely = levels.filter((l) => sign * l.mean - l.half >= sign * enough);
    const pick = cheapest(surely);
    if (!pick)
      return {
        ...none,
        flags: [
          {
            code: 'nothing-clean',
            message: `no level surely has ${up ? 'at least' : 'at most'} ${asked(enough)}: the best, ${words(plan, bestOf(levels, sign))}, has ${figure(bestOf(levels, sign))}`,
            cells: levels.map((l) => l.cell),
          },
        ],
      };
    return {
      ...none,
      choices: choicesOf(
        plan,
        pick.level,
        surely,
        `it has ${figure(pick.level)}, surely ${up ? 'at least' : 'at most'} ${asked(enough)}${pick.why}`,
      ),
    };
  }
  const best = bestOf(levels, sign);
  const alike = levels.filter((l) => Math.abs(l.mean - best.mean) <= Math.hypot(l.half, best.half));
  const all = alike.length === levels.length;
  const pick = cheapest(alike)!;
  const of =
    alike.length > 1
      ? `${alike.length === levels.length ? 'all levels' : `${alike.length} levels`} cannot be told apart from the best, ${words(plan, best)} with ${figure(best)}`
      : `${up ? 'the most' : 'the least'}: ${figure(best)}`;
  return {
    ...none,
    choices: choicesOf(plan, pick.level, alike, `${of}${alike.length > 1 ? pick.why : ''}`),
    flags: all
      ? [
          {
            code: 'no-visible-difference',
            message: `${quantity.label} does not tell the levels apart: ${show(Math.min(...levels.map((l) => l.mean)), 2)} to ${show(Math.max(...levels.map((l) => l.mean)), 2)} ${unit}, each ± ${show(Math.max(...levels.map((l) => l.half)), 2)}`,
            cells: [],
          },
        ]
      : [],
  };
}

/** Leaks and the like: what has none passes, and the cheapest of those is enough. */
function yesNo(
  plan: Planned,
  none: QuantityAnswer,
  cheapest: (of: readonly LevelMeasure[]) => { level: LevelMeasure; why: string } | undefined,
): QuantityAnswer {
  const good = none.quantity.better === 'less' ? 0 : 1;
  const passes = none.levels.filter((l) => l.mean === good);
  const pick = cheapest(passes);
  if (!pick)
    return {
      ...none,
      flags: [
        {
          code: 'nothing-clean',
          message: `every level has ${none.quantity.label}`,
          cells: none.levels.map((l) => l.cell),
        },
      ],
    };
  const which =
    passes.length === none.levels.length
      ? `no level has ${none.quantity.label}`
      : `${passes.length} of ${none.levels.length} levels have no ${none.quantity.label}`;
  return { ...none, choices: choicesOf(plan, pick.level, passes, `${which}${pick.why}`) };
}

const meanOf = (v: readonly number[]): number => v.reduce((a, b) => a + b, 0) / v.length;
const bestOf = (levels: readonly LevelMeasure[], sign: number): LevelMeasure =>
  levels.reduce((a, b) => (sign * b.mean > sign * a.mean ? b : a));

const amount = (q: Quantity, value: number, unit: string, half?: number): string =>
  `${show(value, 2)}${half === undefined ? '' : ` ± ${show(half, 2)}`} ${unit}`.trim();

const words = ({ trial }: Planned, l: LevelMeasure): string =>
  trial.axes
    .flatMap((a) => {
      const f = factorOf(a.factor);
      return f ? [levelWords(f, l.levels[a.factor]!)] : [];
    })
    .join(', ');

/** The level of least time, of filament where times are alike; without costs the first. */
function cheapestOf(
  of: readonly LevelMeasure[],
  costs: readonly LevelCost[],
): { level: LevelMeasure; why: string } | undefined {
  const [first] = of;
  if (!first) return undefined;
  const cost = new Map(costs.map((c) => [c.cell, c]));
  const known = of.filter((l) => cost.has(l.cell));
  if (known.length < 2)
    return { level: first, why: of.length > 1 ? '; the first of them, since what they cost is not known' : '' };
  const less = (a: LevelMeasure, b: LevelMeasure) => {
    const [x, y] = [cost.get(a.cell)!, cost.get(b.cell)!];
    return Math.abs(x.time - y.time) > SAME_COST * Math.max(x.time, y.time) ? x.time - y.time : x.mass - y.mass;
  };
  return { level: [...known].sort(less)[0]!, why: '; the cheapest of them by time and filament' };
}

function choicesOf({ trial }: Planned, level: LevelMeasure, among: readonly LevelMeasure[], why: string): Choice[] {
  return trial.axes.map(({ factor }) => {
    const value = level.levels[factor]!;
    const named = factorOf(factor)?.choices !== undefined;
    const others = named ? [value] : among.map((l) => l.levels[factor]!);
    const [low, high] = [Math.min(value, ...others), Math.max(value, ...others)];
    return { factor, choice: value, low, high, interval95: [low, high], rule: 'measured', why };
  });
}
