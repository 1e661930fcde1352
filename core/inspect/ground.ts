import { rounded } from '#core/base';
import type { Box } from '#core/geometry';
import { flagsOf } from '#core/moves';

/** Squares of the map, mm; larger where the bed is larger than so many of them. */
const SQUARE = 0.3;
const MOST_SQUARES = 1400;
/** Lines hold on what lies up to so much beneath them, mm, or in their own heights: the gap over a support is no more. */
const [BENEATH, IN_HEIGHTS] = [0.45, 3.2];
/** A line that hangs free for less than this holds on itself, mm. */
export const LEAST_FREE = 3;
/** What is laid on the threads of an infill, from one to the next, or stands off from what it stands on. */
const onInfill = flagsOf('top-skin', 'infill', 'ironing', 'support', 'support-interface');
const isSupport = flagsOf('support', 'support-interface');
const isUnderside = flagsOf('bottom-skin', 'bridge');
/** Walls that stand closer over a support than this may as well stand beside it, mm. */
const APART = 0.05;
/** A path whose ends are nearer than this closes, mm. */
const CLOSED = 0.6;
/** A stretch of line that is laid over nothing and not held at both of its ends. mm */
export interface FreeLine {
  x0: number;
  y0: number;
  x: number;
  y: number;
  z: number;
  /** Its line in the file, and its cell. */
  line: number;
  cell: number;
}

/** A line as it is laid: its ends, its foot’s width and height, its line in the file, its cell, and its role’s number. mm */
export interface LaidLine extends FreeLine {
  height: number;
  width: number;
  role: number;
}

/** Where and how much is laid over nothing. Lengths mm; of `layers` each once. */
export interface FreeLines {
  length: number;
  layers: number;
  /** The first of them: its line in the file, its layer’s height, its cell. */
  first?: { line: number; z: number; cell: number };
}

/**
 * What is laid so far, as the height of its top over squares of the bed: tells where a line is laid over nothing. A
 * stretch that is held at both ends is a bridge; one that begins or ends in the air, or closes there, is free.
 */
export class Ground {
  readonly found: FreeLines = { length: 0, layers: 0 };
  /** Area of the part that rests on supports, mm². */
  contact = 0;
  private readonly x0: number;
  private readonly y0: number;
  private readonly side: number;
  private readonly diagonal: number;
  private readonly nx: number;
  private readonly ny: number;
  /** Top of what is laid, and of what was there before the layer in hand. */
  private readonly top: Float32Array;
  private readonly under: Float32Array;
  /** Where that top is of a support. */
  private readonly props: Uint8Array;
  /** The path in hand: whether it has been held yet, and what hangs since. */
  private held = false;
  private hanging: FreeLine[] = [];
  /** What hung before the path was first held. */
  private beginning: FreeLine[] = [];
  private begun = false;
  private firstX = 0;
  private firstY = 0;
  private lastX = 0;
  private lastY = 0;
  private lastFree = NaN;

  /**
   * @param reach the room that the nozzle can get to, mm
   * @param named is told each stretch that hangs, as it is found
   */
  constructor(
    reach: Box,
    private readonly named?: (lines: readonly FreeLine[]) => void,
  ) {
    this.x0 = reach.x0;
    this.y0 = reach.y0;
    const [w, d] = [reach.x1 - reach.x0, reach.y1 - reach.y0];
    this.diagonal = Math.hypot(w, d);
    this.side = Math.max(SQUARE, Math.max(w, d) / MOST_SQUARES);
    this.nx = Math.max(1, Math.ceil(w / this.side));
    this.ny = Math.max(1, Math.ceil(d / this.side));
    this.top = new Float32Array(this.nx * this.ny);
    this.under = new Float32Array(this.nx * this.ny);
    this.props = new Uint8Array(this.nx * this.ny);
  }

