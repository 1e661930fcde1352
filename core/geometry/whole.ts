import { inRing, ringArea } from './measure';
import { ringsOf, type Point, type Polygon, type Ring } from './shapes';

/** Whole numbers to a millimetre: rings are worked on in tenths of a micrometre. */
export const SCALE = 1e4;
const LIMIT = 1e5;

/** A ring in whole numbers, {@link SCALE} to a millimetre. */
export type WholeRing = Point[];

function toWhole(p: Point): Point {
  if (!(Math.abs(p.x) <= LIMIT && Math.abs(p.y) <= LIMIT))
    throw new RangeError(`point ${p.x}, ${p.y} is outside ±${LIMIT} mm`);
  return { x: Math.round(p.x * SCALE), y: Math.round(p.y * SCALE) };
}

/** Removes duplicate, collinear and spike corners until none is left; fewer than three points is no ring. */
export function cleaned(path: WholeRing): WholeRing | undefined {
  let ring = path;
  for (;;) {
    const kept: Point[] = [];
    const n = ring.length;
    for (let i = 0; i < n; i++) {
      const p = ring[i]!;
      const a = kept[kept.length - 1] ?? ring[n - 1]!;
      const b = ring[(i + 1) % n]!;
      if (p.x === a.x && p.y === a.y) continue;
      // Of two corners in one place the first stays: round the end of the ring both would go.
      const twice = p.x === b.x && p.y === b.y;
      if (!twice && (p.x - a.x) * (b.y - p.y) - (p.y - a.y) * (b.x - p.x) === 0) continue;
      kept.push(p);
    }
    if (kept.length < 3) return undefined;
    if (kept.length === n) return kept;
    ring = kept;
  }
}

/** The rings of polygons in whole numbers, cleaned. @throws RangeError for a point that is no place */
export function wholeRings(polygons: readonly Polygon[]): WholeRing[] {
  const rings: WholeRing[] = [];
  for (const ring of ringsOf(polygons)) {
    const clean = cleaned(ring.map(toWhole));
    if (clean) rings.push(clean);
  }
  return rings;
}

/** A ring that ends at its lowest corner, the leftmost of these: the same ring is the same list, wherever it began. */
export function fromLowest(ring: WholeRing): WholeRing {
  let lowest = 0;
  for (let i = 1; i < ring.length; i++) {
    const [p, q] = [ring[i]!, ring[lowest]!];
    if (p.y < q.y || (p.y === q.y && p.x < q.x)) lowest = i;
  }
  return [...ring.slice(lowest + 1), ...ring.slice(0, lowest + 1)];
}

/** Groups rings into polygons: rings of positive area are outlines, the others holes of the smallest around them. */
export function fromWhole(rings: readonly WholeRing[]): Polygon[] {
  const outers: { polygon: Polygon; area: number }[] = [];
  const holes: Ring[] = [];
  for (const whole of rings) {
    const clean = cleaned(whole);
    if (!clean) continue;
    const ring = clean.map((p) => ({ x: p.x / SCALE, y: p.y / SCALE }));
    const area = ringArea(ring);
    if (Math.abs(area) < 1e-6) continue;
    if (area > 0) outers.push({ polygon: { outer: ring, holes: [] }, area });
    else holes.push(ring);
  }
  if (holes.length > 0) {
    const bySize = [...outers].sort((a, b) => a.area - b.area);
    for (const hole of holes) {
      const size = -ringArea(hole);
      const around = bySize.find((o) => o.area > size && ringMostlyIn(hole, o.polygon.outer));
      if (around) around.polygon.holes.push(hole);
    }
  }
  return outers.map((o) => o.polygon);
}

/** So many corners of a hole tell in which outline it lies. */
const WITNESSES = 15;

function ringMostlyIn(hole: Ring, outer: Ring): boolean {
  const n = Math.min(hole.length, WITNESSES);
  let inside = 0;
  for (let k = 0; k < n; k++) {
    const p = hole[Math.floor((k * hole.length) / n)]!;
    if (inRing(outer, p.x, p.y)) inside++;
  }
  return inside * 2 > n || (inside > 0 && hole.length < 4);
}
