import { listed, show } from '#core/base';
import { qualities, qualityOf, scoreOf, type Reading } from '#core/judge';
import type { Cell } from '#core/plan';

/** How much each quality counts; 1 where nothing is said. */
export type Weights = Record<string, number>;

/** Weights with what each quality counts where a factor is settled: what a later stop sets right counts less here. */
export const weightsFor = (factor: string, weights: Weights): Weights => ({
  ...weights,
  ...Object.fromEntries(
    qualities.flatMap(({ id, counts }) => {
      const own = counts?.[factor];
      return own ? [[id, own.as * (weights[id] ?? 1)] as const] : [];
    }),
  ),
});

/** Which of some qualities count less where a factor is settled, and since when they will be set right, in words. */
export function countsLess(factor: string, tracks: readonly string[]): string {
  const less = tracks.flatMap((id) => {
    const quality = qualityOf(id);
    const own = quality?.counts?.[factor];
    return quality && own ? [{ label: quality.label, ...own }] : [];
  });
  if (less.length === 0) return '';
  const since = [...new Set(less.map((l) => l.since))];
  return `${listed(less.map((l) => l.label))} ${less.length === 1 ? 'counts' : 'count'} × ${show(less[0]!.as)} here: ${listed(since)} can still set ${less.length === 1 ? 'it' : 'them'} right`;
}

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

/** Below this a quality has failed: between “broke” or 1 and a fault that one can live with. */
export const FAILED = 1.75;

/** Variance of a single score: noise of sd half a point, and its rounding to a whole one. */
export const SCORE_VARIANCE = 0.25 + 1 / 12;

/** The variance that the readings of a cell leave to its score together, points². */
export function varianceOf({ byQuality }: CellScore, weights: Weights): number {
  const own = Object.entries(byQuality).map(([track, q]) => ({ w: weights[track] ?? 1, n: q.n }));
  const sum = own.reduce((s, t) => s + t.w, 0);
  return own.reduce((s, t) => s + (t.w * t.w * SCORE_VARIANCE) / t.n, 0) / (sum * sum);
}

/**
 * Whether scores differ by no more than their errors: Cochran's Q (1954) below a point of χ² with one degree less than
 * scores.
 *
 * @param z the normal deviate of that point; that of 95 % where left out
 */
export function alike(scores: readonly { mean: number; variance: number }[], z = 1.6449): boolean {
  if (scores.length < 2) return true;
  const weight = scores.reduce((sum, s) => sum + 1 / s.variance, 0);
  const mean = scores.reduce((sum, s) => sum + s.mean / s.variance, 0) / weight;
  const q = scores.reduce((sum, s) => sum + (s.mean - mean) ** 2 / s.variance, 0);
  return q < chiSquare(scores.length - 1, z);
}

/** A point of χ² by its normal deviate (Wilson and Hilferty 1931). */
export function chiSquare(freedom: number, z: number): number {
  const spread = 2 / (9 * freedom);
  return freedom * (1 - spread + z * Math.sqrt(spread)) ** 3;
}
