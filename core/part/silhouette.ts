import { done, type Job } from '#core/base';
import { boundsOf, ringArea, ringsOf, union, type Point, type Polygon } from '#core/geometry';
import type { PartPiece } from './piece';
import { simplified } from './simplified';

/** How a piece looks from the front and from above, as SVG path data in mm (M, L, Z), y up. */
export interface Silhouette {
  side: string;
  above: string;
  /** Where the foot reaches furthest to the front, mm; the middle of an edge that lies there. */
  front: { x: number; y: number };
}

/** Rows of the drawing from the front, and layers of that from above. */
const ROWS = 160;
const LAYERS = 48;
/** A drawing may be so long, letters. */
export const MOST_PATH = 8000;
/** What is smaller is not drawn, mm². */
const SPECK = 0.05;
/** The foot is looked at so high above the bed, mm. */
const FOOT = 0.15;

type Interval = [number, number];

/** The parts of a line that rings cover, from left to right, seen along y. */
function shadows(outline: readonly Polygon[]): Interval[] {
  const all = outline.map((p): Interval => {
    const { x0, x1 } = boundsOf([p])!;
    return [x0, x1];
  });
  all.sort((a, b) => a[0] - b[0]);
  const merged: Interval[] = [];
  for (const [from, to] of all) {
    const last = merged.at(-1);
    if (last && from <= last[1] + 1e-3) last[1] = Math.max(last[1], to);
    else merged.push([from, to]);
  }
  return merged;
}

/** Draws a piece from the front and from above, by its sections. */
export function* silhouetteOf(piece: PartPiece): Job<Silhouette> {
  const { height } = piece;
  const rows: Interval[][] = [];
  let above: Polygon[] = [];
  let layers: Polygon[] = [];
  const every = Math.max(1, Math.floor(ROWS / LAYERS));
  let beneath: readonly Polygon[] = [];
  for (let k = 0; k < ROWS; k++) {
    const outline = piece.at(((k + 0.5) * height) / ROWS);
    rows.push(shadows(outline));
    // What stands upright is seen from above once.
    if (!isAlike(outline, beneath)) layers.push(...outline);
    beneath = outline;
    if (layers.length > 0 && ((k + 1) % every === 0 || k === ROWS - 1)) {
      above = union([...above, ...layers].map((p) => coarse(p, height / ROWS / 4)));
      layers = [];
    }
    yield { stage: 'drawing it', done: k + 1, of: ROWS };
  }
  const foot = piece.at(Math.min(FOOT, height / 2));
  return done({
    side: pathWithin(union(bodyOf(rows, height)), MOST_PATH),
    above: pathWithin(above, MOST_PATH),
    front: frontOf(foot) ?? { x: 0, y: -piece.depth / 2 },
  });
}

/** Whether two outlines have the same corners in the same order, within what can be drawn. */
function isAlike(a: readonly Polygon[], b: readonly Polygon[]): boolean {
  const [own, other] = [ringsOf(a), ringsOf(b)];
  return (
    own.length === other.length &&
    own.every((ring, r) => {
      const to = other[r]!;
      const near = (p: Point, i: number) => Math.abs(p.x - to[i]!.x) < 1e-6 && Math.abs(p.y - to[i]!.y) < 1e-6;
      return ring.length === to.length && ring.every(near);
    })
  );
}

/** What lies no further back than this lies at the front, mm. */
const AT_FRONT = 0.05;

/** The middle of the longest edge at the front of a foot, or its foremost corner; undefined where it has none. */
function frontOf(foot: readonly Polygon[]): Point | undefined {
  const rings = ringsOf(foot);
  const corners = rings.flat();
  const first = corners.reduce<Point | undefined>((a, p) => (a && a.y <= p.y ? a : p), undefined);
  if (!first) return undefined;
  let [middle, longest] = [first, 0];
  for (const ring of rings)
    ring.forEach((a, i) => {
      const b = ring[(i + 1) % ring.length]!;
      if (Math.max(a.y, b.y) > first.y + AT_FRONT || Math.abs(b.x - a.x) <= longest) return;
      longest = Math.abs(b.x - a.x);
      middle = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
    });
  return middle;
}

const coarse = ({ outer, holes }: Polygon, tolerance: number): Polygon => ({
  outer: simplified(outer, tolerance),
  holes: holes.map((h) => simplified(h, tolerance)).filter((h) => h.length > 2),
});

/** The body that rows of intervals make: from one to the next straight where they are alike, else in steps. */
function bodyOf(rows: readonly Interval[][], height: number): Polygon[] {
  const step = height / rows.length;
  return rows.flatMap((row, k) => {
    const next = rows[k + 1];
    const [y0, y1] = [k * step, (k + 1) * step];
    return row.map(([a, b], i): Polygon => {
      const alike = next?.length === row.length && next[i]![0] < b && next[i]![1] > a;
      const [c, d] = alike ? next[i]! : [a, b];
      // A row is seen in its middle: its own half is straight, the way to the next goes on from there.
      const lap = step / 50;
      return {
        outer: [
          { x: a, y: y0 - lap },
          { x: b, y: y0 - lap },
          { x: d, y: y1 },
          { x: c, y: y1 },
        ],
        holes: [],
      };
    });
  });
}

const figure = (v: number): string => String(Math.round(v * 100) / 100);

/** Polygons as path data, the coarser the more corners they have, so that it is no longer than asked. */
export function pathWithin(polygons: readonly Polygon[], most: number): string {
  const rings = ringsOf(polygons).filter((r) => Math.abs(ringArea(r)) > SPECK);
  for (let tolerance = 0.02; tolerance < 1000; tolerance *= 1.6) {
    const path = rings
      .map((ring) => simplified(ring, tolerance))
      .filter((ring) => ring.length > 2)
      .map((ring) => `M${ring.map((p) => `${figure(p.x)} ${figure(p.y)}`).join('L')}Z`)
      .join('');
    if (path.length <= most) return path;
  }
  return '';
}

/** The polygons of path data as it is drawn here. */
export const polygonsOfPath = (path: string): Polygon[] =>
  union(
    path
      .split('Z')
      .filter((part) => part.startsWith('M'))
      .map((part) => ({
        outer: part
          .slice(1)
          .split('L')
          .map((pair) => {
            const [x, y] = pair.trim().split(' ').map(Number);
            return { x: x!, y: y! };
          }),
        holes: [],
      })),
  );
