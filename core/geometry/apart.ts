import { inRing } from './measure';
import type { WholeRing } from './whole';

/** Beyond this the product of two differences is no exact number any more. */
const EXACT = 2 ** 25;

// Edges of the rings asked about, reused from call to call: flat, since this is asked thousands of times a layer.
let x0 = new Float64Array(0);
let y0 = x0;
let x1 = x0;
let y1 = x0;
let next = new Int32Array(0);
let low = next;
let high = next;
let order = next;
let active = next;
let starts = next;

function makeRoom(n: number): void {
  if (n <= next.length) return;
  const [floats, whole] = [() => new Float64Array(2 * n), () => new Int32Array(2 * n)];
  [x0, y0, x1, y1] = [floats(), floats(), floats(), floats()];
  [next, low, high, order, active] = [whole(), whole(), whole(), whole(), whole()];
  starts = new Int32Array(2 * n + 2);
}

/**
 * Whether no two edges of rings meet, but at the corner that they share. Rings of which this holds are ordered by what
 * lies in what alone.
 *
 * @param rings whole numbers, no corner twice in a row; one beyond ±2²⁵ is not answered for: false
 */
export function standApart(rings: readonly WholeRing[]): boolean {
  let n = 0;
  for (const ring of rings) n += ring.length;
  makeRoom(n);
  let [left, right, bottom, top] = [Infinity, -Infinity, Infinity, -Infinity];
  let k = 0;
  for (const ring of rings) {
    let a = ring[ring.length - 1]!;
    for (const b of ring) {
      x0[k] = a.x;
      y0[k] = a.y;
      x1[k] = b.x;
      y1[k] = b.y;
      if (b.x < left) left = b.x;
      if (b.x > right) right = b.x;
      if (b.y < bottom) bottom = b.y;
      if (b.y > top) top = b.y;
      a = b;
      k++;
    }
  }
  if (n > 0) closeNext(rings);
  if (!(left > -EXACT && right < EXACT && bottom > -EXACT && top < EXACT)) return false;
  if (n <= FEW) {
    for (let i = 1; i < n; i++) for (let j = 0; j < i; j++) if (meet(i, j)) return false;
    return true;
  }
  return sweep(n, right - left >= top - bottom, left, bottom, Math.max(right - left, top - bottom));
}

/** Which edge follows which. */
function closeNext(rings: readonly WholeRing[]): void {
  let k = 0;
  for (const ring of rings) {
    for (let i = 0; i < ring.length; i++) next[k + i] = k + i + 1;
    next[k + ring.length - 1] = k;
    k += ring.length;
  }
}

/** Of so few edges every pair is looked at. */
const FEW = 24;

/** Edges in columns along the longer side: each is held against those that begin before it and reach its column. */
function sweep(n: number, byX: boolean, left: number, bottom: number, extent: number): boolean {
  const [from, to, zero] = byX ? [x0, x1, left] : [y0, y1, bottom];
  const step = n / (extent + 1);
  starts.fill(0, 0, n + 1);
  for (let i = 0; i < n; i++) {
    const a = Math.floor((from[i]! - zero) * step);
    const b = Math.floor((to[i]! - zero) * step);
    low[i] = a < b ? a : b;
    high[i] = a < b ? b : a;
    starts[low[i]! + 1]!++;
  }
  for (let c = 0; c < n; c++) starts[c + 1]! += starts[c]!;
  for (let i = 0; i < n; i++) order[starts[low[i]!]!++] = i;
  let held = 0;
  for (let o = 0; o < n; o++) {
    const i = order[o]!;
    const column = low[i]!;
    for (let h = 0; h < held; h++) {
      const j = active[h]!;
      if (high[j]! < column) active[h--] = active[--held]!;
      else if (meet(i, j)) return false;
    }
    active[held++] = i;
  }
  return true;
}

