import { inLoop, nearLine, type Ends } from '#core/factors';

/** A line with its length in the plane and its width, mm, and its speed, mm/s. */
export interface Measured extends Ends {
  readonly length: number;
  readonly width: number;
  readonly speed: number;
}

/** x0 y0 x1 y1, mm. */
export type Box = [number, number, number, number];

/** The box that holds two. */
export const joined = (a: Box, b: Box): Box => [
  Math.min(a[0], b[0]),
  Math.min(a[1], b[1]),
  Math.max(a[2], b[2]),
  Math.max(a[3], b[3]),
];

/** A closed line of a layer: its place in the nest of loops. */
export interface Loop {
  lines: Measured[];
  area: number;
  width: number;
  box: Box;
  /** A few points along it. */
  samples: { x: number; y: number }[];
  parent: Loop | undefined;
  kids: Loop[];
  /** Whether it runs beside the loop that holds it, once that is asked for. */
  besideParent: boolean | undefined;
  /** Whether lines that are no loops lie directly within it. */
  filled: boolean;
  role: 'outer-wall' | 'inner-wall' | 'fill' | 'ring';
  /** Of a ring or a fill of loops: whether others of the same kind show plainly that it is one. */
  plain?: boolean;
  /** Its lines by rows of its height, once they are asked for: a question about a place looks at few of them. */
  rows: Measured[][] | undefined;
}

/** Rows of a loop at most, and lines for each. */
const MOST_ROWS = 512;
const A_ROW = 3;

/** The rows of a loop. A line stands in every row that it touches. */
function rowsOf(loop: Loop): Measured[][] {
  if (!loop.rows) {
    const count = Math.max(1, Math.min(MOST_ROWS, Math.floor(loop.lines.length / A_ROW)));
    const rows = (loop.rows = Array.from({ length: count }, (): Measured[] => []));
    for (const l of loop.lines) {
      const last = rowAt(loop, count, Math.max(l.y, l.y0));
      for (let r = rowAt(loop, count, Math.min(l.y, l.y0)); r <= last; r++) rows[r]!.push(l);
    }
  }
  return loop.rows;
}

function rowAt({ box }: Loop, count: number, y: number): number {
  const row = Math.floor(((y - box[1]) / Math.max(1e-9, box[3] - box[1])) * count);
  return row < 0 ? 0 : row >= count ? count - 1 : row;
}

/** What two rows and their joint go round is this much of a line’s width times their length at most. */
const FOLD = 1.2;

/** A loop from the lines of a path that ends where it began; none where it is open, tiny or flat. */
export function loopOf(lines: Measured[]): Loop | undefined {
  const [first, last] = [lines[0]!, lines[lines.length - 1]!];
  if (lines.length < 3) return undefined;
  let [area, length, e] = [0, 0, 0];
  let [left, low, right, high] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const l of lines) {
    area += (l.x0 - first.x0) * (l.y - first.y0) - (l.x - first.x0) * (l.y0 - first.y0);
    length += l.length;
    e += l.width;
    if (l.x0 < left) left = l.x0;
    if (l.x0 > right) right = l.x0;
    if (l.y0 < low) low = l.y0;
    if (l.y0 > high) high = l.y0;
  }
  const width = e / lines.length;
  const gap = Math.hypot(last.x - first.x0, last.y - first.y0);
  area = Math.abs(area) / 2;
  // A zigzag that happens to end near its start covers next to nothing of what it goes round.
  if (gap > Math.max(0.5, 1.2 * width) || length < 6 * width || area < 0.5 * width * width) return undefined;
  // Two rows of a fill and their joint end a row apart; a wall round a slim rib ends where it began.
  if (gap > 0.5 * width && area < FOLD * width * (length / 2)) return undefined;
  const samples = along(lines, length);
  return {
    lines,
    area,
    width,
    box: [left, low, right, high],
    samples,
    parent: undefined,
    kids: [],
    besideParent: undefined,
    filled: false,
    role: 'outer-wall',
    rows: undefined,
  };
}

/** A point of a line, mm, and the line it is on. */
export interface Sample {
  x: number;
  y: number;
  on: Measured;
}

