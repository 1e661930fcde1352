import { areaOf, lengthOf, offset, type Point, type Polygon } from '#core/geometry';
import { lines } from './lines';
import type { Pattern } from './pattern';

/** Infill patterns by id; a new one is a file and a line here. */
export const patterns: Record<string, Pattern> = { lines };

/**
 * Sparse infill of an honest density: the spacing is solved so that the lines with their connections have
 * density × area of the inner region.
 *
 * @param inner the region inside the walls, mm
 * @param solidSpacing of lines that would fill the plane, mm
 * @param overlap how far lines reach into the walls, mm
 */
export function sparseFill(
  pattern: Pattern,
  inner: readonly Polygon[],
  density: number,
  solidSpacing: number,
  overlap: number,
  layer: number,
): Point[][] {
  if (density <= 0) return [];
  const area = offset(inner, -(solidSpacing / 2 - overlap));
  const target = (density * areaOf(inner)) / solidSpacing;
  let spacing = solidSpacing / density;
  let best: Point[][] = [];
  let bestError = Infinity;
  for (let pass = 0; pass < 4; pass++) {
    const found = pattern.lines(area, spacing, layer);
    const length = found.reduce((sum, line) => sum + lengthOf(line), 0);
    const error = Math.abs(length / target - 1);
    if (error < bestError) {
      bestError = error;
      best = found;
    }
    if (error < 0.005 || length === 0) break;
    spacing *= Math.min(2, Math.max(0.5, length / target));
  }
  return best;
}
