import { duration, show } from '#core/base';
import { PASS } from './rules';
import type { CellScore, Weights } from './scores';

/** What a level costs by the planner: time s, filament g. */
export interface LevelCost {
  cell: number;
  time: number;
  mass: number;
}

/** A level in the trade-off of quality against time and filament. */
export interface Trade extends LevelCost {
  level: number;
  /** The score together, 0–4; on the curve through all levels where there is one. */
  quality: number;
  passes: boolean;
  /** No other level is at least as good in everything and better in something. */
  pareto: boolean;
}

/** A quarter more than the least costs one point of a weighed cost. */
const PER_POINT = 0.25;

/** Costs that differ by less are the same: the planner is no surer. */
const ALIKE = 0.01;

/** A cost as a score: 4 for the cheapest level, a point less for every 25 % more, never below 0. */
export const costScore = (cost: number, least: number): number =>
  least > 0 ? Math.max(0, 4 - (cost / least - 1) / PER_POINT) : 4;

/** The costs that are weighed, each cell's as a score. */
export function weighedCosts(
  costs: readonly LevelCost[],
  weights: Weights,
): { weight: number; score: Map<number, number> }[] {
  if (costs.length < 2) return [];
  return (['time', 'mass'] as const).flatMap((key) => {
    const weight = weights[key === 'time' ? 'time' : 'filament'] ?? 0;
    const least = Math.min(...costs.map((c) => c[key]));
    return weight > 0 ? [{ weight, score: new Map(costs.map((c) => [c.cell, costScore(c[key], least)])) }] : [];
  });
}

/** What passes, and what no other level beats: quality up, time and filament down (Pareto). */
export function tradeOff(scores: readonly CellScore[], costs: readonly LevelCost[]): Trade[] {
  const of = new Map(costs.map((c) => [c.cell, c]));
  const all = scores.flatMap((s) => {
    const cost = of.get(s.cell);
    return s.together === undefined || !cost
      ? []
      : [{ ...cost, level: s.level, quality: s.smoothed ?? s.together, passes: s.together >= PASS && !s.broke }];
  });
  const beats = (a: (typeof all)[number], b: (typeof all)[number]) =>
    a.quality >= b.quality - 1e-9 &&
    a.time <= b.time * (1 + ALIKE) &&
    a.mass <= b.mass * (1 + ALIKE) &&
    (a.quality > b.quality + 1e-9 || a.time < b.time * (1 - ALIKE) || a.mass < b.mass * (1 - ALIKE));
  return all.map((b) => ({ ...b, pareto: !all.some((a) => a !== b && beats(a, b)) }));
}

/** What each further gain in quality costs, from the cheapest level no other beats up to the best, in words. */
export function gains(trades: readonly Trade[], words: (level: number) => string): string[] {
  const front = trades.filter((t) => t.pareto).sort((a, b) => a.quality - b.quality || a.time - b.time);
  return front.slice(1).flatMap((b, i) => {
    const a = front[i]!;
    const more = b.quality - a.quality;
    if (more < 0.05) return [];
    const cost = [
      ...(Math.abs(b.time - a.time) >= 1 ? [`${signed(b.time - a.time, (v) => duration(v))}`] : []),
      ...(Math.abs(b.mass - a.mass) >= 0.005 ? [`${signed(b.mass - a.mass, (v) => `${show(v, 2)} g`)}`] : []),
    ];
    return [
      `${words(a.level)} → ${words(b.level)}: ${show(more, 1)} points more ${cost.length > 0 ? `for ${cost.join(' and ')}` : 'at no cost'}`,
    ];
  });
}

const signed = (v: number, say: (v: number) => string) => `${v < 0 ? '−' : '+'}${say(Math.abs(v))}`;
