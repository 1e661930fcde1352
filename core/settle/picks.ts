import { rounded, show } from '#core/base';
import { levelWords as wordsOf, type Factor } from '#core/factors';
import { qualityOf, type Order } from '#core/judge';
import type { Cell } from '#core/plan';
import type { LevelCost } from './costs';
import { crossingsOf, quantile, soundTo, type Response } from './response';
import {
  highestBeforeFault,
  isClean,
  lowestWithoutFault,
  middleOfCleanBand,
  PASS,
  type NoPick,
  type Pick,
} from './rules';
import type { CellScore } from './scores';
import type { Choice, Flag } from './settled';
import { partAt, shapeOf, type Study } from './study';

/** Half-way between a trace (3) and a fault (2). */
export const FAULT_AT = 2.5;

/** With this share of the drawn tops outside what is read, the best lies at the edge. */
const OUTSIDE = 0.31;

/** The nearest value that can be set. */
export const settable = (value: number, factor: Factor): number => nearestOf(value, factor.settable);

const nearestOf = (value: number, grain: number): number => rounded(Math.round(value / grain) * grain, 6);

/**
 * The nearest value that an answer may be: what can be set, but no finer, by powers of ten, than a tenth of the step between
 * the levels that it was found from.
 */
export function answered(value: number, factor: Factor, step: number): number {
  const powers = Math.floor(Math.log10(Math.max(1, Math.abs(step) / 10 / factor.settable)) + 1e-9);
  return nearestOf(value, factor.settable * 10 ** powers);
}

/** A quality that no level shows free of a fault lacks something else: a fall by so many points is what this factor does. */
export const FALL = 0.75;

/** Whether a rule looks for the highest level that is good. */
export const isLimit = (rule: string): boolean => rule === highestBeforeFault.id || rule.startsWith('less-');

/**
 * Below what each quality counts as failing: below a pass where this factor is said to spoil it. One of which nobody says
 * so, and that is poor from the start, does not speak by being poor but by getting poorer: weak layers of a cold nozzle
 * are no limit of its flow.
 */
function barsOf(read: readonly CellScore[], study: Study, factor: string, rule: string): Map<string, number> {
  return new Map(
    study.parts.map(({ track, response }) => {
      const named = shapeOf(track, factor) !== 'peak' || rule === middleOfCleanBand.id;
      const inOrder = read.map((s) => partAt(response, study.toX(s.level))).sort((a, b) => b - a);
      const better = inOrder.slice(0, Math.ceil(inOrder.length / 2));
      const usual = better.reduce((a, b) => a + b, 0) / better.length;
      return [track, named ? PASS : Math.min(PASS, usual - FALL)] as const;
    }),
  );
}

/**
 * Scores as rules by a fault take them. A fault that the levels around it speak against, by the curve through all of
 * them, was a slip. And what a too high value spoils is not mended by a higher one: a fault that is gone again at the
 * upper end is none that a limit is about.
 */
export function believed(read: readonly CellScore[], study: Study, factor: string, rule: string): CellScore[] {
  const curves = new Map(study.parts.map((p) => [p.track, (level: number) => partAt(p.response, study.toX(level))]));
  const bars = barsOf(read, study, factor, rule);
  return read.map((s) => ({
    ...s,
    byQuality: Object.fromEntries(
      Object.entries(s.byQuality).map(([track, q]) => {
        const slip = q.mean < PASS && (curves.get(track)?.(s.level) ?? 0) >= (bars.get(track) ?? PASS);
        const mended = isLimit(rule) && shapeOf(track, factor) === 'falling' && goneAbove(read, track, s.level);
        return [track, q.mean < PASS && (slip || mended) ? { ...q, mean: PASS } : q];
      }),
    ),
  }));
}

/** Whether the two highest levels, both above one, show no fault of a quality any more. */
function goneAbove(read: readonly CellScore[], track: string, level: number): boolean {
  const above = read.filter((s) => s.level > level + 1e-9 && s.byQuality[track]).sort((a, b) => b.level - a.level);
  const highest = [...new Map(above.map((s) => [s.level, s])).values()].slice(0, 2);
  const mean = highest.reduce((sum, s) => sum + s.byQuality[track]!.mean, 0) / highest.length;
  return highest.length === 2 && mean >= PASS;
}

