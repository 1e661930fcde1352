import {
  BoxGrid,
  boundsOf,
  boxOf,
  distance,
  EdgeGrid,
  offset,
  type Box,
  type Point,
  type Polygon,
} from '#core/geometry';

/** An island as the head sees it: its outline, and where travel is well inside its walls. */
interface Grounds {
  box: Box;
  outline: EdgeGrid;
  /** Where a way may run. */
  free: EdgeGrid;
  /** What a way follows round a corner or a hole. */
  rail: Polygon[];
  within: EdgeGrid;
}

/** A way that ends on an outline by rounding is held against it, mm. */
const BESIDE = 1e-3;

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
    grounds = {
      box: boundsOf([island])!,
      outline: new EdgeGrid([island]),
      free: new EdgeGrid(offset([island], -0.7 * inset)),
      rail,
      within: new EdgeGrid(rail),
    };
    known.set(island, own.set(width, grounds));
  }
  return grounds;
}

/** The ways of a layer: which travel stays over the part, and how it can be led inside the walls. */
export class TravelPlanner {
  private readonly islands: BoxGrid<Grounds>;

  constructor(
    outlines: readonly Polygon[],
    private readonly width: number,
  ) {
    this.islands = new BoxGrid(outlines.map((o) => groundsOf(o, width)));
  }

  /** Whether the straight way crosses an outline. */
  leaves(a: Point, b: Point): boolean {
    return this.islands.near(boxOf([a, b])!, BESIDE).some((i) => i.outline.crosses(a, b));
  }

  /**
   * A way from a to b inside the walls of one island, corners without a; undefined where there is none at most `ratio`
   * times as long as the direct one.
   */
  inside(a: Point, b: Point, ratio: number): Point[] | undefined {
    if (ratio <= 0) return undefined;
    const island = this.islands
      .near(boxOf([a])!, BESIDE)
      .find((i) => i.outline.inside(a.x, a.y) && i.outline.inside(b.x, b.y));
    if (!island) return undefined;
    const way = around(island, onto(island, a), onto(island, b));
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

const onto = ({ within }: Grounds, p: Point): Point => (within.inside(p.x, p.y) ? p : within.nearest(p).point);

/** The straight way, led round every ring that it leaves, by the shorter side. */
function around({ rail, within }: Grounds, a: Point, b: Point): Point[] | undefined {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const cuts: { t: number; ring: Point[]; edge: number; number: number; at: Point }[] = [];
  within.meet(a, b, (t, u, number) => {
    if (t <= 1e-6 || t >= 1 - 1e-6 || u >= 1 || cuts.some((c) => c.number === number)) return false;
    const { ring, edge } = edgeOf(rail, number);
    cuts.push({ t, ring, edge, number, at: { x: a.x + dx * t, y: a.y + dy * t } });
    return false;
  });
  cuts.sort((p, q) => p.t - q.t || p.number - q.number);
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

/** The ring of an edge as a grid counts them, and the corner of it where that edge begins. */
function edgeOf(rail: readonly Polygon[], number: number): { ring: Point[]; edge: number } {
  let before = number;
  for (const { outer, holes } of rail)
    for (const ring of [outer, ...holes]) {
      if (before < ring.length) return { ring, edge: (before + ring.length - 1) % ring.length };
      before -= ring.length;
    }
  throw new RangeError(`there is no edge ${number}`);
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
