import type { Ends } from '#core/factors';
import type { Loop } from './loops';

const CELL = 0.6;
const SIDE = 1024;
/** Covered, but by no bottom that began shortly beneath. */
const COVERED = 255;
/** Air, with a line of a support. */
const SUPPORT = 254;

/**
 * What the part covers in one layer, as squares of 0.6 mm: 0 for air, else for how many layers a solid bottom has gone
 * on there, or that it is no bottom.
 */
export class Coverage {
  empty = true;
  private squares = new Uint8Array(SIDE * SIDE);
  /** Rows that are not all air. */
  private rows: [number, number] = [SIDE, -1];
  private x0 = 0;
  private y0 = 0;

  /** A fresh layer over this one, covered within the loops; `spare` is one that is not needed any more. */
  next(roots: readonly Loop[], spare?: Coverage): Coverage {
    const above = spare?.cleared() ?? new Coverage();
    const first = roots[0];
    if (this.empty && first) {
      above.x0 = Math.round((first.box[0] + first.box[2]) / 2) - (SIDE * CELL) / 2;
      above.y0 = Math.round((first.box[1] + first.box[3]) / 2) - (SIDE * CELL) / 2;
    } else [above.x0, above.y0] = [this.x0, this.y0];
    above.empty = this.empty && !first;
    for (const root of roots) above.paint(root, COVERED);
    return above;
  }

  /** Layers for which a solid bottom has gone on at a point; 0 over air. */
  bottomAt(x: number, y: number): number {
    const square = this.at(x, y);
    return square === SUPPORT ? 0 : square;
  }

  /** Whether a support was laid at a point. */
  supportAt(x: number, y: number): boolean {
    return this.at(x, y) === SUPPORT;
  }

  /** Marks a line as part of a bottom. */
  bottom(l: Ends, layers: number): void {
    this.mark(l, layers);
  }

  /** Marks a line as part of a support. */
  support(l: Ends): void {
    this.mark(l, SUPPORT);
  }

  private at(x: number, y: number): number {
    const i = Math.floor((x - this.x0) / CELL);
    const j = Math.floor((y - this.y0) / CELL);
    return i < 0 || j < 0 || i >= SIDE || j >= SIDE ? COVERED : this.squares[j * SIDE + i]!;
  }

  private mark(l: Ends, value: number): void {
    const steps = Math.max(1, Math.ceil(Math.hypot(l.x - l.x0, l.y - l.y0) / (CELL / 2)));
    for (let s = 0; s <= steps; s++) {
      const i = Math.floor((l.x0 + ((l.x - l.x0) * s) / steps - this.x0) / CELL);
      const j = Math.floor((l.y0 + ((l.y - l.y0) * s) / steps - this.y0) / CELL);
      if (i < 0 || j < 0 || i >= SIDE || j >= SIDE) continue;
      this.touch(j, j);
      this.squares[j * SIDE + i] = value;
    }
  }

  private cleared(): this {
    this.squares.fill(0, this.rows[0] * SIDE, Math.max(0, this.rows[1] + 1) * SIDE);
    this.rows = [SIDE, -1];
    this.empty = true;
    return this;
  }

  private touch(from: number, to: number): void {
    if (from < this.rows[0]) this.rows[0] = from;
    if (to > this.rows[1]) this.rows[1] = to;
  }

  private paint(loop: Loop, value: number): void {
    const { lines, box } = loop;
    const row0 = Math.max(0, Math.floor((box[1] - this.y0) / CELL));
    const row1 = Math.min(SIDE - 1, Math.ceil((box[3] - this.y0) / CELL));
    this.touch(row0, row1);
    const cuts = cutsOf(row1 - row0 + 1);
    for (const l of lines) {
      const low = l.y0 < l.y ? l.y0 : l.y;
      const high = l.y0 < l.y ? l.y : l.y0;
      const a = Math.max(row0, Math.ceil((low - this.y0) / CELL - 0.5));
      const b = Math.min(row1, Math.floor((high - this.y0) / CELL - 0.5));
      for (let j = a; j <= b; j++) {
        const y = this.y0 + (j + 0.5) * CELL;
        if (l.y0 > y !== l.y > y) cuts[j - row0]!.push(l.x0 + ((y - l.y0) / (l.y - l.y0)) * (l.x - l.x0));
      }
    }
    for (let j = row0; j <= row1; j++) {
      const row = inOrder(cuts[j - row0]!);
      for (let c = 0; c + 1 < row.length; c += 2) {
        const from = Math.max(0, Math.ceil((row[c]! - this.x0) / CELL - 0.5));
        const to = Math.min(SIDE - 1, Math.floor((row[c + 1]! - this.x0) / CELL - 0.5));
        if (to >= from) this.squares.fill(value, j * SIDE + from, j * SIDE + to + 1);
      }
    }
    // Loops beside one another bound the same solid; the outer wall of a hole cuts it out, one within that is solid again.
    for (const kid of loop.kids) this.paint(kid, kid.role !== 'outer-wall' ? value : value === 0 ? COVERED : 0);
  }
}

const rowCuts: number[][] = [];

/** Empty rows for where a loop crosses them: the same for every loop, as there are many. */
function cutsOf(count: number): number[][] {
  while (rowCuts.length < count) rowCuts.push([]);
  for (let j = 0; j < count; j++) rowCuts[j]!.length = 0;
  return rowCuts;
}

/** Rows up to so long are put in order by hand: nearly all hold two figures or four. */
const SHORT = 16;

/** Figures in place, rising. */
function inOrder(row: number[]): number[] {
  if (row.length > SHORT) return row.sort((a, b) => a - b);
  for (let i = 1; i < row.length; i++) {
    const value = row[i]!;
    let k = i;
    for (; k > 0 && row[k - 1]! > value; k--) row[k] = row[k - 1]!;
    row[k] = value;
  }
  return row;
}
