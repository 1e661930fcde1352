import { areaOf, boxOf, difference, intersection, ringsOf, solid, type Point, type Polygon } from '#core/geometry';
import type { FillLine } from './fill';
import { restLines } from './rests';

/** How far from where an edge turns its crescent reaches across the rows, in spacings. */
const DEEP = 1.2;
/** An edge that leaves the rows faster than this is pointed: nothing stays open beside it. In spacings along them. */
const BROAD = 2.5;
/** Smaller open spots close by themselves, in squares of the spacing. */
const OPEN = 0.3;

/**
 * Lines for what rows leave open where a curved edge runs along them for a while: beside a round slot, at the ends of a
 * disc.
 *
 * @param area up to the edges of the neighbouring lines
 * @param middles where the middles of lines may lie
 * @param angle of the rows, degrees
 */
export function crescents(
  area: readonly Polygon[],
  middles: readonly Polygon[],
  lines: readonly FillLine[],
  angle: number,
  spacing: number,
): FillLine[] {
  const boxes = turnsOf(middles, angle, spacing);
  if (boxes.length === 0) return [];
  const laid = lines.flatMap((line) => bandsNear(line, boxes, spacing));
  const open = difference(intersection(area, boxes.map(solid)), laid).filter(
    (p) => areaOf([p]) > OPEN * spacing * spacing,
  );
  return restLines({ thin: open, body: [] }, spacing);
}

/** Boxes, along the rows, round the places where an edge turns back broadly. */
function turnsOf(middles: readonly Polygon[], angle: number, spacing: number): Point[][] {
  const cos = Math.cos((angle * Math.PI) / 180);
  const sin = Math.sin((angle * Math.PI) / 180);
  const found: Point[][] = [];
  for (const ring of ringsOf(middles)) {
    const n = ring.length;
    const along = ring.map((p) => p.x * cos + p.y * sin);
    const across = ring.map((p) => p.y * cos - p.x * sin);
    /** Where the edge has left the height of a corner, and to which side. */
    const left = (from: number, step: number): { u: number; side: number } | undefined => {
      for (let k = 1; k < n; k++) {
        const i = (from + k * step + k * n) % n;
        const d = across[i]! - across[from]!;
        if (Math.abs(d) < DEEP * spacing) continue;
        // Part of the last edge is still near.
        const j = (i - step + n) % n;
        const before = across[j]! - across[from]!;
        const share = (Math.sign(d) * DEEP * spacing - before) / (d - before);
        return { u: along[j]! + (along[i]! - along[j]!) * share, side: Math.sign(d) };
      }
      return undefined;
    };
    for (let i = 0; i < n; i++) {
      const [a, b] = [across[(i + n - 1) % n]!, across[(i + 1) % n]!];
      const v = across[i]!;
      if (!((a < v && b <= v) || (a > v && b >= v))) continue;
      const [p, q] = [left(i, -1), left(i, 1)];
      if (!p || !q || p.side !== q.side) continue;
      const [u0, u1] = [Math.min(p.u, q.u) - spacing / 2, Math.max(p.u, q.u) + spacing / 2];
      if (u1 - u0 < BROAD * spacing) continue;
      const [v0, v1] = [v - (p.side < 0 ? DEEP : 0.6) * spacing, v + (p.side > 0 ? DEEP : 0.6) * spacing];
      const at = (x: number, y: number): Point => ({ x: x * cos - y * sin, y: x * sin + y * cos });
      found.push([at(u0, v0), at(u1, v0), at(u1, v1), at(u0, v1)]);
    }
  }
  return found;
}

/** What a line's pieces near any of the boxes cover, their ends half a spacing long. */
function bandsNear({ points, share }: FillLine, boxes: readonly Point[][], spacing: number): Polygon[] {
  const half = (spacing * share) / 2;
  const around = boxes.map((box) => boxOf(box)!);
  const covered: Polygon[] = [];
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1]!, points[i]!];
    const [x0, x1] = a.x < b.x ? [a.x, b.x] : [b.x, a.x];
    const [y0, y1] = a.y < b.y ? [a.y, b.y] : [b.y, a.y];
    const near = around.some(
      (box) => x1 >= box.x0 - spacing && x0 <= box.x1 + spacing && y1 >= box.y0 - spacing && y0 <= box.y1 + spacing,
    );
    if (!near) continue;
    const length = Math.hypot(b.x - a.x, b.y - a.y);
    if (length === 0) continue;
    const [ux, uy] = [((b.x - a.x) / length) * half, ((b.y - a.y) / length) * half];
    covered.push(
      solid([
        { x: a.x - ux + uy, y: a.y - uy - ux },
        { x: b.x + ux + uy, y: b.y + uy - ux },
        { x: b.x + ux - uy, y: b.y + uy + ux },
        { x: a.x - ux - uy, y: a.y - uy + ux },
      ]),
    );
  }
  return covered;
}
