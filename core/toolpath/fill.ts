import { extentAcross, hatch, offset, type Point, type Polygon } from '#core/geometry';
import { zigzags } from './chain';

/** Lines that fill an area, and the distance at which they lie, mm. */
export interface Fill {
  lines: Point[][];
  spacing: number;
}

const EDGE = 0.002;

/**
 * Fills an area solidly with lines at an angle. The spacing is widened or narrowed by a hair, so that a whole number
 * of lines fits across each part, and the cross-section follows it: the volume comes out exact.
 *
 * @param area up to the edges of the neighbouring lines
 * @param spacing of lines that fill the plane, mm
 * @param overlap how far the lines reach into the neighbours, mm
 */
export function solidFill(area: readonly Polygon[], angle: number, spacing: number, overlap: number): Fill[] {
  const fills: Fill[] = [];
  for (const part of offset(area, -(spacing / 2 - overlap))) {
    const [low, high] = extentAcross([part], angle);
    const width = high - low - 2 * EDGE;
    const gaps = Math.max(0, Math.round(width / spacing));
    if (gaps === 0) {
      const line = hatch([part], angle, 1000, (low + high) / 2 / 1000);
      fills.push({ lines: line.map((l) => [l.a, l.b]), spacing });
      continue;
    }
    const exact = width / gaps;
    const rows = hatch([part], angle, exact, (low + EDGE) / exact - Math.floor((low + EDGE) / exact));
    fills.push({ lines: zigzags(rows, [part], exact * 2.5), spacing: exact });
  }
  return fills;
}
