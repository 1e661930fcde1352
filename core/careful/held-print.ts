import { rounded, seeded, type Bytes } from '#core/base';
import { measureOf } from '#core/judge';
import { brushed, breaksAt, caliperBody, felt, leaks, type Outcome } from '#core/lab';
import type { Planned } from '#core/trial';
import { foundAt, truthOf, type CellTruth } from './read';

/** What a caliper finds at a place that was pointed at, mm: the body between its jaws along each way that it can be held. */
export interface Between {
  x?: number;
  y?: number;
}

/** A cell as it snapped: under which load, N. */
export interface Snapped {
  cell: number;
  load: number;
}

/** Depths at which a caliper is tried, as shares of the specimen’s depth from its middle. */
const DEPTHS = [0, -0.2, 0.2, -0.35, 0.35, -0.45, 0.45];
/** Jaws go so far below an upper face, mm. */
const BELOW = 0.4;

/**
 * A practice print in the hand, with instruments beside it. Nothing here judges: it tells what a caliper, a scale, a brush,
 * water or two thumbs find, each time with the error of the instrument. Lengths mm, loads N.
 */
export class HeldPrint {
  private readonly truth: readonly CellTruth[];
  private looks = 0;

  /**
   * @param bytes the file that was printed: it tells which lines only help
   * @param seed uint32
   */
  constructor(
    readonly outcome: Outcome,
    private readonly plan: Planned,
    bytes: Bytes,
    private readonly seed: number,
  ) {
    this.truth = truthOf(outcome, plan, bytes);
  }

  /** Every look is another: the same place measured twice differs by the instrument’s error. */
  private random() {
    return seeded((this.seed + 0x9e37 * ++this.looks) >>> 0);
  }

  /** A quantity of the catalogue at a cell, in its unit; undefined where no instrument finds it there. */
  measure(cell: number, id: string): number | undefined {
    const at = this.truth.find((t) => t.cell === cell);
    const value = at && foundAt(id, at, this.outcome, this.plan, this.random());
    const error = measureOf(id)?.error ?? 0;
    // An instrument shows no more places than it is sure of.
    return value === undefined ? undefined : rounded(value, error >= 1 ? 0 : error >= 0.1 ? 1 : 2);
  }

  /** What a caliper finds where the drawing of the specimen is pointed at: across and up, or across and back, mm. */
  caliper(u: number, v: number): Between {
    const { origin, built } = this.plan;
    const above = built.drawing.view === 'above';
    const random = this.random();
    const x = u + origin.x;
    const found = (along: 'x' | 'y', y: number, z: number) => {
      const mm = caliperBody(this.outcome, along, { x, y, z }, random);
      return mm === undefined ? undefined : rounded(mm, 2);
    };
    if (above) {
      const y = v + origin.y;
      const z = this.topAt(x, y);
      if (z === undefined) return {};
      const [across, back] = [found('x', y, z - BELOW), found('y', y, z - BELOW)];
      return { ...(across !== undefined && { x: across }), ...(back !== undefined && { y: back }) };
    }
    const ys = built.footprint.flatMap((p) => p.outer.map((q) => q.y + origin.y));
    const [from, to] = [Math.min(...ys), Math.max(...ys)];
    for (const share of DEPTHS) {
      const across = found('x', (from + to) / 2 + share * (to - from), v);
      if (across !== undefined) return { x: across };
    }
    return {};
  }

  /** The highest line laid near a place, mm. */
  private topAt(x: number, y: number): number | undefined {
    const { laid } = this.outcome;
    let top: number | undefined;
    for (let i = 0; i < laid.n; i++) {
      const [x0, y0, x1, y1] = [laid.x0[i]!, laid.y0[i]!, laid.x1[i]!, laid.y1[i]!];
      const d2 = (x1 - x0) ** 2 + (y1 - y0) ** 2;
      const t = d2 === 0 ? 0 : Math.max(0, Math.min(1, ((x - x0) * (x1 - x0) + (y - y0) * (y1 - y0)) / d2));
      const off = Math.hypot(x0 + t * (x1 - x0) - x, y0 + t * (y1 - y0) - y);
      if (off <= laid.width[i]! && (top === undefined || laid.z[i]! > top)) top = laid.z[i]!;
    }
    return top;
  }

  /** Snaps what stands, piece by piece: the weakest cell first. Cells that hold nothing are left out. */
  snap(): Snapped[] {
    const random = this.random();
    return this.truth
      .filter(({ amounts }) => amounts.length > 0 && amounts.neck > 0)
      .map(({ cell, amounts }) => ({
        cell,
        load: rounded(breaksAt(this.outcome, amounts.neck, amounts.weakest, random), 0),
      }))
      .sort((a, b) => a.load - b.load);
  }

  /** Strands of a cell that a stiff brush takes, and that stay. */
  brush(cell: number): { gone: number; stay: number } | undefined {
    const at = this.truth.find((t) => t.cell === cell);
    return at && { gone: at.amounts.hairs, stay: at.amounts.streaks };
  }

  /** The whole print after it was brushed. */
  brushed(): Outcome {
    return brushed(this.outcome);
  }

  /** Whether a cell that is filled with water drips; undefined where nothing lies. */
  drips(cell: number): boolean | undefined {
    const at = this.truth.find((t) => t.cell === cell);
    return at && at.amounts.length > 0 ? leaks(at.amounts) : undefined;
  }

  /** What a fingertip finds on the skin of a cell; undefined where it has none. */
  finger(cell: number): ReturnType<typeof felt> {
    const at = this.truth.find((t) => t.cell === cell);
    return at && felt(at.amounts);
  }
}
