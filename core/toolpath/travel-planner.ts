import { distance, EdgeGrid, offset, type Point, type Polygon } from '#core/geometry';

/** An island as the head sees it: its outline, and where travel is well inside its walls. */
interface Grounds {
  outline: EdgeGrid;
  /** Where a way may run. */
  free: EdgeGrid;
  /** What a way follows round a corner or a hole. */
  rail: Polygon[];
}

/** By island and width of line. */
const known = new WeakMap<Polygon, Map<number, Grounds>>();

function groundsOf(island: Polygon, width: number): Grounds {
  const own = known.get(island) ?? new Map<number, Grounds>();
  let grounds = own.get(width);
  if (!grounds) {
    let inset = 1.3 * width;
    let rail = offset([island], -inset);
    // A waist slimmer than that is passed nearer to its walls.
    if (rail.length !== 1) rail = offset([island], -(inset = 0.45 * width));
    grounds = { outline: new EdgeGrid([island]), free: new EdgeGrid(offset([island], -0.7 * inset)), rail };
    known.set(island, own.set(width, grounds));
  }
  return grounds;
}

/** The ways of a layer: which travel stays over the part, and how it can be led inside the walls. */
export class TravelPlanner {
  private readonly islands: Grounds[];

  constructor(
    outlines: readonly Polygon[],
    private readonly width: number,
  ) {
    this.islands = outlines.map((o) => groundsOf(o, width));
  }

  /** Whether the straight way crosses an outline. */
  leaves(a: Point, b: Point): boolean {
    return this.islands.some((i) => i.outline.crosses(a, b));
  }

  /**
   * A way from a to b inside the walls of one island, corners without a; undefined where there is none at most `ratio`
   * times as long as the direct one.
   */
  inside(a: Point, b: Point, ratio: number): Point[] | undefined {
    if (ratio <= 0) return undefined;
    const island = this.islands.find((i) => i.outline.inside(a.x, a.y) && i.outline.inside(b.x, b.y));
    if (!island) return undefined;
    const way = around(island.rail, onto(island, a), onto(island, b));
    if (!way) return undefined;
    // From a wall the way first steps inward, so that it does not run along the wall's line.
    const pulled = [a, ...taut(way, island.free), b].filter((p, i, all) => i === 0 || distance(p, all[i - 1]!) > 1e-6);
    let length = 0;
    for (let i = 1; i < pulled.length; i++) length += distance(pulled[i - 1]!, pulled[i]!);
    if (length > ratio * distance(a, b) + this.width) return undefined;
    for (let i = 1; i < pulled.length; i++) if (island.outline.crosses(pulled[i - 1]!, pulled[i]!)) return undefined;
    return pulled.slice(1);
  }
}

function onto({ rail }: Grounds, p: Point): Point {
  const grid = new EdgeGrid(rail);
  return grid.inside(p.x, p.y) ? p : grid.nearest(p).point;
}

/** The straight way, led round every ring that it leaves, by the shorter side. */
function around(rail: readonly Polygon[], a: Point, b: Point): Point[] | undefined {
  const cuts: { t: number; ring: Point[]; edge: number; at: Point }[] = [];
  for (const polygon of rail) {
    for (const ring of [polygon.outer, ...polygon.holes]) {
      for (let i = 0; i < ring.length; i++) {
        const c = ring[i]!;
        const d = ring[(i + 1) % ring.length]!;
        const [dx, dy, ex, ey] = [b.x - a.x, b.y - a.y, d.x - c.x, d.y - c.y];
        const cross = dx * ey - dy * ex;
        if (cross === 0) continue;
        const t = ((c.x - a.x) * ey - (c.y - a.y) * ex) / cross;
        const u = ((c.x - a.x) * dy - (c.y - a.y) * dx) / cross;
        if (t > 1e-6 && t < 1 - 1e-6 && u >= 0 && u < 1)
          cuts.push({ t, ring, edge: i, at: { x: a.x + dx * t, y: a.y + dy * t } });
      }
    }
  }
  cuts.sort((p, q) => p.t - q.t);
  if (cuts.length % 2 === 1) return undefined;
  const way: Point[] = [a];
  for (let i = 0; i < cuts.length; i += 2) {
    const [out, back] = [cuts[i]!, cuts[i + 1]!];
    if (out.ring !== back.ring) return undefined;
    const forth = corners(out.ring, out.edge, back.edge);
    const reverse = corners(out.ring, back.edge, out.edge).reverse();
    const long = (c: Point[]) =>
      [out.at, ...c, back.at].reduce((s, p, n, l) => (n ? s + distance(l[n - 1]!, p) : 0), 0);
    way.push(out.at, ...(long(forth) <= long(reverse) ? forth : reverse), back.at);
  }
  way.push(b);
  return way;
}

/** Corners of a ring after edge `from` up to the start of edge `to`, forwards. */
function corners(ring: readonly Point[], from: number, to: number): Point[] {
  const found: Point[] = [];
  for (let i = from; i !== to; i = (i + 1) % ring.length) found.push(ring[(i + 1) % ring.length]!);
  return found;
}

/** Leaves out corners that can be passed by without leaving the free area. */
function taut(way: readonly Point[], free: EdgeGrid): Point[] {
  const pulled = [way[0]!];
  let at = 0;
  while (at < way.length - 1) {
    let next = at + 1;
    for (let j = Math.min(way.length - 1, at + 40); j > at + 1; j--) {
      if (!free.crosses(way[at]!, way[j]!)) {
        next = j;
        break;
      }
    }
    if (distance(way[at]!, way[next]!) > 1e-3 || next === way.length - 1) pulled.push(way[next]!);
    at = next;
  }
  return pulled;
}
