import { distance, EdgeGrid, type HatchLine, type Point, type Polygon } from '#core/geometry';

/** Lines of rows that follow one another: two points a row, from `row` upwards. */
export interface Zigzag {
  row: number;
  points: Point[];
}

/**
 * Joins hatch lines into zigzags: from the end of a line to the nearer end of a line in the next row, as long as the
 * way lies inside `region` and is at most `reach` mm.
 */
export function zigzags(lines: readonly HatchLine[], region: readonly Polygon[], reach: number): Zigzag[] {
  const rows = new Map<number, HatchLine[]>();
  for (const line of lines) {
    const row = rows.get(line.row);
    if (row) row.push(line);
    else rows.set(line.row, [line]);
  }
  const grid = new EdgeGrid(region);
  const used = new Set<HatchLine>();
  const paths: Zigzag[] = [];
  for (const first of lines) {
    if (used.has(first)) continue;
    used.add(first);
    const path = [first.a, first.b];
    let row = first.row;
    for (;;) {
      const tail = path[path.length - 1]!;
      let best: { line: HatchLine; from: Point; to: Point; gap: number } | undefined;
      for (const line of rows.get(row + 1) ?? []) {
        if (used.has(line)) continue;
        for (const [from, to] of [
          [line.a, line.b],
          [line.b, line.a],
        ] as const) {
          const gap = distance(tail, from);
          if (gap <= reach && (!best || gap < best.gap)) best = { line, from, to, gap };
        }
      }
      if (!best || !clear(grid, tail, best.from)) break;
      used.add(best.line);
      path.push(best.from, best.to);
      row++;
    }
    paths.push({ row: first.row, points: path });
  }
  return paths;
}

function clear(region: EdgeGrid, a: Point, b: Point): boolean {
  // A corner counts for one of its two edges: a way along an edge does not cross the next one.
  if (region.meet(a, b, (t, u) => t > 0.02 && t < 0.98 && u < 1)) return false;
  const mid = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
  return region.inside(mid.x, mid.y) || distance(a, b) < 0.05 || touches(region, mid);
}

// The middle of a way along the edge lies neither in nor out; a hair to any side decides.
function touches(region: EdgeGrid, p: Point): boolean {
  const hair = 0.01;
  return (
    region.inside(p.x + hair, p.y) ||
    region.inside(p.x - hair, p.y) ||
    region.inside(p.x, p.y + hair) ||
    region.inside(p.x, p.y - hair)
  );
}
