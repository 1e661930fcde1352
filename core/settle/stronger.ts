import { levelWords as wordsOf, type Factor } from '#core/factors';
import { qualityOf } from '#core/judge';
import { settable, TIE } from './picks';
import type { Pick } from './rules';
import { partAt, type Study } from './study';

/** A quality that is better by so many points is worth another level that is as good in all. */
export const WORTH = 0.15;

/**
 * The pick, or the level beside it that is as good within a tenth of a point, and better in a quality of which this factor
 * is the last word, where that quality counts at all: what is laid faster or cooler than the specimen takes more of it, and no later stop gives it back.
 */
export function strongerOfEqual(pick: Pick, { parts, grid, ranked, span, toX, toLevel }: Study, factor: Factor): Pick {
  const part = parts.find((p) => p.weight > 0 && qualityOf(p.track)?.lasts?.includes(factor.id));
  if (!part) return pick;
  const at = toX(pick.value);
  const least = partAt({ grid, draws: ranked }, at) - TIE;
  const inside = [...grid].filter((x) => x >= -1e-9 && x <= span + 1e-9);
  const way = (xs: number[]): number[] => {
    const end = xs.findIndex((x) => partAt({ grid, draws: ranked }, x) < least);
    return end < 0 ? xs : xs.slice(0, end);
  };
  const equal = [...way(inside.filter((x) => x > at)), ...way(inside.filter((x) => x < at).reverse())].sort(
    (a, b) => Math.abs(a - at) - Math.abs(b - at),
  );
  const own = (x: number) => partAt(part.response, x);
  const most = equal.reduce((m, x) => Math.max(m, own(x)), own(at));
  // Not further than it takes: where it holds about as much as anywhere, beyond is nothing to gain.
  const enough = Math.max(own(at) + WORTH, most - WORTH);
  const best = most >= own(at) + WORTH ? equal.find((x) => own(x) >= enough)! : at;
  const value = settable(toLevel(best), factor);
  if (best === at || Math.abs(value - pick.value) < factor.settable / 2) return pick;
  return {
    ...pick,
    value,
    low: Math.min(pick.low, value),
    high: Math.max(pick.high, value),
    why: `${pick.why}; ${wordsOf(factor, value)} is as good within a tenth of a point, and better in ${qualityOf(part.track)!.label}`,
  };
}