  /** A line is laid; it is not kept, so that one that is filled anew will do. */
  lay(laid: Readonly<LaidLine>): void {
    const { x0, y0, x, y, z, height, width, role } = laid;
    const length = Math.sqrt((x - x0) ** 2 + (y - y0) ** 2);
    // A figure beyond all measure: no printer lays such a line, and the check says so.
    if (length > 2 * this.diagonal) return;
    if (!(length > 0) || !(height > 0)) return;
    if (!this.begun) {
      this.begun = true;
      this.firstX = x0;
      this.firstY = y0;
    }
    this.lastX = x;
    this.lastY = y;
    const { top } = this;
    const steps = Math.max(1, Math.ceil(length / this.side));
    const dx = x - x0;
    const dy = y - y0;
    const ox = (-dy / length) * (width / 2);
    const oy = (dx / length) * (width / 2);
    const lowest = z - height - Math.max(BENEATH, (IN_HEIGHTS - 1) * height);
    // Nothing is over nothing on the bed.
    const lies = lowest <= 0 || onInfill[role] === 1;
    const props = isSupport[role]!;
    let from = -1;
    if (lies) this.hold();
    for (let k = 0; k < steps; k++) {
      const t = (k + 0.5) / steps;
      const px = x0 + dx * t;
      const py = y0 + dy * t;
      const middle = this.square(px, py);
      if (!lies) {
        const held =
          this.holds(middle, z, lowest) ||
          this.holds(this.square(px + ox, py + oy), z, lowest) ||
          this.holds(this.square(px - ox, py - oy), z, lowest);
        if (held) {
          if (from >= 0) this.hang(laid, from, k, steps);
          this.hold();
          from = -1;
        } else if (from < 0) from = k;
      }
      // What a line lies on stays known where it is marked: its own top hides nothing from the rest of it. Most squares
      // are of this layer already.
      const one = this.square(px + ox * 0.7, py + oy * 0.7);
      const other = this.square(px - ox * 0.7, py - oy * 0.7);
      if (middle >= 0 && z - top[middle]! >= 0.02) this.raise(middle, laid, props);
      if (one >= 0 && z - top[one]! >= 0.02) this.raise(one, laid, props);
      if (other >= 0 && z - top[other]! >= 0.02) this.raise(other, laid, props);
    }
    if (from >= 0) this.hang(laid, from, steps, steps);
  }

  /** A stretch hangs, from one step of a line to another. */
  private hang({ x0, y0, x, y, z, line, cell }: Readonly<LaidLine>, from: number, to: number, steps: number): void {
    const at = (step: number, a: number, b: number) => a + ((b - a) * step) / steps;
    this.hanging.push({
      ...{ x0: at(from, x0, x), y0: at(from, y0, y), x: at(to, x0, x), y: at(to, y0, y) },
      ...{ z, line, cell },
    });
  }

  /** The path in hand is held: held at both ends it spans; of what began in the air its end tells. */
  private hold(): void {
    if (this.hanging.length > 0) {
      if (!this.held) this.beginning = this.hanging;
      this.hanging = [];
    }
    this.held = true;
  }

  /** The path ends: what hangs at its end is held by nothing, unless it closes. */
  lift(): void {
    const closes = this.held && Math.hypot(this.lastX - this.firstX, this.lastY - this.firstY) < CLOSED;
    if (!closes) {
      this.free(this.beginning);
      this.free(this.hanging);
    }
    this.beginning = [];
    this.hanging = [];
    this.held = false;
    this.begun = false;
  }

  private free(lines: readonly FreeLine[]): void {
    const length = lines.reduce((sum, l) => sum + Math.hypot(l.x - l.x0, l.y - l.y0), 0);
    const [first] = lines;
    if (first && length >= LEAST_FREE) {
      const { found } = this;
      found.length += length;
      if (first.z !== this.lastFree) found.layers++;
      this.lastFree = first.z;
      found.first ??= { line: first.line, cell: first.cell, z: rounded(first.z, 4) };
      this.named?.(lines);
    }
  }

  private square(x: number, y: number): number {
    const i = (x - this.x0) / this.side;
    const j = (y - this.y0) / this.side;
    return i >= 0 && j >= 0 && i < this.nx && j < this.ny ? (j | 0) * this.nx + (i | 0) : -1;
  }

  private holds(at: number, z: number, lowest: number): boolean {
    if (at < 0) return true;
    const top = this.top[at]!;
    const beneath = top > z - 0.02 ? this.under[at]! : top;
    return beneath >= lowest - 1e-4;
  }

  private raise(at: number, { z, height, role }: Readonly<LaidLine>, props: number): void {
    const top = this.top[at]!;
    if (this.props[at] === 1 && props === 0) {
      const gap = z - height - top;
      const rests = gap <= Math.max(BENEATH, (IN_HEIGHTS - 1) * height) && (gap > APART || isUnderside[role] === 1);
      if (rests) this.contact += this.side * this.side;
    }
    this.props[at] = props;
    this.under[at] = top;
    this.top[at] = z;
  }
}
