import { inLoop, nearLine, type Laid } from '#core/factors';

/** A closed line of a layer: its place in the nest of loops. */
export interface Loop {
  lines: Laid[];
  area: number;
  width: number;
  box: [number, number, number, number];
  /** A few points along it. */
  samples: { x: number; y: number }[];
  parent: Loop | undefined;
  kids: Loop[];
  /** Whether lines that are no loops lie directly within it. */
  filled: boolean;
  role: 'outer-wall' | 'inner-wall' | 'fill';
  /** Its lines by rows of its height, once they are asked for: a question about a place looks at few of them. */
  rows: Laid[][] | undefined;
}

/** Rows of a loop at most, and lines for each. */
const MOST_ROWS = 512;
const A_ROW = 3;

/** The rows of a loop from one height to another, mm along Y. A line stands in every row that it touches. */
function rowsOf(loop: Loop, from: number, to: number): Laid[][] {
  const [, low, , high] = loop.box;
  const count = Math.max(1, Math.min(MOST_ROWS, Math.floor(loop.lines.length / A_ROW)));
  const row = (y: number) =>
    Math.max(0, Math.min(count - 1, Math.floor(((y - low) / Math.max(1e-9, high - low)) * count)));
  if (!loop.rows) {
    const rows = Array.from({ length: count }, (): Laid[] => []);
    for (const l of loop.lines) {
      const last = row(Math.max(l.y, l.y0));
      for (let r = row(Math.min(l.y, l.y0)); r <= last; r++) rows[r]!.push(l);
    }
    loop.rows = rows;
  }
  return loop.rows.slice(row(from), row(to) + 1);
}

/** A loop from the lines of a path that ends where it began; none where it is open, tiny or flat. */
export function loopOf(lines: Laid[]): Loop | undefined {
  const [first, last] = [lines[0]!, lines.at(-1)!];
  let [area, length, e, ...box] = [0, 0, 0, Infinity, Infinity, -Infinity, -Infinity];
  for (const l of lines) {
    area += (l.x0 - first.x0) * (l.y - first.y0) - (l.x - first.x0) * (l.y0 - first.y0);
    length += Math.hypot(l.x - l.x0, l.y - l.y0);
    e += l.width;
    box = [Math.min(box[0]!, l.x0), Math.min(box[1]!, l.y0), Math.max(box[2]!, l.x0), Math.max(box[3]!, l.y0)];
  }
  const width = e / lines.length;
  const gap = Math.hypot(last.x - first.x0, last.y - first.y0);
  area = Math.abs(area) / 2;
  // A zigzag that happens to end near its start covers next to nothing of what it goes round.
  if (lines.length < 3 || gap > Math.max(0.5, 1.2 * width) || length < 6 * width || area < 0.5 * width * width)
    return undefined;
  const samples = along(lines, length);
  return {
    lines,
    area,
    width,
    box: box as Loop['box'],
    samples,
    parent: undefined,
    kids: [],
    filled: false,
    role: 'outer-wall',
    rows: undefined,
  };
}

/** Points at even distances along a line, with the piece on which they lie. */
export function along(lines: readonly Laid[], length: number, count = 20): { x: number; y: number; on: Laid }[] {
  const apart = length / count;
  const points: { x: number; y: number; on: Laid }[] = [];
  let left = apart / 2;
  for (const l of lines) {
    const own = Math.hypot(l.x - l.x0, l.y - l.y0);
    for (; left < own; left += apart)
      points.push({ x: l.x0 + ((l.x - l.x0) * left) / own, y: l.y0 + ((l.y - l.y0) * left) / own, on: l });
    left -= own;
  }
  return points;
}

/** Whether a point lies within a loop. */
export const within = (loop: Loop, x: number, y: number): boolean => {
  const { box } = loop;
  if (x < box[0] || y < box[1] || x > box[2] || y > box[3]) return false;
  return inLoop(rowsOf(loop, y, y)[0]!, x, y);
};

