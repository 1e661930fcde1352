import { bordering, standApart } from './apart';
import { cleaned, SCALE, type WholeRing } from './whole';

/** A mitre is no longer than so many times the offset; a sharper corner is cut square on the side where it grows. */
export const MITRE = 2;
/** The cosine of the turn, 120°, from which on a mitre would be longer. */
const SQUARE = 2 / MITRE ** 2 - 1;
/** A corner that turns back on itself has no mitre. */
const SPIKE = -0.99;

/**
 * Rings grown or shrunk by shifting their edges, corners sharp up to a mitre of 2. An edge that turns over between two
 * corners that shrink is left out, and its neighbours meet. Where more happens (necks that part, rings that run into
 * one another), that is for a library to sort out.
 *
 * @param rings whole numbers, cleaned; outlines turn left, holes right
 * @param by mm
 * @returns undefined where this way does not answer
 */
export function mitred(rings: readonly WholeRing[], by: number): WholeRing[] | undefined {
  const found: WholeRing[] = [];
  for (const ring of rings) {
    const shifted = shift(ring, -by * SCALE);
    if (!shifted) return undefined;
    const clean = shifted.length > 0 && cleaned(shifted);
    if (clean) found.push(clean);
  }
  if (found.length === 0) return found;
  if (found.length === 1 && rings.length === 1 && convex(found[0]!)) return found;
  if (!standApart(found)) return undefined;
  // Whoever grew round another ring, or past the outline it lay in, borders nothing any more, or something else.
  return bordering(found, found.length, (winding) => winding > 0);
}

/**
 * Whether rings shrunk by `by` and grown again are what they were: nothing of them turned over on the way, and no corner
 * is so sharp that it would be cut square.
 *
 * @param shrunk what {@link mitred} made of them
 */
export const growsBack = (rings: readonly WholeRing[], shrunk: readonly WholeRing[]): boolean =>
  rings.length === shrunk.length && rings.every((ring, i) => ring.length === shrunk[i]!.length && blunt(ring));

function blunt(ring: WholeRing): boolean {
  const n = ring.length;
  for (let i = 0; i < n; i++) {
    const [a, b, c] = [ring[i]!, ring[i + 1 < n ? i + 1 : 0]!, ring[(i + 2) % n]!];
    const [ax, ay, bx, by] = [b.x - a.x, b.y - a.y, c.x - b.x, c.y - b.y];
    if (ax * bx + ay * by <= SQUARE * Math.sqrt((ax * ax + ay * ay) * (bx * bx + by * by))) return false;
  }
  return true;
}

/** Whether a ring turns left all the way, and once: no edge of it can meet another. */
function convex(ring: WholeRing): boolean {
  const n = ring.length;
  let turns = 0;
  for (let i = 0; i < n; i++) {
    const [a, b, c] = [ring[i]!, ring[(i + 1) % n]!, ring[(i + 2) % n]!];
    if ((b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x) <= 0) return false;
    if (b.x - a.x > 0 !== c.x - b.x > 0) turns++;
  }
  return turns <= 2;
}

// A ring in work, reused from call to call: directions of its edges, the points where its corners come to lie (two
// where one is cut square), and which edge follows which.
let ux = new Float64Array(0);
let uy = ux;
let fromX = ux;
let fromY = ux;
let toX = ux;
let toY = ux;
let next = new Int32Array(0);
let before = next;
let waiting = next;

function makeRoom(n: number): void {
  if (n <= next.length) return;
  const [floats, whole] = [() => new Float64Array(2 * n), () => new Int32Array(2 * n)];
  [ux, uy, fromX, fromY, toX, toY] = [floats(), floats(), floats(), floats(), floats(), floats()];
  [next, before, waiting] = [whole(), whole(), whole()];
}

