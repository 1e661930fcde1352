import type { Point } from '#core/geometry';
import type { Axis } from '#core/plan';
import { adhesionReach, type Settings } from '#core/settings';

/** Air between tiles that are printed layer by layer, mm. */
const AIR = 5;

/**
 * What stays free between what stands on the bed, mm: printed one after the other, the head must pass beside what is
 * finished, the radius of the head and what is laid around each.
 */
export function airBetween(s: Settings, headRadius: number): number {
  const around = adhesionReach(s);
  return s.arrangement === 'one after the other' ? headRadius + 2 * around + 1 : AIR + 2 * around;
}

/**
 * Middles of equal tiles in a near-square field, in reading order: from the back left to the front right. Two factors
 * that are both laid out as tiles make a field of rows and columns.
 */
export function tilesOf(
  count: number,
  size: { width: number; depth: number },
  s: Settings,
  headRadius: number,
  axes: readonly Axis[] = [],
): Point[] {
  const clearance = airBetween(s, headRadius);
  const pitchX = size.width + clearance;
  const pitchY = size.depth + clearance;
  const field = axes.length === 2 && axes.every((a) => a.along === 'tile') ? axes[1]!.levels.length : undefined;
  const columns = field ?? nearSquare(count, pitchX, pitchY);
  const rows = Math.ceil(count / columns);
  return Array.from({ length: count }, (_, i) => ({
    x: ((i % columns) - (Math.min(columns, count) - 1) / 2) * pitchX,
    y: ((rows - 1) / 2 - Math.floor(i / columns)) * pitchY,
  }));
}

function nearSquare(count: number, pitchX: number, pitchY: number): number {
  let columns = 1;
  let best = Infinity;
  for (let n = 1; n <= count; n++) {
    const wide = n * pitchX;
    const deep = Math.ceil(count / n) * pitchY;
    if (Math.max(wide, deep) < best - 1e-9) {
      best = Math.max(wide, deep);
      columns = n;
    }
  }
  return columns;
}
