/** Resonance of both axes, Hz, and their damping ratio. */
export interface EchoTraits {
  resonanceX: number;
  resonanceY: number;
  damping: number;
}

/** A wave smaller than this is none, mm. */
const LEAST = 1e-4;

/**
 * How far both axes swing, mm: a sudden change of speed Δv sets an oscillator of angular frequency ω swinging by Δv/ω, a
 * sudden acceleration a by a/ω²; it dies away as e^(−ζωt). Only the envelopes are kept.
 */
export class Echo {
  private x = 0;
  private y = 0;
  private readonly wx: number;
  private readonly wy: number;

  constructor(private readonly traits: EchoTraits) {
    this.wx = 2 * Math.PI * traits.resonanceX;
    this.wy = 2 * Math.PI * traits.resonanceY;
  }

  /** The direction changes by (dx, dy) of a unit length at a speed, mm/s. */
  turn(speed: number, dx: number, dy: number): void {
    this.x += (Math.abs(dx) * speed) / this.wx;
    this.y += (Math.abs(dy) * speed) / this.wy;
  }

  /** It is driven forward or held back along a unit direction, mm/s². */
  drive(acceleration: number, ux: number, uy: number): void {
    this.x += (Math.abs(ux) * acceleration) / (this.wx * this.wx);
    this.y += (Math.abs(uy) * acceleration) / (this.wy * this.wy);
  }

  /** Lets time pass, s. */
  pass(seconds: number): void {
    if (this.x < LEAST && this.y < LEAST) {
      this.x = this.y = 0;
      return;
    }
    this.x *= Math.exp(-this.traits.damping * this.wx * seconds);
    this.y *= Math.exp(-this.traits.damping * this.wy * seconds);
  }

  /** How far it swings across a line of a direction, mm. */
  across(dx: number, dy: number): number {
    if (this.x === 0 && this.y === 0) return 0;
    const d = Math.sqrt(dx * dx + dy * dy);
    return d > 0 ? (this.x * Math.abs(dy) + this.y * Math.abs(dx)) / d : 0;
  }
}
