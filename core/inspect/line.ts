import type { Chunk, Role } from '#core/moves';
import type { Measured } from './loops';

/** Figures of a line, and lines that stand in one block of them. */
const FIGURES = 8;
const BLOCK = 512;

/**
 * A line of a layer, with where its role is to be written. Its figures stand in a block with those of others: millions
 * of lines are looked at, and a figure of an object costs as much again as the object.
 */
export class Line implements Measured {
  role: Role = 'other';

  constructor(
    private readonly block: Float64Array,
    private readonly at: number,
    readonly chunk: Chunk,
    readonly index: number,
  ) {}

  get x0(): number {
    return this.block[this.at]!;
  }
  get y0(): number {
    return this.block[this.at + 1]!;
  }
  get x(): number {
    return this.block[this.at + 2]!;
  }
  get y(): number {
    return this.block[this.at + 3]!;
  }
  get length(): number {
    return this.block[this.at + 4]!;
  }
  get width(): number {
    return this.block[this.at + 5]!;
  }
  get height(): number {
    return this.block[this.at + 6]!;
  }
  get speed(): number {
    return this.block[this.at + 7]!;
  }
}

/** Makes lines, block by block; a block goes when the last of its lines is forgotten. */
export class Lines {
  private block = new Float64Array(BLOCK * FIGURES);
  private used = 0;

  /** A move of a chunk as a line. @param x0 @param y0 where it begins, mm */
  add(x0: number, y0: number, length: number, chunk: Chunk, index: number): Line {
    if (this.used === this.block.length) {
      this.block = new Float64Array(BLOCK * FIGURES);
      this.used = 0;
    }
    const { block, used } = this;
    const { moves } = chunk;
    block[used] = x0;
    block[used + 1] = y0;
    block[used + 2] = moves.x[index]!;
    block[used + 3] = moves.y[index]!;
    block[used + 4] = length;
    block[used + 5] = moves.width[index]!;
    block[used + 6] = moves.height[index]!;
    block[used + 7] = moves.speed[index]!;
    this.used += FIGURES;
    return new Line(block, used, chunk, index);
  }
}
