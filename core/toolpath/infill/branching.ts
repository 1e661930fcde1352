import { distance, EdgeGrid, type Point, type Polygon } from '#core/geometry';

interface Twig {
  at: Point;
  /** Index of what it stands on; −1 on a wall. */
  parent: number;
}

/** How far a twig may lean out from layer to layer: 50° from upright. */
const LEAN = Math.tan((50 * Math.PI) / 180);

/**
 * A pattern that grows only where it must carry a top skin: under the skin a tree of thin ribs reaches from the walls to
 * points a spacing apart; from layer to layer downwards every rib draws back towards its wall, until none is left.
 *
 * @param layers from the lowest: area for centre lines, area to be carried from above, layer height, mm
 * @param spacing distance of the carried points, mm
 * @returns lines of each layer
 */
export function branchingLines(
  layers: readonly { area: Polygon[]; carries: Polygon[]; height: number }[],
  spacing: number,
): Point[][][] {
  const found: Point[][][] = layers.map(() => []);
  let twigs: Twig[] = [];
  for (let k = layers.length - 1; k >= 0; k--) {
    const { area, carries, height } = layers[k]!;
    if (area.length === 0) {
      twigs = [];
      continue;
    }
    const walls = new EdgeGrid(area);
    twigs = drawnBack(twigs, height * LEAN, walls);
    if (carries.length > 0) grow(twigs, carries, spacing, walls);
    found[k] = linesOf(twigs, walls);
  }
  return found;
}

function grow(twigs: Twig[], carries: readonly Polygon[], spacing: number, walls: EdgeGrid): void {
  const within = new EdgeGrid(carries);
  const points: { at: Point; wall: Point; far: number }[] = [];
  let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const p of carries.flatMap((c) => c.outer)) {
    [x0, y0, x1, y1] = [Math.min(x0, p.x), Math.min(y0, p.y), Math.max(x1, p.x), Math.max(y1, p.y)];
  }
  // Points of a lattice fixed in space, so that one layer's points stand over the other's.
  for (let row = Math.ceil(y0 / spacing); row * spacing <= y1; row++) {
    for (let i = Math.ceil(x0 / spacing - (row % 2 ? 0.5 : 0)); (i + (row % 2 ? 0.5 : 0)) * spacing <= x1; i++) {
      const at = { x: (i + (row % 2 ? 0.5 : 0)) * spacing, y: row * spacing };
      if (!within.inside(at.x, at.y) || !walls.inside(at.x, at.y)) continue;
      const { point, distance: far } = walls.nearest(at);
      if (far > 0.4 * spacing) points.push({ at, wall: point, far });
    }
  }
  points.sort((a, b) => a.far - b.far || a.at.y - b.at.y || a.at.x - b.at.x);
  for (const p of points) {
    let parent = -1;
    let reach = p.far;
    let held = false;
    twigs.forEach((t, i) => {
      const d = distance(t.at, p.at);
      if (d < 0.6 * spacing) held = true;
      // A rib joins a nearer one rather than running to the wall beside it.
      if (d < reach && !walls.crosses(t.at, p.at)) {
        reach = d;
        parent = i;
      }
    });
    if (held) continue;
    if (parent < 0) {
      twigs.push({ at: p.wall, parent: -1 });
      parent = twigs.length - 1;
    }
    twigs.push({ at: p.at, parent });
  }
}

/** Every free end goes back towards its parent; what stands on a wall that has moved is joined to it again. */
function drawnBack(twigs: Twig[], by: number, walls: EdgeGrid): Twig[] {
  const at = twigs.map((t) => ({ ...t, kept: true }));
  const carried = new Set(at.map((t) => t.parent));
  for (let i = at.length - 1; i >= 0; i--) {
    if (carried.has(i)) continue;
    let left = by;
    let j = i;
    while (left > 0 && at[j]!.parent >= 0) {
      const parent = at[j]!.parent;
      const length = distance(at[j]!.at, at[parent]!.at);
      if (length > left) {
        const t = left / length;
        at[j]!.at = {
          x: at[j]!.at.x + (at[parent]!.at.x - at[j]!.at.x) * t,
          y: at[j]!.at.y + (at[parent]!.at.y - at[j]!.at.y) * t,
        };
        break;
      }
      left -= length;
      at[j]!.kept = false;
      if (at.some((t, n) => t.kept && n !== j && t.parent === parent)) break;
      j = parent;
    }
    if (at[j]!.parent < 0 && !at.some((t) => t.kept && t.parent === j)) at[j]!.kept = false;
  }
  const number = new Map<number, number>();
  const next: Twig[] = [];
  at.forEach((t, i) => {
    if (!t.kept) return;
    let parent = t.parent < 0 ? -1 : (number.get(t.parent) ?? -1);
    if (parent < 0) {
      const wall = walls.nearest(t.at);
      if (wall.distance > 0.05) {
        next.push({ at: wall.point, parent: -1 });
        parent = next.length - 1;
      }
    }
    number.set(i, next.length);
    next.push({ at: t.at, parent });
  });
  return next;
}

/** Lines from the free ends to the wall or to a rib that is drawn already. */
function linesOf(twigs: readonly Twig[], walls: EdgeGrid): Point[][] {
  const feet = new Set(twigs.map((t) => t.parent));
  const done = new Set<number>();
  const lines: Point[][] = [];
  for (let i = twigs.length - 1; i >= 0; i--) {
    if (feet.has(i)) continue;
    const line = [twigs[i]!.at];
    for (let j = i; twigs[j]!.parent >= 0;) {
      done.add(j);
      j = twigs[j]!.parent;
      line.push(twigs[j]!.at);
      if (done.has(j)) break;
    }
    if (line.length > 1 && line.slice(1).every((p, n) => !walls.crosses(line[n]!, p))) lines.push(line);
  }
  return lines;
}
