import { ClipType, FillRule, type Paths64 } from 'clipper2-ts/dist/Core.js';
import { Clipper64 } from 'clipper2-ts/dist/Engine.js';
import { ClipperOffset, EndType, JoinType } from 'clipper2-ts/dist/Offset.js';
import { Delaunay, TriangulateResult } from 'clipper2-ts/dist/Triangulation.js';
import { bordering, standApart, type Kept } from './apart';
import { ringArea } from './measure';
import { growsBack, MITRE, mitred } from './mitre';
import type { Polygon, Ring } from './shapes';
import { fromLowest, fromWhole, SCALE, wholeRings } from './whole';

export { MITRE };

// The one door over the clipping library. Most of what is asked needs none: rings that shrink without running into one
// another are shifted, and of rings that do not meet it is enough to know what lies in what.

const keeps = new Map<ClipType, Kept>([
  [ClipType.Union, (a, b) => a !== 0 || b !== 0],
  [ClipType.Difference, (a, b) => a !== 0 && b === 0],
  [ClipType.Intersection, (a, b) => a !== 0 && b !== 0],
]);

function boolean(type: ClipType, subject: readonly Polygon[], clip: readonly Polygon[]): Polygon[] {
  const a = wholeRings(subject);
  const b = wholeRings(clip);
  const all = [...a, ...b];
  if (standApart(all)) return fromWhole(bordering(all, a.length, keeps.get(type)!).map(fromLowest));
  const engine = new Clipper64();
  if (a.length > 0) engine.addSubject(a);
  if (b.length > 0) engine.addClip(b);
  const solution: Paths64 = [];
  if (!engine.execute(type, FillRule.NonZero, solution)) throw new Error('clipping failed');
  return fromWhole(solution);
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
  const rings = wholeRings(polygons);
  const own = join === 'mitre' ? mitred(rings, by) : undefined;
  return own ? fromWhole(own.map(fromLowest)) : offsetByLibrary(rings, by, join);
}

function offsetByLibrary(rings: Paths64, by: number, join: Join): Polygon[] {
  const engine = new ClipperOffset(MITRE, 0.005 * SCALE);
  engine.addPaths(rings, join === 'round' ? JoinType.Round : JoinType.Miter, EndType.Polygon);
  const solution: Paths64 = [];
  engine.execute(by * SCALE, solution);
  return fromWhole(solution);
}

/** Removes what is thinner than `width` mm. */
export function opened(polygons: readonly Polygon[], width: number): Polygon[] {
  const rings = wholeRings(polygons);
  const own = mitred(rings, -width / 2);
  if (own && growsBack(rings, own)) return [...polygons];
  const left = own ? fromWhole(own.map(fromLowest)) : offsetByLibrary(rings, -width / 2, 'mitre');
  return offset(left, width / 2);
}

/** Polygons as triangles that turn left. @throws Error where rings cross one another */
export function triangulated(polygons: readonly Polygon[]): Ring[] {
  const { result, solution } = new Delaunay(true).execute(wholeRings(polygons));
  if (result !== TriangulateResult.success) throw new Error('what crosses itself cannot be taken apart');
  return solution.map((path) => {
    const ring = path.map((p) => ({ x: p.x / SCALE, y: p.y / SCALE }));
    return ringArea(ring) < 0 ? ring.reverse() : ring;
  });
}
