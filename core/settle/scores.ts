import { qualityOf, scoreOf, type Reading } from '#core/judge';
import type { Cell } from '#core/plan';

/** How much each quality counts; 1 where nothing is said. */
export type Weights = Record<string, number>;

/** The scores of a cell: by quality, and together by the weights. */
export interface CellScore {
  cell: number;
  level: number;
  byQuality: Record<string, { mean: number; n: number }>;
  together: number | undefined;
  /** The same on the curve through all levels, where there is one: what the value is chosen by. */
  smoothed?: number;
  /** Readings behind `together`. */
  n: number;
  broke: boolean;
}

/** Scores of all cells from the readings that are not excluded, levels ascending. Void cells are left out. */
export function cellScores(
  cells: readonly Cell[],
  factor: string,
  readings: readonly Reading[],
  weights: Weights,
  voids: readonly number[],
): CellScore[] {
  const used = readings.filter((r) => r.excluded === undefined && qualityOf(r.track) !== undefined);
  return cells
    .filter((c) => !voids.includes(c.id))
    .map((cell) => {
      const byQuality: CellScore['byQuality'] = {};
      let broke = false;
      for (const r of used) {
        if (!r.cells.includes(cell.id)) continue;
        if (r.value === 'broke') broke = true;
        const score = scoreOf(r.value);
        if (score === undefined) continue;
        const q = (byQuality[r.track] ??= { mean: 0, n: 0 });
        q.mean = (q.mean * q.n + score) / (q.n + 1);
        q.n++;
      }
      let sum = 0;
      let weight = 0;
      let n = 0;
      for (const [track, q] of Object.entries(byQuality)) {
        const w = weights[track] ?? 1;
        sum += q.mean * w;
        weight += w;
        n += w > 0 ? q.n : 0;
      }
      return {
        cell: cell.id,
        level: cell.levels[factor]!,
        byQuality,
        together: weight > 0 ? sum / weight : undefined,
        n,
        broke,
      };
    })
    .sort((a, b) => a.level - b.level);
}

/** Variance of a single score: noise of sd half a point, and its rounding to a whole one. */
const NOISE = 0.25 + 1 / 12;

/** The variance that the readings of a cell leave to its score together, points². */
export function varianceOf({ byQuality }: CellScore, weights: Weights): number {
  const own = Object.entries(byQuality).map(([track, q]) => ({ w: weights[track] ?? 1, n: q.n }));
  const sum = own.reduce((s, t) => s + t.w, 0);
  return own.reduce((s, t) => s + (t.w * t.w * NOISE) / t.n, 0) / (sum * sum);
}

/**
 * Whether scores differ by no more than their errors: Cochran's Q (1954) below a point of χ² with one degree less than
 * scores (Wilson and Hilferty 1931).
 *
 * @param z the normal deviate of that point; that of 95 % where left out
 */
export function alike(scores: readonly { mean: number; variance: number }[], z = 1.6449): boolean {
  if (scores.length < 2) return true;
  const weight = scores.reduce((sum, s) => sum + 1 / s.variance, 0);
  const mean = scores.reduce((sum, s) => sum + s.mean / s.variance, 0) / weight;
  const q = scores.reduce((sum, s) => sum + (s.mean - mean) ** 2 / s.variance, 0);
  const freedom = scores.length - 1;
  const spread = 2 / (9 * freedom);
  return q < freedom * (1 - spread + z * Math.sqrt(spread)) ** 3;
}
