import { areaOf, difference, EdgeGrid, medialLines, offset, opened, type Point, type Polygon } from '#core/geometry';

/** A line along a slim part, with its own width at each point, mm. A closed one repeats its first point. */
export interface ThinLine {
  points: Point[];
  widths: number[];
  closed: boolean;
}

/** What of a region is too slim for two lines, and the rest. */
export interface Parted {
  body: Polygon[];
  thin: Polygon[];
}

/** Corners leave specks behind when they are cut square; they are no slim parts. */
const SPECK = 0.35;

/** Parts a region into what is at least `two` mm thick and what is slimmer. */
export function parted(region: readonly Polygon[], two: number): Parted {
  const body = opened(region, two * 0.999);
  if (areaOf(region) - areaOf(body) < SPECK * two * two * 0.25) return { body: [...region], thin: [] };
  const thin = difference(region, body).filter(
    (p) => areaOf([p]) > SPECK * two * two * 0.25 && opened([p], 0.08 * two).length > 0,
  );
  return thin.length === 0 ? { body: [...region], thin } : { body, thin };
}

/**
 * Single lines through slim parts, as wide as the part; where a part is too thick for one line, two narrower ones
 * around it.
 *
 * @param least parts slimmer than this are left out; between it and `floor` the line is `floor` wide
 * @param most the widest single line, mm
 */
export function thinLines({ thin, body }: Parted, least: number, floor: number, most: number): ThinLine[] {
  const lines: ThinLine[] = [];
  const through = new EdgeGrid(body);
  for (const part of thin) {
    const medial = medialLines([part], Math.max(0.05, floor / 3), through);
    const length = medial.reduce((sum, l) => sum + lengthOfLine(l.points), 0);
    const mean = length > 0 ? areaOf([part]) / (length + 0.5 * floor) : 0;
    if (mean > most) {
      for (const { outer, holes } of offset([part], -mean / 4)) {
        for (const ring of [outer, ...holes]) {
          const points = [...ring, ring[0]!];
          lines.push({ points, widths: points.map(() => mean / 2), closed: true });
        }
      }
      continue;
    }
    for (const line of medial) {
      let from = -1;
      for (let i = 0; i <= line.points.length; i++) {
        const wide = i < line.points.length && line.widths[i]! >= least;
        if (wide && from < 0) from = i;
        if (wide || from < 0) continue;
        const points = line.points.slice(from, i);
        const widths = line.widths.slice(from, i).map((w) => Math.min(most * 1.2, Math.max(floor, w)));
        const whole = points.length === line.points.length;
        if (points.length > 1 && lengthOfLine(points) > 0.5 * floor)
          lines.push({ points, widths, closed: whole && line.closed });
        from = -1;
      }
    }
  }
  return lines;
}

function lengthOfLine(points: readonly Point[]): number {
  let sum = 0;
  for (let i = 1; i < points.length; i++) {
    sum += Math.hypot(points[i]!.x - points[i - 1]!.x, points[i]!.y - points[i - 1]!.y);
  }
  return sum;
}
