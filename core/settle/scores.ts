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
