import {
  areaOf,
  boxesMeet,
  boxOf,
  difference,
  intersection,
  ringsOf,
  solid,
  type Box,
  type Point,
  type Polygon,
} from '#core/geometry';
import type { FillLine } from './fill';
import { restLines } from './rests';

/** How far from where an edge turns its crescent reaches across the rows, in spacings. */
const DEEP = 1.2;
/** An edge that leaves the rows faster than this is pointed: nothing stays open beside it. In spacings along them. */
const BROAD = 2.5;
/** Smaller open spots close by themselves, in squares of the spacing. */
const OPEN = 0.3;
/** Distance of the lines along which open spots are looked for: what is slimmer than this gets no line. In spacings. */
const FINE = 0.1;

/** A box along the rows. In the frame of the rows, mm. */
interface Turn {
  u0: number;
  u1: number;
  v0: number;
  v1: number;
}

/** What a piece of a line covers, in the frame of the rows, mm. */
interface Band extends Turn {
  corners: Point[];
}

/** An area whose rings are found by where they are: of many, few come near any place. */
export class Placed {
  private readonly polygons;

  constructor(area: readonly Polygon[]) {
    const placed = (ring: readonly Point[]) => ({ ring: [...ring], box: boxOf(ring)! });
    this.polygons = area.map(({ outer, holes }) => ({ outer: placed(outer), holes: holes.map(placed) }));
  }

  /** The area as far as it comes near any of the boxes. */
  near(boxes: readonly Box[]): Polygon[] {
    const close = ({ box }: { box: Box }) => boxes.some((b) => boxesMeet(box, b));
    return this.polygons.flatMap(({ outer, holes }) =>
      close(outer) ? [{ outer: outer.ring, holes: holes.filter(close).map((h) => h.ring) }] : [],
    );
  }
}

/**
 * Lines for what rows leave open where a curved edge runs along them for a while: beside a round slot, at the ends of a
 * disc.
 *
 * @param area up to the edges of the neighbouring lines
 * @param middles where the middles of lines may lie
 * @param angle of the rows, degrees
 */
export function crescents(
  area: Placed,
  middles: readonly Polygon[],
  lines: readonly FillLine[],
  angle: number,
  spacing: number,
): FillLine[] {
  const cos = Math.cos((angle * Math.PI) / 180);
  const sin = Math.sin((angle * Math.PI) / 180);
  /** Into the frame of the rows: x along them, y across. */
  const along = (p: Point): Point => ({ x: p.x * cos + p.y * sin, y: p.y * cos - p.x * sin });
  const back = (p: Point): Point => ({ x: p.x * cos - p.y * sin, y: p.x * sin + p.y * cos });

  const turns = ringsOf(middles).flatMap((ring) => turnsOf(ring.map(along), spacing));
  if (turns.length === 0) return [];
  const boxOfTurn = ({ u0, u1, v0, v1 }: Turn): Point[] =>
    [
      { x: u0, y: v0 },
      { x: u1, y: v0 },
      { x: u1, y: v1 },
      { x: u0, y: v1 },
    ].map(back);
  // A ring that lies wholly to one side of a box has as many ends there before it as behind it.
  const edges = ringsOf(area.near(turns.map((t) => boxOf(boxOfTurn(t))!))).map((ring) => {
    const points = ring.map(along);
    return { points, reach: reachOf(points) };
  });
  const bands = lines.flatMap((line) => bandsOf(line.points.map(along), line.share, turns, spacing));
  const spots = turns.flatMap((box) => {
    const near = bands.filter((b) => overlap(b, box));
    const rings = edges.flatMap(({ points, reach }) => (overlap(reach, box) ? [points] : []));
    const open = openIn(box, rings, near, FINE * spacing);
    return open > 0 ? [{ box, near, open }] : [];
  });
  // Most edges that turn are covered: that costs far less to see than to cut out.
  if (spots.reduce((sum, { open }) => sum + open, 0) < (OPEN / 2) * spacing * spacing) return [];
  const boxes = spots.map(({ box }) => solid(boxOfTurn(box)));
  const laid = [...new Set(spots.flatMap(({ near }) => near))].map((band) => solid(band.corners.map(back)));
  const open = difference(intersection(area.near(boxes.map((b) => boxOf(b.outer)!)), boxes), laid).filter(
    (p) => areaOf([p]) > OPEN * spacing * spacing,
  );
  return restLines({ thin: open, body: [] }, spacing);
}

const overlap = (a: Turn, b: Turn): boolean => a.u1 >= b.u0 && a.u0 <= b.u1 && a.v1 >= b.v0 && a.v0 <= b.v1;

function reachOf(points: readonly Point[]): Turn {
  const { x0, x1, y0, y1 } = boxOf(points)!;
  return { u0: x0, u1: x1, v0: y0, v1: y1 };
}

