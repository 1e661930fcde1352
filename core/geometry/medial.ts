import Delaunator from 'delaunator';
import { EdgeGrid } from './edge-grid';
import type { Point, Polygon } from './shapes';

/** A line along the middle of a slim region, with the region's thickness at each of its points, mm. */
export interface MedialLine {
  points: Point[];
  widths: number[];
  closed: boolean;
}

interface Node {
  at: Point;
  width: number;
  next: Set<number>;
  /** A meeting of three ways. */
  fork: boolean;
}

/**
 * The middle lines of slim regions, by the chordal axis: the border is sampled, triangulated (Delaunay), and the middles
 * of the edges between opposite borders are joined from triangle to triangle. Side twigs shorter than the region is
 * thick are the corners' and left out; ends run on to half a thickness before the border.
 *
 * @param step distance of the samples, mm; at most half the least thickness
 * @param through borders that are no edge but lead on into something thicker: ends run right up to them
 */
export function medialLines(polygons: readonly Polygon[], step: number, through = new EdgeGrid([])): MedialLine[] {
  return polygons.flatMap((p) => ofPolygon(p, step, through));
}

function ofPolygon(polygon: Polygon, step: number, through: EdgeGrid): MedialLine[] {
  const coords: number[] = [];
  const next: number[] = [];
  for (const ring of [polygon.outer, ...polygon.holes]) {
    const start = coords.length / 2;
    for (let i = 0; i < ring.length; i++) {
      const a = ring[i]!;
      const b = ring[(i + 1) % ring.length]!;
      const n = Math.max(1, Math.ceil(Math.hypot(b.x - a.x, b.y - a.y) / step));
      for (let k = 0; k < n; k++) {
        next.push(coords.length / 2 + 1);
        coords.push(a.x + ((b.x - a.x) * k) / n, a.y + ((b.y - a.y) * k) / n);
      }
    }
    next[next.length - 1] = start;
  }
  if (coords.length < 6 || coords.length > 400_000) return [];
  const { triangles, halfedges } = new Delaunator(Float64Array.from(coords));
  const count = triangles.length / 3;
  const grid = new EdgeGrid([polygon]);
  const within = new Uint8Array(count);
  for (let t = 0; t < count; t++) {
    let [x, y] = [0, 0];
    for (let k = 0; k < 3; k++) {
      x += coords[2 * triangles[3 * t + k]!]! / 3;
      y += coords[2 * triangles[3 * t + k]! + 1]! / 3;
    }
    within[t] = grid.inside(x, y) ? 1 : 0;
  }
  const nodes: Node[] = [];
  const ofEdge = new Map<number, number>();
  const third = (e: number) => (e % 3 === 2 ? e - 2 : e + 1);
  const nodeOf = (e: number): number | undefined => {
    const twin = halfedges[e]!;
    if (twin < 0 || !within[Math.floor(twin / 3)]) return undefined;
    const [a, b] = [triangles[e]!, triangles[third(e)]!];
    if (next[a] === b || next[b] === a) return undefined;
    const key = Math.min(e, twin);
    let id = ofEdge.get(key);
    if (id === undefined) {
      const at = { x: (coords[2 * a]! + coords[2 * b]!) / 2, y: (coords[2 * a + 1]! + coords[2 * b + 1]!) / 2 };
      id = nodes.length;
      nodes.push({ at, width: 2 * grid.nearest(at).distance, next: new Set(), fork: false });
      ofEdge.set(key, id);
    }
    return id;
  };
  const join = (a: number, b: number) => {
    nodes[a]!.next.add(b);
    nodes[b]!.next.add(a);
  };
  for (let t = 0; t < count; t++) {
    if (!within[t]) continue;
    const inner = [3 * t, 3 * t + 1, 3 * t + 2].flatMap((e) => nodeOf(e) ?? []);
    if (inner.length === 2) join(inner[0]!, inner[1]!);
    else if (inner.length === 3) {
      const at = { x: 0, y: 0 };
      for (const id of inner) {
        at.x += nodes[id]!.at.x / 3;
        at.y += nodes[id]!.at.y / 3;
      }
      nodes.push({ at, width: 2 * grid.nearest(at).distance, next: new Set(), fork: true });
      for (const id of inner) join(nodes.length - 1, id);
    }
  }
  prune(nodes);
  return chains(nodes)
    .map((chain) => lineOf(chain, nodes, grid, through))
    .filter((line) => line.points.length > 1);
}