/** Whether a loop passes near a point, there about in the direction of `like` where that is given. */
export function isNear(loop: Loop, x: number, y: number, far: number, like?: Laid): boolean {
  const { box } = loop;
  if (x < box[0] - far || y < box[1] - far || x > box[2] + far || y > box[3] + far) return false;
  for (const row of rowsOf(loop, y - far, y + far))
    for (const l of row) {
      if (like) {
        const [dx, dy] = [l.x - l.x0, l.y - l.y0];
        const [ax, ay] = [like.x - like.x0, like.y - like.y0];
        const cross = dx * ay - dy * ax;
        if (cross * cross > 0.16 * (dx * dx + dy * dy) * (ax * ax + ay * ay)) continue;
      }
      if (nearLine(l, x, y) < far) return true;
    }
  return false;
}

/** Whether a loop runs beside another at about the width of a line, most of its way, or beside it and its neighbours. */
export function beside(a: Loop, b: Loop): boolean {
  const others = b.kids.filter((k) => k !== a);
  let [near, about] = [0, 0];
  for (const p of a.samples) {
    const far = 1.55 * Math.max(a.width, b.width);
    if (isNear(b, p.x, p.y, far)) near++;
    else if (others.some((o) => isNear(o, p.x, p.y, far))) about++;
  }
  return near >= 0.3 * a.samples.length && near + about >= 0.6 * a.samples.length;
}

/** Finds for every loop the smallest that holds it; returns those that none holds. */
export function nested(loops: readonly Loop[]): Loop[] {
  const order = [...loops].sort((a, b) => a.area - b.area);
  order.forEach((loop, i) => {
    const p = loop.samples[0]!;
    loop.parent = order.slice(i + 1).find((o) => o.area > loop.area && within(o, p.x, p.y));
    loop.parent?.kids.push(loop);
  });
  return order.filter((l) => !l.parent);
}

/** The smallest loop that holds a point. */
export function holding(roots: readonly Loop[], x: number, y: number): Loop | undefined {
  const root = roots.find((r) => within(r, x, y));
  return root && (holding(root.kids, x, y) ?? root);
}

/**
 * Names the loops. From the outside inward: the first is an outer wall, those beside it inner walls; one that lies apart
 * within them goes round a hole, where the innermost is the outer wall; beyond it is air again. More loops side by side
 * than the file has walls are a fill of rings.
 *
 * @param walls how many walls the file has elsewhere
 */
export function nameLoops(roots: readonly Loop[], walls: number): void {
  for (const root of roots) inward(root, 1, walls);
}

function inward(loop: Loop, depth: number, walls: number): void {
  loop.role = depth === 1 ? 'outer-wall' : depth > walls ? 'fill' : 'inner-wall';
  // What has air within and stands beside an outer wall is the other face of a thin part.
  if (depth > 1 && loop.kids.length === 0 && !loop.filled && loop.area > 40 * loop.width * loop.width)
    loop.role = 'outer-wall';
  for (const kid of loop.kids) {
    if (beside(kid, loop)) inward(kid, depth + 1, walls);
    else hole(kid, 1, walls);
  }
}

/** Loops side by side inward to a hole; gives how many stand beyond this one. */
function hole(loop: Loop, depth: number, walls: number): number {
  const next = loop.kids.filter((k) => beside(k, loop));
  let beyond = 0;
  for (const kid of loop.kids) {
    if (next.includes(kid)) beyond = Math.max(beyond, 1 + hole(kid, depth + 1, walls));
    else inward(kid, 1, walls);
  }
  loop.role = beyond === 0 ? 'outer-wall' : beyond < walls ? 'inner-wall' : 'fill';
  return beyond;
}

/** How many walls stand side by side from a root inward. */
export function wallsFrom(root: Loop): number {
  const kid = root.kids.find((k) => beside(k, root));
  return kid ? 1 + wallsFrom(kid) : 1;
}