/**
 * Where the first fault lies that a limit is about, by each draw: of all qualities that a too high value may spoil, the
 * one that fails first. In level steps; NaN where none fails within the grid.
 */
export function firstFaults(read: readonly CellScore[], study: Study, factor: string, rule: string): number[] {
  const bars = barsOf(read, study, factor, rule);
  const counted = study.parts.filter((p) => p.weight > 0 && shapeOf(p.track, factor) !== 'rising');
  const of = counted.map(({ track, response }) =>
    crossingsOf(response.grid, response.draws, Math.min(FAULT_AT, bars.get(track)!), true),
  );
  return Array.from({ length: of[0]?.length ?? 0 }, (_, d) => {
    const own = of.map((crossings) => crossings[d]!).filter((x) => !Number.isNaN(x));
    return own.length === 0 ? NaN : Math.min(...own);
  });
}

/** The quality whose fault decides a rule: of those that the value spoils on that side, the one that fails first. */
export function worstOf(study: Study, factor: string, rule: string): Response | undefined {
  const rises = rule === lowestWithoutFault.id;
  const own = study.parts.filter((p) => {
    const shape = shapeOf(p.track, factor);
    return p.weight > 0 && (rises ? shape === 'rising' : shape === 'falling');
  });
  const at = (r: Response) => quantile(crossingsOf(r.grid, r.draws, FAULT_AT), 0.5);
  return own
    .map((p) => p.response)
    .filter((r) => !Number.isNaN(at(r)))
    .sort((a, b) => (rises ? at(b) - at(a) : at(a) - at(b)))[0];
}

/** By less a curve through readings does not fall in earnest, score points. */
const NOISE = 0.25;

/**
 * The value of a rule that goes by a fault, moved to where the response is as good as ever with 98 %: at most a step
 * off the level that still looked good, which may have been luck. Of the lowest without a fault it is half a step at
 * least, where what lies above is clean: where threads begin is not the same in the next print (docs/choosing.md). A
 * rule with a margin of its own keeps it.
 */
export function keptClear(found: Pick, study: Study, worst: Response, rule: string, factor: Factor): Pick {
  const rises = rule === lowestWithoutFault.id;
  if (!rises && rule !== highestBeforeFault.id) return found;
  const sound = soundTo(worst.grid, worst.draws, rises ? -1 : 1, study.span);
  const at = study.toLevel(quantile(sound, rises ? 0.98 : 0.02));
  const step = study.toLevel(1) - study.toLevel(0);
  const inside = Math.min(study.toLevel(study.span), Math.max(study.toLevel(0), at));
  const [here, above] = [study.toX(found.value), study.toX(found.high)];
  const cleanAbove =
    rises &&
    found.low < found.value - 1e-9 &&
    found.high > found.value + 1e-9 &&
    study.parts.every(({ response: r }) => partAt(r, above) >= Math.min(FAULT_AT, partAt(r, here) - NOISE));
  const spared = found.value + (cleanAbove ? step / 2 : 0);
  const value = rises
    ? Math.min(found.value + step, Math.max(spared, inside))
    : Math.max(found.value - step, Math.min(found.value, inside));
  if (Math.abs(value - found.value) < factor.settable / 2) return found;
  return {
    ...found,
    value,
    low: Math.min(found.low, value),
    high: Math.max(found.high, value),
    why: `${found.why}; ${wordsOf(factor, settable(value, factor))} ${rises && inside <= spared ? 'is half a step above, since the next print is never quite the same' : 'keeps clear of it with 98 %'}`,
  };
}

/** The piece that is most likely best in the order by pairs; its band holds every piece that may be best too. */
export function mostPreferred(cells: readonly Cell[], factor: Factor, order: Order | undefined): Choice | Flag {
  if (!order || Math.max(...order.best) < 0.3)
    return {
      code: 'unread',
      message: order
        ? 'no piece is preferred clearly yet: answer more pairs'
        : 'no pair is answered yet; ask “which is better?” under Read',
      cells: [],
    };
  const top = order.order[0]!;
  const levels = cells.map((c) => c.levels[factor.id]!);
  const may = levels.filter((_, i) => order.best[i]! >= 0.1 || i === top);
  // Nothing lies between names, and no sweep of them has an edge.
  const named = factor.choices !== undefined;
  const [low, high] = named ? [levels[top]!, levels[top]!] : [Math.min(...may), Math.max(...may)];
  const edge = !named && (levels[top] === Math.min(...levels) || levels[top] === Math.max(...levels));
  return {
    factor: factor.id,
    choice: levels[top]!,
    low,
    high,
    interval95: [low, high],
    rule: 'most-preferred',
    why: `in pairs ${wordsOf(factor, levels[top]!)} is the best piece with ${show(100 * order.best[top]!, 0)} %${edge ? '; it stands at the edge of the sweep, so extend it to be sure' : ''}`,
  };
}