/** Whether two edges meet; those that follow one another in a ring share their corner. */
function meet(i: number, j: number): boolean {
  if (next[i] === j || next[j] === i) return false;
  const ax = x0[i]!;
  const bx = x1[i]!;
  const cx = x0[j]!;
  const dx = x1[j]!;
  if (ax < bx ? (cx < ax && dx < ax) || (cx > bx && dx > bx) : (cx < bx && dx < bx) || (cx > ax && dx > ax))
    return false;
  const ay = y0[i]!;
  const by = y1[i]!;
  const cy = y0[j]!;
  const dy = y1[j]!;
  if (ay < by ? (cy < ay && dy < ay) || (cy > by && dy > by) : (cy < by && dy < by) || (cy > ay && dy > ay))
    return false;
  const ux = bx - ax;
  const uy = by - ay;
  const c = ux * (cy - ay) - uy * (cx - ax);
  const d = ux * (dy - ay) - uy * (dx - ax);
  if ((c > 0 && d > 0) || (c < 0 && d < 0)) return false;
  const vx = dx - cx;
  const vy = dy - cy;
  const a = vx * (ay - cy) - vy * (ax - cx);
  const b = vx * (by - cy) - vy * (bx - cx);
  return !((a > 0 && b > 0) || (a < 0 && b < 0));
}

/** What is kept of rings by the windings of two sets of them. */
export type Kept = (first: number, second: number) => boolean;

/**
 * The rings that border what is kept, of two sets of rings that all stand apart: of these, what lies in what tells
 * everything. A ring turns left where what is kept lies within it.
 *
 * @param first how many of the rings belong to the first set
 */
export function bordering(rings: readonly WholeRing[], first: number, kept: Kept): WholeRing[] {
  const boxes = rings.map(boxOf);
  const rowAt = inRows(boxes);
  return rings.flatMap((ring, i) => {
    const { x, y } = ring[0]!;
    const around = [0, 0];
    for (const j of rowAt(y)) {
      const box = boxes[j]!;
      if (j === i || x < box.x0 || x > box.x1 || y < box.y0 || y > box.y1) continue;
      if (inRing(rings[j]!, x, y)) around[j < first ? 0 : 1]! += box.turn;
    }
    const out = kept(around[0]!, around[1]!);
    around[i < first ? 0 : 1]! += boxes[i]!.turn;
    const within = kept(around[0]!, around[1]!);
    if (out === within) return [];
    return [boxes[i]!.turn > 0 === within ? ring : [...ring].reverse()];
  });
}

/** Of fewer boxes every one is looked at. */
const MANY = 48;

/** Which boxes lie at a height, and perhaps a few more, by rows: of many rings, few lie beside one another. */
function inRows(boxes: readonly { y0: number; y1: number }[]): (y: number) => readonly number[] {
  const all = boxes.map((_, j) => j);
  if (boxes.length < MANY) return () => all;
  let [low, high] = [Infinity, -Infinity];
  for (const { y0, y1 } of boxes) {
    if (y0 < low) low = y0;
    if (y1 > high) high = y1;
  }
  const count = Math.ceil(boxes.length / 4);
  const step = (high - low) / count || 1;
  const rowOf = (y: number) => Math.max(0, Math.min(count - 1, Math.floor((y - low) / step)));
  const rows: number[][] = Array.from({ length: count }, () => []);
  boxes.forEach(({ y0, y1 }, j) => {
    for (let r = rowOf(y0); r <= rowOf(y1); r++) rows[r]!.push(j);
  });
  return (y) => rows[rowOf(y)]!;
}

/** The box of a ring, and 1 where it turns left, −1 where right. */
function boxOf(ring: WholeRing) {
  const box = { x0: Infinity, x1: -Infinity, y0: Infinity, y1: -Infinity, turn: 0 };
  let twice = 0;
  let a = ring[ring.length - 1]!;
  for (const b of ring) {
    twice += (a.x - ring[0]!.x) * (b.y - ring[0]!.y) - (b.x - ring[0]!.x) * (a.y - ring[0]!.y);
    if (b.x < box.x0) box.x0 = b.x;
    if (b.x > box.x1) box.x1 = b.x;
    if (b.y < box.y0) box.y0 = b.y;
    if (b.y > box.y1) box.y1 = b.y;
    a = b;
  }
  box.turn = twice > 0 ? 1 : -1;
  return box;
}