/** Takes off twigs that end free and are shorter than the region is thick at their foot. */
function prune(nodes: Node[]): void {
  for (let pass = 0; pass < 4; pass++) {
    let cut = false;
    for (let i = 0; i < nodes.length; i++) {
      if (nodes[i]!.next.size !== 1) continue;
      const twig = [i];
      let length = 0;
      let at = i;
      for (;;) {
        const on = [...nodes[at]!.next].find((n) => n !== twig[twig.length - 2]);
        if (on === undefined) break;
        length += away(nodes[at]!.at, nodes[on]!.at);
        at = on;
        if (nodes[on]!.next.size !== 2) break;
        twig.push(on);
      }
      if (nodes[at]!.next.size < 3 || length > 0.9 * nodes[at]!.width) continue;
      for (const id of twig) {
        for (const n of nodes[id]!.next) nodes[n]!.next.delete(id);
        nodes[id]!.next.clear();
      }
      cut = true;
    }
    if (!cut) return;
  }
}

// Hot, and nothing here is so far away that it would overflow: `Math.hypot` costs many times as much.
const away = (a: Point, b: Point): number => Math.sqrt((a.x - b.x) ** 2 + (a.y - b.y) ** 2);

/** Ways through the graph that use every link once; at a fork the straightest goes on. */
function chains(nodes: Node[]): number[][] {
  const used = new Set<number>();
  const key = (a: number, b: number) => (a < b ? a * nodes.length + b : b * nodes.length + a);
  const walk = (from: number, first: number): number[] => {
    const chain = [from, first];
    used.add(key(from, first));
    for (;;) {
      const at = chain[chain.length - 1]!;
      const before = nodes[chain[Math.max(0, chain.length - 4)]!]!.at;
      const here = nodes[at]!.at;
      let best: number | undefined;
      let straight = -0.3;
      for (const n of nodes[at]!.next) {
        if (used.has(key(at, n))) continue;
        const far = ahead(nodes, at, n);
        const cos =
          ((here.x - before.x) * (far.x - here.x) + (here.y - before.y) * (far.y - here.y)) /
          (away(here, before) * away(far, here) || 1);
        if (nodes[at]!.next.size === 2 || cos > straight) {
          straight = cos;
          best = n;
        }
      }
      if (best === undefined) return chain;
      used.add(key(at, best));
      chain.push(best);
      if (best === from) return chain;
    }
  };
  const found: number[][] = [];
  const starts = nodes.map((_, i) => i).sort((a, b) => rank(nodes[a]!) - rank(nodes[b]!));
  for (const i of starts) {
    for (const n of nodes[i]!.next) if (!used.has(key(i, n))) found.push(walk(i, n));
  }
  return found;
}

// Free ends first, then forks; what is left are rings.
const rank = (node: Node): number => (node.next.size === 1 ? 0 : node.next.size > 2 ? 1 : 2);

function ahead(nodes: Node[], from: number, first: number): Point {
  let before = from;
  let at = first;
  for (let k = 0; k < 3 && nodes[at]!.next.size === 2; k++) {
    const on: number = [...nodes[at]!.next].find((n) => n !== before)!;
    before = at;
    at = on;
  }
  return nodes[at]!.at;
}

function lineOf(chain: number[], nodes: Node[], grid: EdgeGrid, through: EdgeGrid): MedialLine {
  const closed = chain.length > 3 && chain[0] === chain[chain.length - 1];
  let points = chain.map((i) => nodes[i]!.at);
  let widths = chain.map((i) => nodes[i]!.width);
  if (!closed) {
    for (let end = 0; end < 2; end++) {
      const last = nodes[chain[end === 0 ? 0 : chain.length - 1]!]!;
      points.reverse();
      widths.reverse();
      if (last.next.size === 1) [points, widths] = extended(points, widths, grid, through);
      else if (last.next.size > 2) [points, widths] = shortened(points, widths, last.width / 2);
      if (points.length < 2) break;
    }
  }
  return { ...simplified(points, widths), closed };
}

