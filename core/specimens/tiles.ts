import type { Point } from '#core/geometry';
import { adhesionReach, type Settings } from '#core/settings';

/** Air between tiles that are printed layer by layer, mm. */
const AIR = 5;

/**
 * Middles of equal tiles in a near-square field, in reading order: from the back left to the front right.
 *
 * Printed one after the other, the head must pass beside a finished tile: pitch = size + clearance, where the clearance
 * is the radius of the head and what is laid around the tile.
 */
export function tilesOf(
  count: number,
  size: { width: number; depth: number },
  s: Settings,
  headRadius: number,
): Point[] {
  const around = adhesionReach(s);
  const clearance = s.arrangement === 'one after the other' ? headRadius + 2 * around + 1 : AIR + 2 * around;
  const pitchX = size.width + clearance;
  const pitchY = size.depth + clearance;
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
  const rows = Math.ceil(count / columns);
  return Array.from({ length: count }, (_, i) => ({
    x: ((i % columns) - (Math.min(columns, count) - 1) / 2) * pitchX,
    y: ((rows - 1) / 2 - Math.floor(i / columns)) * pitchY,
  }));
}