/** Levels whose scores lie no further apart, in points, are as good as one another. */
export const TIE = 0.1;
/** A level is cheaper where it takes less by at least this share of time, or of filament in the same time. */
export const SAVES = 0.02;

/** By how much a level is cheaper than another: of time, else of filament; undefined where it is not. */
function saving(
  of: LevelCost,
  than: LevelCost,
  { feeds }: Factor,
): { share: number; what: 'time' | 'filament' } | undefined {
  const [time, mass] = [1 - of.time / than.time, 1 - of.mass / than.mass];
  if (time >= SAVES && mass > -SAVES) return { share: time, what: 'time' };
  // A line that is fed less is thinner: that is what is judged, and no saving.
  if (feeds) return undefined;
  return Math.abs(time) < SAVES && mass >= SAVES ? { share: mass, what: 'filament' } : undefined;
}

/**
 * The pick, or the cheapest level that is as good within a tenth of a point: between equals the cheaper is taken, and that
 * is said.
 *
 * @param mean the combined score at a level
 */
export function cheaperOfEqual(
  pick: Pick,
  read: readonly CellScore[],
  costs: readonly LevelCost[],
  factor: Factor,
  mean: (level: number) => number,
): Pick {
  const cost = new Map(costs.map((c) => [c.cell, c]));
  const known = read.filter((s) => cost.has(s.cell));
  const nearest = [...known].sort((a, b) => Math.abs(a.level - pick.value) - Math.abs(b.level - pick.value))[0];
  if (!nearest) return pick;
  const best = Math.max(mean(pick.value), mean(nearest.level));
  const equal = known.flatMap((s) => {
    const by = s === nearest ? undefined : saving(cost.get(s.cell)!, cost.get(nearest.cell)!, factor);
    return by && best - mean(s.level) <= TIE ? [{ ...s, by }] : [];
  });
  const cheapest = equal.sort((a, b) => cost.get(a.cell)!.time - cost.get(b.cell)!.time)[0];
  if (!cheapest) return pick;
  const { share, what } = cheapest.by;
  return {
    ...pick,
    value: cheapest.level,
    low: Math.min(pick.low, cheapest.level),
    high: Math.max(pick.high, cheapest.level),
    why: `${pick.why}; ${wordsOf(factor, cheapest.level)} is as good within a tenth of a point and takes ${show(100 * share, 0)} % less ${what} than ${wordsOf(factor, nearest.level)}`,
  };
}

/** Where no level differs visibly and all pass, the cheapest is the answer; undefined where they cost the same. */
export function cheapestOfFlat(
  read: readonly CellScore[],
  costs: readonly LevelCost[],
  factor: Factor,
): Pick | undefined {
  const cost = new Map(costs.map((c) => [c.cell, c]));
  if (read.length < 2 || !read.every((s) => isClean(s) && cost.has(s.cell))) return undefined;
  const dearest = read.reduce((a, b) => (cost.get(b.cell)!.time > cost.get(a.cell)!.time ? b : a));
  const found = cheapest(read, costs, factor);
  if ('code' in found) return undefined;
  const own = read.find((s) => s.level === found.value)!;
  return saving(cost.get(own.cell)!, cost.get(dearest.cell)!, factor) ? found : undefined;
}

