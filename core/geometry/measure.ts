import { ringsOf, type Box, type Point, type Polygon, type Polyline, type Ring } from './shapes';

/** Signed area of a ring, mm²; positive when it turns left. */
export function ringArea(ring: Ring): number {
  let twice = 0;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const a = ring[j]!;
    const b = ring[i]!;
    twice += a.x * b.y - b.x * a.y;
  }
  return twice / 2;
}

/** Area of polygons less their holes, mm². */
export const areaOf = (polygons: readonly Polygon[]): number =>
  polygons.reduce(
    (sum, p) => sum + Math.abs(ringArea(p.outer)) - p.holes.reduce((s, h) => s + Math.abs(ringArea(h)), 0),
    0,
  );

/** Length of an open line, mm. */
export function lengthOf(line: Polyline): number {
  let sum = 0;
  for (let i = 1; i < line.length; i++) sum += distance(line[i - 1]!, line[i]!);
  return sum;
}

/** Distance of two points, mm. */
export const distance = (a: Point, b: Point): number => Math.hypot(a.x - b.x, a.y - b.y);

/** The box around points; `undefined` for none. */
export function boxOf(points: Iterable<Point>): Box | undefined {
  let box: Box | undefined;
  for (const { x, y } of points) {
    if (!box) box = { x0: x, y0: y, x1: x, y1: y };
    if (x < box.x0) box.x0 = x;
    if (x > box.x1) box.x1 = x;
    if (y < box.y0) box.y0 = y;
    if (y > box.y1) box.y1 = y;
  }
  return box;
}

/** The box around polygons; `undefined` for none. */
export const boundsOf = (polygons: readonly Polygon[]): Box | undefined => boxOf(polygons.flatMap((p) => p.outer));

/** Whether two boxes are no further apart than this, mm. */
export const boxesMeet = (a: Box, b: Box, by = 0): boolean =>
  a.x0 <= b.x1 + by && a.x1 >= b.x0 - by && a.y0 <= b.y1 + by && a.y1 >= b.y0 - by;

/** Whether a point lies in a ring, by crossings with half-open edges. */
export function inRing(ring: Ring, x: number, y: number): boolean {
  let inside = false;
  for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
    const a = ring[i]!;
    const b = ring[j]!;
    if (a.y > y !== b.y > y && x < ((b.x - a.x) * (y - a.y)) / (b.y - a.y) + a.x) inside = !inside;
  }
  return inside;
}

/** Whether a point lies in any of the polygons (holes left out). */
export function inPolygons(polygons: readonly Polygon[], x: number, y: number): boolean {
  for (const p of polygons) {
    if (inRing(p.outer, x, y) && !p.holes.some((h) => inRing(h, x, y))) return true;
  }
  return false;
}

/** Distance from a point to the segment a–b, mm. */
export function distanceToSegment(p: Point, a: Point, b: Point): number {
  const dx = b.x - a.x;
  const dy = b.y - a.y;
  const square = dx * dx + dy * dy;
  const t = square === 0 ? 0 : Math.max(0, Math.min(1, ((p.x - a.x) * dx + (p.y - a.y) * dy) / square));
  return Math.hypot(p.x - a.x - t * dx, p.y - a.y - t * dy);
}

/** Distance from a point to the nearest edge of polygons, mm; Infinity for none. */
export function distanceToEdges(polygons: readonly Polygon[], p: Point): number {
  let best = Infinity;
  for (const ring of ringsOf(polygons)) {
    for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
      best = Math.min(best, distanceToSegment(p, ring[j]!, ring[i]!));
    }
  }
  return best;
}