/** Boxes round the places where an edge turns back broadly. All in the frame of the rows. */
function turnsOf(ring: readonly Point[], spacing: number): Turn[] {
  const n = ring.length;
  /** Where the edge has left the height of a corner, and to which side. */
  const left = (from: number, step: number): { u: number; side: number } | undefined => {
    for (let k = 1; k < n; k++) {
      const i = (from + k * step + k * n) % n;
      const d = ring[i]!.y - ring[from]!.y;
      if (Math.abs(d) < DEEP * spacing) continue;
      // Part of the last edge is still near.
      const j = (i - step + n) % n;
      const before = ring[j]!.y - ring[from]!.y;
      const share = (Math.sign(d) * DEEP * spacing - before) / (d - before);
      return { u: ring[j]!.x + (ring[i]!.x - ring[j]!.x) * share, side: Math.sign(d) };
    }
    return undefined;
  };
  const found: Turn[] = [];
  for (let i = 0; i < n; i++) {
    const [a, b] = [ring[(i + n - 1) % n]!.y, ring[(i + 1) % n]!.y];
    const v = ring[i]!.y;
    if (!((a < v && b <= v) || (a > v && b >= v))) continue;
    const [p, q] = [left(i, -1), left(i, 1)];
    if (!p || !q || p.side !== q.side) continue;
    const [u0, u1] = [Math.min(p.u, q.u) - spacing / 2, Math.max(p.u, q.u) + spacing / 2];
    if (u1 - u0 < BROAD * spacing) continue;
    const [low, high] = p.side < 0 ? [DEEP, 0.6] : [0.6, DEEP];
    found.push({ u0, u1, v0: v - low * spacing, v1: v + high * spacing });
  }
  return found;
}

/** What a line's pieces near any of the boxes cover, their ends half a spacing long. */
function bandsOf(points: readonly Point[], share: number, turns: readonly Turn[], spacing: number): Band[] {
  const half = (spacing * share) / 2;
  const covered: Band[] = [];
  for (let i = 1; i < points.length; i++) {
    const [a, b] = [points[i - 1]!, points[i]!];
    const [u0, u1] = a.x < b.x ? [a.x, b.x] : [b.x, a.x];
    const [v0, v1] = a.y < b.y ? [a.y, b.y] : [b.y, a.y];
    const near = turns.some(
      (t) => u1 >= t.u0 - spacing && u0 <= t.u1 + spacing && v1 >= t.v0 - spacing && v0 <= t.v1 + spacing,
    );
    const length = Math.hypot(b.x - a.x, b.y - a.y);
    if (!near || length === 0) continue;
    const [ux, uy] = [((b.x - a.x) / length) * half, ((b.y - a.y) / length) * half];
    const corners = [
      { x: a.x - ux + uy, y: a.y - uy - ux },
      { x: b.x + ux + uy, y: b.y + uy - ux },
      { x: b.x + ux - uy, y: b.y + uy + ux },
      { x: a.x - ux - uy, y: a.y - uy + ux },
    ];
    const [du, dv] = [Math.abs(ux) + Math.abs(uy), Math.abs(uy) + Math.abs(ux)];
    covered.push({ corners, u0: u0 - du, u1: u1 + du, v0: v0 - dv, v1: v1 + dv });
  }
  return covered;
}

/** About how much of a box lies within edges and under no band, mm²: along lines so far apart as is said, mm. */
function openIn(box: Turn, edges: readonly Point[][], bands: readonly Band[], pitch: number): number {
  let open = 0;
  const inside: number[] = [];
  const covered: number[] = [];
  for (let v = box.v0 + pitch / 2; v < box.v1; v += pitch) {
    inside.length = 0;
    for (const ring of edges) cut(ring, v, inside);
    if (inside.length === 0) continue;
    inside.sort((a, b) => a - b);
    covered.length = 0;
    for (const band of bands) if (band.v0 <= v && band.v1 >= v) cut(band.corners, v, covered);
    open += bare(inside, covered, box);
  }
  return open * pitch;
}

/** Where a line across the frame meets a ring. */
function cut(ring: readonly Point[], v: number, at: number[]): void {
  let a = ring[ring.length - 1]!;
  for (const b of ring) {
    if (a.y > v !== b.y > v) at.push(a.x + ((v - a.y) / (b.y - a.y)) * (b.x - a.x));
    a = b;
  }
}

/** Length of what lies in the stretches inside (their ends in order), in the box, and under none of the pairs of ends. */
function bare(inside: readonly number[], covered: readonly number[], { u0, u1 }: Turn): number {
  let sum = 0;
  for (let k = 0; k + 1 < inside.length; k += 2) {
    let at = Math.max(u0, inside[k]!);
    const end = Math.min(u1, inside[k + 1]!);
    while (at < end) {
      // As far as what lies over this place reaches; else up to what comes next.
      let over = at;
      let next = end;
      for (let i = 0; i + 1 < covered.length; i += 2) {
        const from = Math.min(covered[i]!, covered[i + 1]!);
        const to = Math.max(covered[i]!, covered[i + 1]!);
        if (from <= at) over = Math.max(over, to);
        else next = Math.min(next, from);
      }
      if (over > at) at = over;
      else {
        sum += next - at;
        at = next;
      }
    }
  }
  return sum;
}
