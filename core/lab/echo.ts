/** Resonance of both axes, Hz, and their damping ratio. */
export interface EchoTraits {
  resonanceX: number;
  resonanceY: number;
  damping: number;
}

/** A wave smaller than this is none, mm. */
const LEAST = 5e-4;

/** One axis that swings: how far it is off, and its speed over ω, mm. */
class Axis {
  private off = 0;
  private moves = 0;
  private readonly omega: number;

  constructor(
    frequency: number,
    private readonly damping: number,
  ) {
    this.omega = 2 * Math.PI * frequency;
  }

  /** How far it swings, mm. */
  get swing(): number {
    return Math.sqrt(this.off * this.off + this.moves * this.moves);
  }

  /** What it carries changes its speed by Δv at once, mm/s. */
  jerk(v: number): void {
    this.moves += v / this.omega;
  }

  /** Its acceleration changes by Δa, mm/s². */
  drive(a: number): void {
    this.off += a / (this.omega * this.omega);
  }

  pass(seconds: number): void {
    if (this.swing < LEAST) {
      this.off = this.moves = 0;
      return;
    }
    const turn = this.omega * seconds;
    const fade = Math.exp(-this.damping * turn);
    const c = Math.cos(turn) * fade;
    const s = Math.sin(turn) * fade;
    const off = this.off * c + this.moves * s;
    this.moves = this.moves * c - this.off * s;
    this.off = off;
  }
}

/**
 * How both axes swing as damped oscillators: a sudden change of speed Δv sets one swinging by Δv/ω, a sudden change of
 * acceleration Δa by Δa/ω²; it dies away as e^(−ζωt). What follows within a period adds up or cancels.
 */
export class Echo {
  private readonly x: Axis;
  private readonly y: Axis;
  private ax = 0;
  private ay = 0;

  constructor({ resonanceX, resonanceY, damping }: EchoTraits) {
    this.x = new Axis(resonanceX, damping);
    this.y = new Axis(resonanceY, damping);
  }

  /** The speed changes at once by (dx, dy), mm/s. */
  turn(dx: number, dy: number): void {
    this.x.jerk(dx);
    this.y.jerk(dy);
  }

  /** From now on the head is driven with this acceleration, mm/s². */
  drive(ax: number, ay: number): void {
    if (ax !== this.ax) this.x.drive(ax - this.ax);
    if (ay !== this.ay) this.y.drive(ay - this.ay);
    this.ax = ax;
    this.ay = ay;
  }

  /** Lets time pass, s. */
  pass(seconds: number): void {
    this.x.pass(seconds);
    this.y.pass(seconds);
  }

  /** How far it swings across a line of a direction, mm. */
  across(dx: number, dy: number): number {
    const d = Math.sqrt(dx * dx + dy * dy);
    return d > 0 ? (this.x.swing * Math.abs(dy) + this.y.swing * Math.abs(dx)) / d : 0;
  }
}