/** The level that takes least time, then least filament, among those that pass. */
export function cheapest(read: readonly CellScore[], costs: readonly LevelCost[], factor: Factor): Pick | NoPick {
  const of = new Map(costs.map((c) => [c.cell, c]));
  const passing = read.filter((s) => isClean(s) && of.has(s.cell));
  if (passing.length === 0)
    return {
      code: 'nothing-clean',
      message:
        costs.length === 0
          ? 'what each level costs is not known until the file is made'
          : 'no level passes on every quality read',
      toward: 'both',
      cells: [],
    };
  const cost = (s: CellScore) => of.get(s.cell)!;
  const best = passing.reduce((a, b) => {
    const [x, y] = [cost(a), cost(b)];
    const sooner = y.time < x.time - 0.005 * x.time;
    const alike = Math.abs(y.time - x.time) <= 0.005 * x.time;
    return sooner || (alike && y.mass < x.mass) ? b : a;
  });
  const levels = passing.map((s) => s.level);
  const { time, mass } = cost(best);
  return {
    value: best.level,
    low: Math.min(...levels),
    high: Math.max(...levels),
    why: `of the ${passing.length} that pass, ${wordsOf(factor, best.level)} takes least: ${show(time / 60, 1)} min and ${show(mass, 2)} g`,
    cells: passing.map((s) => s.cell),
  };
}

/** The mean of drawn curves at every place of their grid, none below `least`. */
const meansOf = (draws: readonly Float64Array[], least: number): Float64Array =>
  draws[0]!.map((_, k) => draws.reduce((sum, d) => sum + Math.min(4.3, Math.max(least, d[k]!)), 0) / draws.length);

const topOf = (values: Float64Array): number => {
  let best = 0;
  for (let i = 1; i < values.length; i++) if (values[i]! > values[best]! + 1e-9) best = i;
  return best;
};

/** Why the value is there, in words: also where more would be scored, but something fails. */
function highestThere({ parts, grid, toLevel, span }: Study, plain: Float64Array, top: number, factor: Factor): string {
  const own = `${show(Math.min(4, plain[top]!), 1)} of 4`;
  const swept = plain.map((v, k) => (grid[k]! < -1e-9 || grid[k]! > span + 1e-9 ? -1 : v));
  const highest = topOf(swept);
  if (swept[highest]! - plain[top]! <= TIE) return `the combined score is highest there, ${own}`;
  const fails = parts
    .filter((p) => p.weight > 0)
    .map((p) => ({ track: p.track, score: partAt(p.response, grid[highest]!) }))
    .sort((a, b) => a.score - b.score)[0]!;
  const [there, name] = [wordsOf(factor, settable(toLevel(grid[highest]!), factor)), qualityOf(fails.track)?.label];
  return `the combined score is ${own} there; at ${there} it is ${show(Math.min(4, swept[highest]!), 1)}, but ${name ?? fails.track} fails, and no look outweighs that`;
}

/** The level where the combined score is highest and nothing has failed that others do not fail in, with its uncertainty. */
export function bestCombined(
  read: readonly CellScore[],
  study: Study,
  tops: readonly number[],
  step: number,
  factor: Factor,
  whole: boolean,
): Pick | NoPick {
  const { grid, together, ranked, toX, toLevel } = study;
  const last = read.length - 1;
  const [from, to] = [toX(read[0]!.level), toX(read[last]!.level)];
  const below = tops.filter((t) => t < from).length / tops.length;
  const above = tops.filter((t) => t > to).length / tops.length;
  // Only what has failed lies below 0.
  const mean = meansOf(ranked, -4);
  const plain = meansOf(together, 0);
  const top = topOf(mean);
  const x = grid[top]!;
  if (below + above > OUTSIDE || x < from || x > to) {
    const low = below > above || x < from;
    return {
      code: 'at-the-edge',
      message: `the best lies at the edge of ${whole ? 'the sweep' : 'what is read'}, ${wordsOf(factor, read[low ? 0 : last]!.level)}`,
      toward: low ? 'lower' : 'higher',
      cells: [read[low ? 0 : last]!.cell],
    };
  }
  const near = mean[top]! - 0.25;
  let i = top;
  let j = top;
  while (i > 0 && mean[i - 1]! >= near) i--;
  while (j < mean.length - 1 && mean[j + 1]! >= near) j++;
  // The band is never narrower than what bands of one step can tell.
  const low = Math.min(toLevel(grid[i]!), toLevel(x) - step / 2);
  const high = Math.max(toLevel(grid[j]!), toLevel(x) + step / 2);
  const cells = read.filter((s) => s.level >= low - 1e-9 && s.level <= high + 1e-9).map((s) => s.cell);
  return {
    value: toLevel(x),
    low: Math.max(toLevel(from), low),
    high: Math.min(toLevel(to), high),
    why: `${highestThere(study, plain, top, factor)}; within a quarter point of it from ${wordsOf(factor, settable(low, factor))} to ${wordsOf(factor, settable(high, factor))}`,
    cells,
  };
}
