/** Counts how often travel crosses the outer walls of its layer. Walls and ways of one layer are held at a time. */
export class Crossings {
  count = 0;
  private walls: number[] = [];
  private ways: number[] = [];
  private cells: number[] = [];
  private readonly byCell = new Map<number, { count: number; length: number }>();

  wall(ax: number, ay: number, bx: number, by: number): void {
    this.walls.push(ax, ay, bx, by);
  }

  /** @param cell to which the way belongs, −1 for none */
  travel(ax: number, ay: number, bx: number, by: number, cell = -1): void {
    this.ways.push(ax, ay, bx, by);
    this.cells.push(cell);
  }

  /** Crossings of a cell, and the length of the ways that cross, mm. */
  cell(id: number): { count: number; length: number } {
    return this.byCell.get(id) ?? { count: 0, length: 0 };
  }

  /** Ends a layer. Very large layers are passed over, so that a foreign file cannot stall the reading. */
  close(): void {
    const { walls, ways } = this;
    if (walls.length * ways.length <= 4e8) {
      for (let i = 0; i < ways.length; i += 4) {
        const before = this.count;
        for (let j = 0; j < walls.length; j += 4) {
          if (
            cross(
              ways[i]!,
              ways[i + 1]!,
              ways[i + 2]!,
              ways[i + 3]!,
              walls[j]!,
              walls[j + 1]!,
              walls[j + 2]!,
              walls[j + 3]!,
            )
          )
            this.count++;
        }
        if (this.count > before) {
          const cell = this.cells[i / 4]!;
          const sum = this.byCell.get(cell) ?? { count: 0, length: 0 };
          sum.count += this.count - before;
          sum.length += Math.hypot(ways[i + 2]! - ways[i]!, ways[i + 3]! - ways[i + 1]!);
          this.byCell.set(cell, sum);
        }
      }
    }
    this.walls = [];
    this.ways = [];
    this.cells = [];
  }
}

function cross(
  ax: number,
  ay: number,
  bx: number,
  by: number,
  cx: number,
  cy: number,
  dx: number,
  dy: number,
): boolean {
  const r = (bx - ax) * (dy - cy) - (by - ay) * (dx - cx);
  if (r === 0) return false;
  const t = ((cx - ax) * (dy - cy) - (cy - ay) * (dx - cx)) / r;
  const u = ((cx - ax) * (by - ay) - (cy - ay) * (bx - ax)) / r;
  // Travel starts and ends on walls: touching at its own ends is no crossing.
  return t > 1e-3 && t < 1 - 1e-3 && u >= 0 && u < 1;
}