/** What is so near to a border lies on it, mm. */
const AT = 0.003;

/** Runs the last end on until half a thickness before the border. */
function extended(points: Point[], widths: number[], grid: EdgeGrid, through: EdgeGrid): [Point[], number[]] {
  // Close to a blunt end the axis bends into a corner: that much of it is left out.
  let n = points.length;
  for (let run = 0; n > 2 && run < 0.75 * widths[n - 1]!; n--) run += away(points[n - 1]!, points[n - 2]!);
  if (n < 2) return [points, widths];
  points = points.slice(0, n);
  widths = widths.slice(0, n);
  const end = points[n - 1]!;
  const back = points[Math.max(0, n - 4)]!;
  const length = away(end, back) || 1;
  const dx = (end.x - back.x) / length;
  const dy = (end.y - back.y) / length;
  const width = widths[Math.max(0, n - 4)]!;
  // A blunt end is as thick as the region; the axis close to it is nearer to the end's own border.
  for (let i = Math.max(0, n - 3); i < n; i++) widths[i] = Math.max(widths[i]!, Math.min(width, 1.4 * widths[i]!));
  const reach = 3 * width;
  const hit = grid.cuts(end, { x: end.x + dx * reach, y: end.y + dy * reach }).find((t) => t > 0);
  const far = (hit ?? 0) * reach;
  const border = through.nearest({ x: end.x + dx * far, y: end.y + dy * far }, AT).distance;
  const free = far - (border < AT ? 0 : width / 2);
  if (free > 1e-3) {
    return [
      [...points, { x: end.x + dx * free, y: end.y + dy * free }],
      [...widths, width],
    ];
  }
  return free < -1e-3 ? shortened(points, widths, -free) : [points, widths];
}

function shortened(points: Point[], widths: number[], by: number): [Point[], number[]] {
  let left = by;
  let n = points.length;
  while (n > 1) {
    const [a, b] = [points[n - 2]!, points[n - 1]!];
    const length = away(a, b);
    if (length > left) {
      const t = 1 - left / length;
      const end = { x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t };
      return [
        [...points.slice(0, n - 1), end],
        [...widths.slice(0, n - 1), widths[n - 1]!],
      ];
    }
    left -= length;
    n--;
  }
  return [[], []];
}

/** Drops points that change neither way (5 µm) nor thickness (2 %). */
function simplified(points: Point[], widths: number[]): { points: Point[]; widths: number[] } {
  const keep = new Set([0, points.length - 1]);
  const split = (from: number, to: number) => {
    const [a, b] = [points[from]!, points[to]!];
    const length = away(a, b);
    let worst = 1;
    let at = -1;
    for (let i = from + 1; i < to; i++) {
      const p = points[i]!;
      const t =
        length === 0
          ? 0
          : Math.max(0, Math.min(1, ((p.x - a.x) * (b.x - a.x) + (p.y - a.y) * (b.y - a.y)) / (length * length)));
      const off = Math.sqrt((p.x - a.x - (b.x - a.x) * t) ** 2 + (p.y - a.y - (b.y - a.y) * t) ** 2) / 0.005;
      const width = widths[from]! + (widths[to]! - widths[from]!) * t;
      const error = Math.max(off, Math.abs(widths[i]! / width - 1) / 0.02);
      if (error > worst) {
        worst = error;
        at = i;
      }
    }
    if (at < 0) return;
    keep.add(at);
    split(from, at);
    split(at, to);
  };
  if (points.length > 2) {
    // A ring begins and ends at the same point: it needs one more to hang on.
    const middle = Math.floor(points.length / 2);
    keep.add(middle);
    split(0, middle);
    split(middle, points.length - 1);
  }
  const order = [...keep].sort((a, b) => a - b).filter((i) => i >= 0 && i < points.length);
  return { points: order.map((i) => points[i]!), widths: order.map((i) => widths[i]!) };
}
