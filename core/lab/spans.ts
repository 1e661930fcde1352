import type { Laid } from './laid';

/** Shorter than this nothing hangs, mm. */
const SHORTEST = 1.5;
/** It hangs down by at most this share of its length. */
const DEEPEST = 0.45;
/** What is carried at one end only hangs so much deeper than a span of its length. */
const LOOSE = 5;

/**
 * Lines in free air: their length from where they were carried last to where they are carried again. A strand of length
 * L sinks while it is soft by its weight against its tension: as L².
 */
export class Spans {
  private first = -1;
  private length = 0;
  private sags = 0;

  constructor(private readonly laid: Laid) {}

  /**
   * One more piece.
   *
   * @param head length that hangs free at its start, mm; @param tail at its end
   * @param soft what 10 mm of it sag, mm, and its width
   */
  lay(i: number, length: number, head: number, tail: number, soft: { sags: number; width: number }): void {
    const through = head >= length - 1e-6;
    if (this.first >= 0) this.length += head;
    else if (through) this.first = i;
    if (through) {
      if (this.first === i) this.length = length;
      this.sags = Math.max(this.sags, soft.sags * Math.min(2, 0.5 + soft.width));
      return;
    }
    if (this.first >= 0) this.close(i, true);
    if (tail > 0) {
      this.first = i;
      this.length = tail;
      this.sags = soft.sags;
    }
  }

  /** The line ends, carried there or not. */
  end(carried: boolean): void {
    if (this.first >= 0) this.close(this.laid.n, carried);
  }

  private close(to: number, carried: boolean): void {
    const { laid, first, length } = this;
    this.first = -1;
    this.length = 0;
    const sags = this.sags;
    this.sags = 0;
    if (length < SHORTEST) return;
    const most = Math.min(DEEPEST * length, sags * (length / 10) ** 2 * (carried ? 1 : LOOSE));
    let s = 0;
    const total = sumOf(laid, first, to);
    for (let i = first; i < to; i++) {
      const d = Math.hypot(laid.x1[i]! - laid.x0[i]!, laid.y1[i]! - laid.y0[i]!);
      // The deepest that the piece gets.
      const [u0, u1] = [s / Math.max(total, 1e-9), (s + d) / Math.max(total, 1e-9)];
      const u = carried ? Math.max(u0, Math.min(0.5, u1)) : u1;
      laid.sag[i] = Math.max(laid.sag[i]!, most * (carried ? 4 * u * (1 - u) : u * u));
      s += d;
    }
  }
}

function sumOf(laid: Laid, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += Math.hypot(laid.x1[i]! - laid.x0[i]!, laid.y1[i]! - laid.y0[i]!);
  return sum;
}
