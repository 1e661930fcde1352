import { rounded } from '#core/base';
import type { Point, Polygon, Ring } from '#core/geometry';

/** A length in path data. */
export const f = (v: number): string => String(rounded(v, 3));

/** A box as SVG path data, mm. */
export const boxPath = (x0: number, y0: number, x1: number, y1: number): string =>
  `M${f(x0)} ${f(y0)}H${f(x1)}V${f(y1)}H${f(x0)}Z`;

/** An open or closed line as SVG path data. */
export const linePath = (points: readonly Point[], closed = false): string =>
  `M${points.map((p) => `${f(p.x)} ${f(p.y)}`).join('L')}${closed ? 'Z' : ''}`;

/** Polygons as SVG path data. */
export const polygonPath = (polygons: readonly Polygon[]): string =>
  polygons
    .flatMap((p) => [p.outer, ...p.holes])
    .map((ring) => linePath(ring, true))
    .join('');

/** SVG path data moved by (dx, dy); knows M, L, H, V, A, Z with absolute figures. */
export function movedPath(path: string, dx: number, dy: number): string {
  return path.replace(/([MLHVA])([^MLHVAZ]*)/g, (_, command: string, args: string) => {
    const n = args
      .trim()
      .split(/[\s,]+/)
      .map(Number);
    if (command === 'H') return `H${f(n[0]! + dx)}`;
    if (command === 'V') return `V${f(n[0]! + dy)}`;
    const last = n.length - 2;
    return command + n.map((v, i) => f(i === last ? v + dx : i === last + 1 ? v + dy : v)).join(' ');
  });
}

/** Polygons moved by (x, y). */
export const movedBy = (polygons: readonly Polygon[], x: number, y: number): Polygon[] => {
  const move = (p: Point): Point => ({ x: p.x + x, y: p.y + y });
  return polygons.map((p) => ({ outer: p.outer.map(move), holes: p.holes.map((h) => h.map(move)) }));
};

/** One line to and fro over a rectangle, edge to edge. */
export function rasterOf(box: Ring, step: number): Point[] {
  const [a, , c] = box as [Point, Point, Point];
  const count = Math.max(2, Math.round((c.x - a.x) / step));
  const pitch = (c.x - a.x) / count;
  return Array.from({ length: count }, (_, i) => {
    const x = a.x + (i + 0.5) * pitch;
    const [from, to] = i % 2 === 0 ? [a.y, c.y] : [c.y, a.y];
    return [
      { x, y: from },
      { x, y: to },
    ];
  }).flat();
}
