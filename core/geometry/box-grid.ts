import { boxesMeet } from './measure';
import type { Box } from './shapes';

/** Fewer than so many are looked at one by one. */
const FEW = 12;
/** Cells of the grid along each side at most. */
const MOST_CELLS = 64;

/** Things with a box, by the cells of a grid that their boxes touch: who asks what lies near looks at few of them. */
export class BoxGrid<T extends { readonly box: Box }> {
  private readonly cells: number[][] | undefined;
  private readonly side: number;
  private readonly seen: Uint32Array;
  private stamp = 0;
  private readonly x0: number;
  private readonly y0: number;
  private readonly stepX: number;
  private readonly stepY: number;

  constructor(readonly items: readonly T[]) {
    const n = items.length;
    this.side = Math.max(1, Math.min(MOST_CELLS, Math.round(Math.sqrt(n))));
    this.seen = new Uint32Array(n);
    let [x0, y0, x1, y1] = [Infinity, Infinity, -Infinity, -Infinity];
    for (const { box } of items) {
      x0 = Math.min(x0, box.x0);
      y0 = Math.min(y0, box.y0);
      x1 = Math.max(x1, box.x1);
      y1 = Math.max(y1, box.y1);
    }
    this.x0 = x0;
    this.y0 = y0;
    this.stepX = (x1 - x0) / this.side || 1;
    this.stepY = (y1 - y0) / this.side || 1;
    if (n < FEW) return;
    this.cells = Array.from({ length: this.side ** 2 }, () => []);
    items.forEach(({ box }, i) => {
      this.each(box, 0, (cell) => cell.push(i));
    });
  }

  /** Those whose boxes are no further from a box than `by`, mm, in their order. */
  near(box: Box, by = 0): T[] {
    const { items, seen } = this;
    if (!this.cells) return items.filter((i) => boxesMeet(i.box, box, by));
    const stamp = ++this.stamp;
    const found: number[] = [];
    this.each(box, by, (cell) => {
      for (const i of cell) {
        if (seen[i] === stamp) continue;
        seen[i] = stamp;
        if (boxesMeet(items[i]!.box, box, by)) found.push(i);
      }
    });
    return found.sort((a, b) => a - b).map((i) => items[i]!);
  }

  private each(box: Box, by: number, give: (cell: number[]) => void): void {
    const [c0, c1] = [this.at(box.x0 - by - this.x0, this.stepX), this.at(box.x1 + by - this.x0, this.stepX)];
    const [r0, r1] = [this.at(box.y0 - by - this.y0, this.stepY), this.at(box.y1 + by - this.y0, this.stepY)];
    for (let r = r0; r <= r1; r++) for (let c = c0; c <= c1; c++) give(this.cells![r * this.side + c]!);
  }

  /** The row or column of a place; of two places the one further on never has the lesser. */
  private at(from: number, step: number): number {
    return Math.max(0, Math.min(this.side - 1, Math.floor(from / step)));
  }
}