/** Points at even distances along a line, with the piece on which they lie. */
export function along(lines: readonly Measured[], length: number, count = 20): Sample[] {
  const apart = length / count;
  const points: Sample[] = [];
  let left = apart / 2;
  for (const l of lines) {
    const own = l.length;
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
  const rows = rowsOf(loop);
  return inLoop(rows[rowAt(loop, rows.length, y)]!, x, y);
};

/** Whether a loop passes near a point, there about in the direction of `like` where that is given. */
export function isNear(loop: Loop, x: number, y: number, far: number, like?: Measured): boolean {
  const { box } = loop;
  if (x < box[0] - far || y < box[1] - far || x > box[2] + far || y > box[3] + far) return false;
  const rows = rowsOf(loop);
  const last = rowAt(loop, rows.length, y + far);
  for (let r = rowAt(loop, rows.length, y - far); r <= last; r++)
    for (const l of rows[r]!) {
      // Most lines are nowhere near.
      if ((l.x < x - far && l.x0 < x - far) || (l.x > x + far && l.x0 > x + far)) continue;
      if ((l.y < y - far && l.y0 < y - far) || (l.y > y + far && l.y0 > y + far)) continue;
      if (like) {
        const cross = (l.x - l.x0) * (like.y - like.y0) - (l.y - l.y0) * (like.x - like.x0);
        if (Math.abs(cross) > 0.4 * l.length * like.length) continue;
      }
      if (nearLine(l, x, y) < far) return true;
    }
  return false;
}

/** Whether a loop runs beside another at about the width of a line, most of its way, or beside it and its neighbours. */
export function beside(a: Loop, b: Loop): boolean {
  if (a.parent !== b) return runsBeside(a, b);
  return (a.besideParent ??= runsBeside(a, b));
}

function runsBeside(a: Loop, b: Loop): boolean {
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
  for (const l of order) [l.kids, l.parent, l.besideParent] = [[], undefined, undefined];
  order.forEach((loop, i) => {
    const p = loop.samples[0]!;
    for (let k = i + 1; k < order.length && !loop.parent; k++) {
      const o = order[k]!;
      if (o.area > loop.area && within(o, p.x, p.y)) loop.parent = o;
    }
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
  for (const root of roots) inward(root, root, 1, walls);
}

/** @param face the outer wall from which this one was come to */
function inward(loop: Loop, face: Loop, depth: number, walls: number): void {
  loop.role = depth === 1 ? 'outer-wall' : depth > walls ? 'fill' : 'inner-wall';
  // One or two more than elsewhere may be walls as well.
  if (loop.role === 'fill') loop.plain = depth > walls + 2;
  // What has air within and stands beside an outer wall is the other face of a thin part, unless it is laid at
  // another speed.
  if (depth > 1 && loop.kids.length === 0 && !loop.filled && loop.area > 40 * loop.width * loop.width)
    if (Math.abs(fastest(loop) - fastest(face)) < 0.08 * fastest(face)) loop.role = 'outer-wall';
  for (const kid of loop.kids) {
    if (beside(kid, loop)) inward(kid, face, depth + 1, walls);
    else if (!ringsFrom(kid, loop, walls)) hole(kid, 1, walls);
  }
}

/** A ring of sparse infill is at every point about as far from the one round it, in shares of that. */
const EVEN = 0.25;
/** The first ring may lie nearer to the wall than the rings to one another, or further, in shares of their distance. */
const FIRST: readonly [number, number] = [0.4, 1.4];

/**
 * Rings one within the other, evenly apart and with nothing between: sparse infill. Names them and says so. Of a single
 * one that is told only by its being alone, where the file has more walls than one.
 */
function ringsFrom(first: Loop, round: Loop, walls: number): boolean {
  const chain = [first];
  for (let last = first; last.kids.length === 1 && !beside(last.kids[0]!, last);) chain.push((last = last.kids[0]!));
  if (round.filled || chain.some((l) => l.filled) || chain.at(-1)!.kids.length > 0) return false;
  const gaps = chain.map((l, i) => evenGap(l, chain[i - 1] ?? round));
  if (gaps.some((g) => g === undefined)) return false;
  const [own, second] = gaps as [number, number | undefined];
  const alike = gaps.slice(1).every((g) => Math.abs(g! - second!) <= EVEN * second!);
  const plain = chain.length > 1 && alike && own >= FIRST[0] * second! && own <= FIRST[1] * second!;
  if (!plain && (chain.length > 1 || walls < 2)) return false;
  for (const l of chain) [l.role, l.plain] = ['ring', plain];
  return true;
}

/** How far a loop runs from the one round it, mm; undefined where that differs along it. */
function evenGap(loop: Loop, round: Loop): number | undefined {
  const far = loop.samples.map((p) =>
    round.lines.reduce((least, l) => Math.min(least, nearLine(l, p.x, p.y)), Infinity),
  );
  const [low, high] = [Math.min(...far), Math.max(...far)];
  return high - low <= EVEN * high ? (low + high) / 2 : undefined;
}

/** The highest speed of a loop’s lines: some may be slowed where they hang over. */
export const fastest = (loop: Loop): number => loop.lines.reduce((most, l) => Math.max(most, l.speed), 0);

/** Loops side by side inward to a hole; gives how many stand beyond this one. */
function hole(loop: Loop, depth: number, walls: number): number {
  const next = loop.kids.filter((k) => beside(k, loop));
  let beyond = 0;
  for (const kid of loop.kids) {
    if (next.includes(kid)) beyond = Math.max(beyond, 1 + hole(kid, depth + 1, walls));
    else inward(kid, kid, 1, walls);
  }
  loop.role = beyond === 0 ? 'outer-wall' : beyond < walls ? 'inner-wall' : 'fill';
  return beyond;
}

/** How many walls stand side by side from a root inward. */
export function wallsFrom(root: Loop): number {
  const kid = root.kids.find((k) => beside(k, root));
  return kid ? 1 + wallsFrom(kid) : 1;
}