/** A ring with its edges shifted to the left by `d`; empty where nothing is left, undefined where it does not say. */
function shift(ring: WholeRing, d: number): WholeRing | undefined {
  const n = ring.length;
  makeRoom(n);
  for (let i = 0; i < n; i++) {
    const a = ring[i]!;
    const b = ring[i + 1 < n ? i + 1 : 0]!;
    const length = Math.sqrt((b.x - a.x) ** 2 + (b.y - a.y) ** 2);
    ux[i] = (b.x - a.x) / length;
    uy[i] = (b.y - a.y) / length;
    next[i] = i + 1 < n ? i + 1 : 0;
    before[i] = i > 0 ? i - 1 : n - 1;
  }
  let shrinking = 0;
  for (let i = 0; i < n; i++) {
    const corner = joined(ring[i]!, before[i]!, i, d);
    if (corner === undefined) return undefined;
    if (corner) shrinking++;
  }
  let waits = 0;
  for (let i = 0; i < n; i++) if (turnedOver(i)) waiting[waits++] = i;
  let left = n;
  // An edge less may turn over its neighbours in their turn.
  while (waits > 0) {
    const i = waiting[--waits]!;
    if (next[i]! < 0 || !turnedOver(i)) continue;
    const [a, b] = [before[i]!, next[i]!];
    if (!shrinks(a, i, d) || !shrinks(i, b, d)) return undefined;
    // What turns left all the way round holds nothing once three of its edges do not.
    if (--left < 3 || !met(ring, a, b, d)) return shrinking === n ? [] : undefined;
    next[a] = b;
    before[b] = a;
    next[i] = -1;
    if (turnedOver(a)) waiting[waits++] = a;
    if (turnedOver(b)) waiting[waits++] = b;
  }
  const shifted: WholeRing = [];
  for (let i = 0; i < n; i++) {
    if (next[i]! < 0) continue;
    shifted.push({ x: Math.round(toX[i]!), y: Math.round(toY[i]!) });
    if (toX[i] !== fromX[i] || toY[i] !== fromY[i])
      shifted.push({ x: Math.round(fromX[i]!), y: Math.round(fromY[i]!) });
  }
  return shifted;
}

/** Whether the corner of two edges lies on the side where they get shorter. */
const shrinks = (a: number, b: number, d: number): boolean => (ux[a]! * uy[b]! - uy[a]! * ux[b]!) * d > 0;

/** Whether an edge, its ends shifted, runs backwards or is gone. */
const turnedOver = (i: number): boolean =>
  (toX[next[i]!]! - fromX[i]!) * ux[i]! + (toY[next[i]!]! - fromY[i]!) * uy[i]! <= 0;

/** Puts the corner `p` of the edges `a` and `b` where it comes to lie: whether it shrinks. */
function joined(p: { x: number; y: number }, a: number, b: number, d: number): boolean | undefined {
  const cos = ux[a]! * ux[b]! + uy[a]! * uy[b]!;
  if (cos < SPIKE) return undefined;
  const shrink = shrinks(a, b, d);
  const nx = -uy[a]! - uy[b]!;
  const ny = ux[a]! + ux[b]!;
  if (shrink || cos > SQUARE) {
    const by = d / (1 + cos);
    toX[b] = fromX[b] = p.x + nx * by;
    toY[b] = fromY[b] = p.y + ny * by;
    return shrink;
  }
  // Square: cut across the middle at the distance of the offset, between the two shifted edges.
  const half = Math.sqrt((1 + cos) / 2);
  const along = (Math.abs(d) * (1 - half)) / Math.sqrt(1 - half * half);
  toX[b] = p.x - uy[a]! * d + ux[a]! * along;
  toY[b] = p.y + ux[a]! * d + uy[a]! * along;
  fromX[b] = p.x - uy[b]! * d - ux[b]! * along;
  fromY[b] = p.y + ux[b]! * d - uy[b]! * along;
  return false;
}

/** Puts the corner of two edges that did not follow one another where they meet, once shifted; false where they do not. */
function met(ring: WholeRing, a: number, b: number, d: number): boolean {
  const cross = ux[a]! * uy[b]! - uy[a]! * ux[b]!;
  if (!(cross * Math.sign(d) > 1e-9)) return false;
  const px = ring[b]!.x - uy[b]! * d - (ring[a]!.x - uy[a]! * d);
  const py = ring[b]!.y + ux[b]! * d - (ring[a]!.y + ux[a]! * d);
  const t = (px * uy[b]! - py * ux[b]!) / cross;
  toX[b] = fromX[b] = ring[a]!.x - uy[a]! * d + ux[a]! * t;
  toY[b] = fromY[b] = ring[a]!.y + ux[a]! * d + uy[a]! * t;
  return true;
}
