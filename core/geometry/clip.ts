import { ClipType, FillRule, type Path64, type Paths64 } from 'clipper2-ts/dist/Core.js';
import { Clipper64 } from 'clipper2-ts/dist/Engine.js';
import { ClipperOffset, EndType, JoinType } from 'clipper2-ts/dist/Offset.js';
import { Delaunay, TriangulateResult } from 'clipper2-ts/dist/Triangulation.js';
import { inRing, ringArea } from './measure';
import { ringsOf, type Point, type Polygon, type Ring } from './shapes';

// The one door over the clipping library: integers rounded here, rings cleaned before every operation.
const SCALE = 1e4;
const LIMIT = 1e5;

function toInteger(p: Point): Point {
  if (!(Math.abs(p.x) <= LIMIT && Math.abs(p.y) <= LIMIT))
    throw new RangeError(`point ${p.x}, ${p.y} is outside ±${LIMIT} mm`);
  return { x: Math.round(p.x * SCALE), y: Math.round(p.y * SCALE) };
}

/** Removes duplicate, collinear and spike corners until none is left; fewer than three points is no ring. */
function cleaned(path: Point[]): Path64 | undefined {
  let ring = path;
  for (;;) {
    const kept: Point[] = [];
    const n = ring.length;
    for (let i = 0; i < n; i++) {
      const p = ring[i]!;
      const a = kept[kept.length - 1] ?? ring[n - 1]!;
      const b = ring[(i + 1) % n]!;
      if (p.x === a.x && p.y === a.y) continue;
      if ((p.x - a.x) * (b.y - p.y) - (p.y - a.y) * (b.x - p.x) === 0) continue;
      kept.push(p);
    }
    if (kept.length < 3) return undefined;
    if (kept.length === n) return kept;
    ring = kept;
  }
}

function toPaths(polygons: readonly Polygon[]): Paths64 {
  const paths: Paths64 = [];
  for (const ring of ringsOf(polygons)) {
    const path = cleaned(ring.map(toInteger));
    if (path) paths.push(path);
  }
  return paths;
}

/** Groups rings into polygons: rings of positive area are outlines, the others holes of the smallest around them. */
function fromPaths(paths: Paths64): Polygon[] {
  const outers: { polygon: Polygon; area: number }[] = [];
  const holes: Ring[] = [];
  for (const path of paths) {
    const clean = cleaned(path);
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

function boolean(type: ClipType, subject: readonly Polygon[], clip: readonly Polygon[]): Polygon[] {
  const engine = new Clipper64();
  const a = toPaths(subject);
  const b = toPaths(clip);
  if (a.length > 0) engine.addSubject(a);
  if (b.length > 0) engine.addClip(b);
  const solution: Paths64 = [];
  if (!engine.execute(type, FillRule.NonZero, solution)) throw new Error('clipping failed');
  return fromPaths(solution);
}

/** What lies in any of the polygons. */
export const union = (polygons: readonly Polygon[]): Polygon[] =>
  polygons.length === 0 ? [] : boolean(ClipType.Union, polygons, []);

/** What lies in `a` and not in `b`. */
export function difference(a: readonly Polygon[], b: readonly Polygon[]): Polygon[] {
  if (a.length === 0) return [];
  if (b.length === 0) return [...a];
  return boolean(ClipType.Difference, a, b);
}

/** What lies in both. */
export const intersection = (a: readonly Polygon[], b: readonly Polygon[]): Polygon[] =>
  a.length === 0 || b.length === 0 ? [] : boolean(ClipType.Intersection, a, b);

/** How the corners of an offset are joined. */
export type Join = 'mitre' | 'round';

/**
 * Grows (positive) or shrinks (negative) polygons.
 *
 * @param by mm
 * @param join mitre (limit 2) keeps corners sharp, round follows arcs within 5 µm
 */
export function offset(polygons: readonly Polygon[], by: number, join: Join = 'mitre'): Polygon[] {
  if (polygons.length === 0) return [];
  if (by === 0) return [...polygons];
  const engine = new ClipperOffset(2, 0.005 * SCALE);
  engine.addPaths(toPaths(polygons), join === 'round' ? JoinType.Round : JoinType.Miter, EndType.Polygon);
  const solution: Paths64 = [];
  engine.execute(by * SCALE, solution);
  return fromPaths(solution);
}

/** Removes what is thinner than `width` mm. */
export const opened = (polygons: readonly Polygon[], width: number): Polygon[] =>
  offset(offset(polygons, -width / 2), width / 2);

/** Polygons as triangles that turn left. @throws Error where rings cross one another */
export function triangulated(polygons: readonly Polygon[]): Ring[] {
  const { result, solution } = new Delaunay(true).execute(toPaths(polygons));
  if (result !== TriangulateResult.success) throw new Error('what crosses itself cannot be taken apart');
  return solution.map((path) => {
    const ring = path.map((p) => ({ x: p.x / SCALE, y: p.y / SCALE }));
    return ringArea(ring) < 0 ? ring.reverse() : ring;
  });
}
