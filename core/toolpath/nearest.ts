import type { Point } from '#core/geometry';

/** Of so few every one is looked at. */
const FEW = 24;

/**
 * Finds places by how near they are, and hands them out one after the other, always the nearest that is left; of equals
 * the first. They stand in squares, so
 * that each question looks at few of them: the nearest of thousands, asked thousands of times, would cost their square.
 */
export class Nearest {
  private readonly left: Uint8Array;
  private count: number;
  /** Places by square. They may be named in two, and stay there after they were handed out. */
  private squares: number[][] = [];
  private columns = 1;
  private rows = 1;
  private size = 1;
  private x0 = 0;
  private y0 = 0;
  /** How many were left when the squares were laid out. */
  private laid = 0;

  /** @param ends where each can be reached; one place or two */
  constructor(private readonly ends: readonly (readonly Point[])[]) {
    this.count = ends.length;
    this.left = new Uint8Array(ends.length).fill(1);
    this.layOut();
  }

  get isEmpty(): boolean {
    return this.count === 0;
  }

  /** The number of the nearest that is left; it is not handed out again. −1 where none is left. */
  take(from: Point): number {
    if (this.count === 0) return -1;
    // Where few are left, the squares of those that are gone cost more than they spare.
    if (this.laid > FEW && this.count < this.laid / 4) this.layOut();
    let { place } = this.find(from);
    // From nowhere all are as far.
    if (place < 0) place = this.left.indexOf(1);
    this.left[place] = 0;
    this.count--;
    return place;
  }

  /** The nearest that is left, and how far it is, mm; −1 where there is none. */
  find(from: Point): { place: number; far: number } {
    const [column, row] = [this.column(from.x), this.row(from.y)];
    let best = -1;
    let least = Infinity;
    // Square rings outwards; what lies in one further off than the best so far cannot be nearer.
    const most = Math.max(this.columns, this.rows);
    for (let r = 0; r <= most && (r - 1) * this.size <= least; r++) {
      const [top, bottom] = [Math.min(this.rows - 1, row + r), Math.max(0, row - r)];
      for (let j = bottom; j <= top; j++) {
        const edge = j === row - r || j === row + r;
        for (let i = column - r; i <= column + r; i += edge || r === 0 ? 1 : 2 * r) {
          if (i < 0 || i >= this.columns) continue;
          const square = this.squares[j * this.columns + i]!;
          for (let k = 0; k < square.length; k++) {
            const place = square[k]!;
            if (this.left[place] === 0) {
              // It was handed out: the last of the square takes its room.
              square[k--] = square[square.length - 1]!;
              square.pop();
              continue;
            }
            const far = this.farOf(place, from);
            if (far < least || (far === least && place < best)) [least, best] = [far, place];
          }
        }
      }
    }
    return { place: best, far: least };
  }

  private farOf(place: number, from: Point): number {
    let least = Infinity;
    for (const p of this.ends[place]!) least = Math.min(least, Math.hypot(p.x - from.x, p.y - from.y));
    return least;
  }

  private column(x: number): number {
    return Math.max(0, Math.min(this.columns - 1, Math.floor((x - this.x0) / this.size)));
  }

  private row(y: number): number {
    return Math.max(0, Math.min(this.rows - 1, Math.floor((y - this.y0) / this.size)));
  }

  private layOut(): void {
    const { ends, left } = this;
    let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
    ends.forEach((places, k) => {
      if (left[k] === 0) return;
      for (const p of places) {
        x0 = Math.min(x0, p.x);
        y0 = Math.min(y0, p.y);
        x1 = Math.max(x1, p.x);
        y1 = Math.max(y1, p.y);
      }
    });
    this.laid = this.count;
    [this.x0, this.y0] = [x0, y0];
    // About as many squares as places.
    const many = this.count > FEW ? this.count : 1;
    this.size = Math.max(1e-3, Math.sqrt(((x1 - x0) * (y1 - y0)) / many), Math.max(x1 - x0, y1 - y0) / many) || 1;
    this.columns = many === 1 ? 1 : Math.floor((x1 - x0) / this.size) + 1;
    this.rows = many === 1 ? 1 : Math.floor((y1 - y0) / this.size) + 1;
    this.squares = Array.from({ length: this.columns * this.rows }, () => []);
    ends.forEach((places, k) => {
      if (left[k] === 0) return;
      const own = places.map((p) => this.row(p.y) * this.columns + this.column(p.x));
      for (const square of new Set(own)) this.squares[square]!.push(k);
    });
  }
}
