/** Lines of a layer: x0 y0 x1 y1 of each, mm. */
export type Ends = ArrayLike<number>;

/** How far beside one another two lines may run and still be the same, mm: half of what a line is wide is another line. */
const BESIDE = 0.08;
/** Sine of the angle that they may turn against one another. */
const TURN = 0.17;
/** Side of a square of the grid, mm. */
const SQUARE = 1;
/** A line is looked at so often, mm. */
const STEP = 0.5;
/** Of a line, so much must run on lines of the other layer to be one of both. */
const SAME = 0.5;

/**
 * Which lines of a layer have no fellow in another: 1 for those, 0 for lines that run on lines of the other. Where lines
 * begin and end does not matter, nor which way they are laid.
 *
 * Source: our own; each line is sampled and looked up among the other layer's lines nearby.
 */
export function ownLines(lines: Ends, other: Ends): Uint8Array {
  const grid = new Map<number, number[]>();
  const key = (x: number, y: number) => Math.floor(x / SQUARE) * 65_536 + Math.floor(y / SQUARE);
  for (let k = 0; k < other.length; k += 4) {
    for (const [x, y] of throughout(other, k, SQUARE / 2)) {
      // A line near the border of a square is looked for from the next one too.
      for (const dx of [-BESIDE, BESIDE])
        for (const dy of [-BESIDE, BESIDE]) {
          const at = key(x + dx, y + dy);
          const list = grid.get(at);
          if (!list) grid.set(at, [k]);
          else if (list[list.length - 1] !== k) list.push(k);
        }
    }
  }
  const own = new Uint8Array(lines.length / 4);
  for (let k = 0; k < lines.length; k += 4) {
    let [on, all] = [0, 0];
    for (const [x, y] of along(lines, k, STEP)) {
      all++;
      if ((grid.get(key(x, y)) ?? []).some((o) => beside(lines, k, other, o, x, y))) on++;
    }
    own[k / 4] = on >= SAME * all ? 0 : 1;
  }
  return own;
}

/** The middles of equal parts of a line, and its ends: a short one may lie in two squares. */
function* throughout(lines: Ends, k: number, step: number): Generator<[number, number]> {
  yield [lines[k]!, lines[k + 1]!];
  yield* along(lines, k, step);
  yield [lines[k + 2]!, lines[k + 3]!];
}

/** The middles of equal parts of a line. */
function* along(lines: Ends, k: number, step: number): Generator<[number, number]> {
  const [x0, y0] = [lines[k]!, lines[k + 1]!];
  const [dx, dy] = [lines[k + 2]! - x0, lines[k + 3]! - y0];
  const n = Math.max(1, Math.ceil(Math.sqrt(dx * dx + dy * dy) / step));
  for (let i = 0; i < n; i++) yield [x0 + (dx * (i + 0.5)) / n, y0 + (dy * (i + 0.5)) / n];
}

/** Whether a line runs through a point, within a hair, in the direction of another. */
function beside(a: Ends, i: number, b: Ends, k: number, x: number, y: number): boolean {
  const [dx, dy] = [b[k + 2]! - b[k]!, b[k + 3]! - b[k + 1]!];
  const square = dx * dx + dy * dy;
  if (square === 0) return false;
  const t = Math.max(0, Math.min(1, ((x - b[k]!) * dx + (y - b[k + 1]!) * dy) / square));
  const [ox, oy] = [x - b[k]! - t * dx, y - b[k + 1]! - t * dy];
  if (ox * ox + oy * oy > BESIDE * BESIDE) return false;
  const [ex, ey] = [a[i + 2]! - a[i]!, a[i + 3]! - a[i + 1]!];
  const cross = dx * ey - dy * ex;
  return cross * cross <= TURN * TURN * square * (ex * ex + ey * ey);
}
