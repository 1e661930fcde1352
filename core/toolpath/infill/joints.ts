import { EdgeGrid, ringsOf, type Point, type Polygon } from '#core/geometry';

interface End {
  line: number;
  tail: boolean;
  ring: number;
  /** Way along the ring, mm. */
  at: number;
}

const ON = 0.02;

/**
 * Joins open lines whose ends lie on the border of an area, along that border, shortest joint first, so that they are
 * anchored to the wall and printed in one go.
 *
 * @param reach the longest joint, mm
 */
export function joined(lines: Point[][], area: readonly Polygon[], reach: number): Point[][] {
  let edges = 0;
  const rings = ringsOf(area).map((ring): Measured => {
    const ways = [0];
    for (let i = 0; i < ring.length; i++) {
      const a = ring[i]!;
      const b = ring[(i + 1) % ring.length]!;
      ways.push(ways[i]! + Math.hypot(b.x - a.x, b.y - a.y));
    }
    const edge = edges;
    edges += ring.length;
    return { ring, ways, length: ways[ring.length]!, edge };
  });
  const grid = new EdgeGrid(area);
  const open = lines.map((l) => l.length > 1 && !same(l[0]!, l[l.length - 1]!));
  const ends = rings.map((): End[] => []);
  lines.forEach((l, line) => {
    if (!open[line]) return;
    for (const tail of [false, true]) {
      const found = onRings(rings, grid, tail ? l[l.length - 1]! : l[0]!);
      if (found) ends[found.ring]!.push({ line, tail, ...found });
    }
  });
  const gaps: { a: End; b: End; length: number }[] = [];
  ends.forEach((list, r) => {
    list.sort((p, q) => p.at - q.at);
    for (let i = 0; i < list.length && list.length > 1; i++) {
      const a = list[i]!;
      const b = list[(i + 1) % list.length]!;
      const length = (b.at - a.at + rings[r]!.length) % rings[r]!.length;
      if (length <= reach && a.line !== b.line) gaps.push({ a, b, length });
    }
  });
  gaps.sort((p, q) => p.length - q.length);
  const partner = new Map<string, { to: End; way: Point[] }>();
  const key = (e: End) => `${e.line}${e.tail ? 't' : 'h'}`;
  const group = lines.map((_, i) => i);
  const root = (i: number): number => (group[i] === i ? i : (group[i] = root(group[i]!)));
  for (const { a, b } of gaps) {
    if (partner.has(key(a)) || partner.has(key(b)) || root(a.line) === root(b.line)) continue;
    group[root(a.line)] = root(b.line);
    const way = along(rings[a.ring]!, a.at, b.at);
    partner.set(key(a), { to: b, way });
    partner.set(key(b), { to: a, way: [...way].reverse() });
  }
  const used = new Set<number>();
  const paths: Point[][] = [];
  lines.forEach((l, start) => {
    if (used.has(start)) return;
    // A chain begins at a free end; every chain has one, since no ring is closed.
    let line = start;
    let tail = false;
    const seen = new Set([start]);
    for (let p = partner.get(`${line}h`); p && !seen.has(p.to.line);) {
      line = p.to.line;
      tail = p.to.tail;
      seen.add(line);
      p = partner.get(`${line}${tail ? 'h' : 't'}`);
      tail = !tail;
    }
    // `tail` is now the free end of `line`: walk from it.
    const first = partner.has(`${start}h`) ? tail : false;
    const path: Point[] = [];
    let from = first;
    for (;;) {
      used.add(line);
      path.push(...(from ? [...lines[line]!].reverse() : lines[line]!));
      const on = partner.get(`${line}${from ? 'h' : 't'}`);
      if (!on || used.has(on.to.line)) break;
      path.push(...on.way);
      line = on.to.line;
      from = on.to.tail;
    }
    paths.push(line === start && path.length === 0 ? l : path);
  });
  return paths;
}

const same = (a: Point, b: Point) => Math.abs(a.x - b.x) < 1e-9 && Math.abs(a.y - b.y) < 1e-9;

/** A ring, the way along it to each of its corners and round to the first, mm, and the first of its edges in the grid. */
interface Measured {
  ring: Point[];
  ways: number[];
  length: number;
  edge: number;
}

/** Where on which of the rings a point lies. */
function onRings(rings: readonly Measured[], grid: EdgeGrid, p: Point): { ring: number; at: number } | undefined {
  const { distance, edge, share } = grid.nearest(p);
  if (distance >= ON) return undefined;
  let ring = rings.length - 1;
  while (rings[ring]!.edge > edge) ring--;
  const { ways, length, edge: first } = rings[ring]!;
  // The first edge of a ring in the grid is its last here.
  const from = edge > first ? ways[edge - first - 1]! : ways[ways.length - 2]!;
  const to = edge > first ? ways[edge - first]! : length;
  return { ring, at: (from + share * (to - from)) % length };
}

/** The corners of a ring between two ways along it, forwards. */
function along({ ring, ways, length }: Measured, from: number, to: number): Point[] {
  const end = to < from ? to + length : to;
  const points: Point[] = [];
  for (let turn = 0; turn < 2; turn++) {
    for (let i = 0; i < ring.length; i++) {
      const at = ways[i]! + turn * length;
      if (at > from + 1e-6 && at < end - 1e-6) points.push(ring[i]!);
    }
  }
  return points;
}
