/** Cells of the grid along each side at most. */
const MOST_CELLS = 256;
/** A way that ends as near to a wall as this ends on it, however long it is, mm; files round places to 0.01 at most. */
const ON_WALL = 0.02;
/** A little more to either side for what lies on a border of cells by rounding, mm. */
const ON_BORDER = 1e-6;

/** A wall that a way crosses: its number, and the share of the way at which it does. */
export interface Crossed {
  wall: number;
  at: number;
}

/** Walls, four figures each, by the cells of a grid that their boxes touch: the work keeps in step with their number, however many there are. */
export class WallGrid {
  /** Where the walls of each cell begin among all, and one more for the end of the last. */
  private readonly begins: Uint32Array;
  private readonly inCell: Uint32Array;
  private readonly seen: Uint32Array;
  private stamp = 0;
  private readonly side: number;
  private x0 = Infinity;
  private y0 = Infinity;
  private readonly stepX: number;
  private readonly stepY: number;

  constructor(private readonly walls: readonly number[]) {
    let x1 = -Infinity;
    let y1 = -Infinity;
    for (let j = 0; j < walls.length; j += 2) {
      this.x0 = Math.min(this.x0, walls[j]!);
      this.y0 = Math.min(this.y0, walls[j + 1]!);
      x1 = Math.max(x1, walls[j]!);
      y1 = Math.max(y1, walls[j + 1]!);
    }
    const n = walls.length / 4;
    this.side = Math.max(1, Math.min(MOST_CELLS, Math.round(Math.sqrt(n))));
    this.stepX = (x1 - this.x0) / this.side || 1;
    this.stepY = (y1 - this.y0) / this.side || 1;
    this.seen = new Uint32Array(n);
    const begins = (this.begins = new Uint32Array(this.side ** 2 + 1));
    // Counted first, and put in their places from behind.
    this.each((at) => begins[at]!++);
    for (let at = 1; at < begins.length; at++) begins[at]! += begins[at - 1]!;
    this.inCell = new Uint32Array(begins[begins.length - 1]!);
    this.each((at, wall) => (this.inCell[--begins[at]!] = wall), true);
  }

  /** The walls that a way crosses. */
  crossed(ax: number, ay: number, bx: number, by: number): readonly Crossed[] {
    const stamp = ++this.stamp;
    let found: Crossed[] | undefined;
    const { walls: w, seen, begins, inCell, side } = this;
    const last = this.cell(Math.max(ay, by) + ON_BORDER, this.y0, this.stepY);
    for (let r = this.cell(Math.min(ay, by) - ON_BORDER, this.y0, this.stepY); r <= last; r++) {
      // The part of the way within the row; an outer one holds what lies beyond it, too.
      let p = ax;
      let q = bx;
      if (by !== ay && r > 0 && r < side - 1) {
        const low = this.y0 + r * this.stepY;
        p = ax + (bx - ax) * Math.max(0, Math.min(1, (low - ay) / (by - ay)));
        q = ax + (bx - ax) * Math.max(0, Math.min(1, (low + this.stepY - ay) / (by - ay)));
      }
      const from = r * side + this.cell(Math.min(p, q) - ON_BORDER, this.x0, this.stepX);
      const to = r * side + this.cell(Math.max(p, q) + ON_BORDER, this.x0, this.stepX);
      for (let k = begins[from]!; k < begins[to + 1]!; k++) {
        const wall = inCell[k]!;
        if (seen[wall] === stamp) continue;
        seen[wall] = stamp;
        const j = 4 * wall;
        const at = cross(ax, ay, bx, by, w[j]!, w[j + 1]!, w[j + 2]!, w[j + 3]!);
        if (at !== undefined) (found ??= []).push({ wall, at });
      }
    }
    return found ?? [];
  }

  /** Gives every wall to each cell that its box touches. */
  private each(give: (cell: number, wall: number) => void, backwards = false): void {
    const { walls: w } = this;
    const n = w.length / 4;
    for (let i = 0; i < n; i++) {
      const wall = backwards ? n - 1 - i : i;
      const j = 4 * wall;
      const c0 = this.cell(Math.min(w[j]!, w[j + 2]!) - ON_BORDER, this.x0, this.stepX);
      const c1 = this.cell(Math.max(w[j]!, w[j + 2]!) + ON_BORDER, this.x0, this.stepX);
      const r0 = this.cell(Math.min(w[j + 1]!, w[j + 3]!) - ON_BORDER, this.y0, this.stepY);
      const r1 = this.cell(Math.max(w[j + 1]!, w[j + 3]!) + ON_BORDER, this.y0, this.stepY);
      for (let r = r0; r <= r1; r++) for (let c = c0; c <= c1; c++) give(r * this.side + c, wall);
    }
  }

  /** The row or column of a place. */
  private cell(v: number, from: number, step: number): number {
    return Math.max(0, Math.min(this.side - 1, Math.floor((v - from) / step)));
  }
}

/** The share of a way at which it crosses a wall; undefined where it does not. */
function cross(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  cx: number,
  cy: number,
  dx: number,
  dy: number,
): number | undefined {
  const r = (bx - ax) * (dy - cy) - (by - ay) * (dx - cx);
  if (r === 0) return undefined;
  const t = ((cx - ax) * (dy - cy) - (cy - ay) * (dx - cx)) / r;
  const u = ((cx - ax) * (by - ay) - (cy - ay) * (bx - ax)) / r;
  // Travel starts and ends on walls: touching at its own ends is no crossing.
  const end = ON_WALL / Math.sqrt((bx - ax) ** 2 + (by - ay) ** 2);
  return t > end && t < 1 - end && u >= 0 && u < 1 ? t : undefined;
}
