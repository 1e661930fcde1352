/** Cells of the grid along each side at most. */
const MOST_CELLS = 256;
/** A way that ends as near to a wall as this ends on it, however long it is, mm; files round places to 0.01 at most. */
const ON_WALL = 0.02;

/** Walls, four figures each, by the cells of a grid that their boxes touch: the work keeps in step with their number, however many there are. */
export class WallGrid {
  private readonly cells: number[][];
  private readonly seen: Uint32Array;
  private stamp = 0;
  private readonly side: number;
  private x0 = Infinity;
  private y0 = Infinity;
  private readonly stepX: number;
  private readonly stepY: number;

  constructor(private readonly walls: readonly number[]) {
    let [x1, y1] = [-Infinity, -Infinity];
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
    this.cells = Array.from({ length: this.side ** 2 }, () => []);
    this.seen = new Uint32Array(n);
    for (let j = 0; j < walls.length; j += 4) {
      const [c0, c1] = this.columns(walls[j]!, walls[j + 2]!);
      const [r0, r1] = this.rows(walls[j + 1]!, walls[j + 3]!);
      for (let r = r0; r <= r1; r++) for (let c = c0; c <= c1; c++) this.cells[r * this.side + c]!.push(j);
    }
  }

  /** The walls that a way crosses: the number of each, and the share of the way at which it does. */
  crossed(ax: number, ay: number, bx: number, by: number): { wall: number; at: number }[] {
    const stamp = ++this.stamp;
    const found: { wall: number; at: number }[] = [];
    const [r0, r1] = this.rows(ay, by);
    for (let r = r0; r <= r1; r++) {
      // The part of the way within the row.
      const low = this.y0 + r * this.stepY;
      const along = (y: number) => (by === ay ? NaN : Math.max(0, Math.min(1, (y - ay) / (by - ay))));
      const [t0, t1] = by === ay ? [0, 1] : [along(low), along(low + this.stepY)];
      const edge = r === 0 || r === this.side - 1;
      const [p, q] = edge ? [ax, bx] : [ax + (bx - ax) * t0, ax + (bx - ax) * t1];
      const [c0, c1] = this.columns(p, q);
      for (let c = c0; c <= c1; c++)
        for (const j of this.cells[r * this.side + c]!) {
          if (this.seen[j / 4] === stamp) continue;
          this.seen[j / 4] = stamp;
          const w = this.walls;
          const at = cross(ax, ay, bx, by, w[j]!, w[j + 1]!, w[j + 2]!, w[j + 3]!);
          if (at !== undefined) found.push({ wall: j / 4, at });
        }
    }
    return found;
  }

  private columns(a: number, b: number): [number, number] {
    return this.span(a, b, this.x0, this.stepX);
  }

  private rows(a: number, b: number): [number, number] {
    return this.span(a, b, this.y0, this.stepY);
  }

  /** The cells between two places; a little more to either side for what lies on a border by rounding. */
  private span(a: number, b: number, from: number, step: number): [number, number] {
    const at = (v: number) => Math.max(0, Math.min(this.side - 1, Math.floor((v - from) / step)));
    return [at(Math.min(a, b) - 1e-6), at(Math.max(a, b) + 1e-6)];
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
  const end = ON_WALL / Math.hypot(bx - ax, by - ay);
  return t > end && t < 1 - end && u >= 0 && u < 1 ? t : undefined;
}
