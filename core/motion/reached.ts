/**
 * The speed that a move of a given length reaches from and to standstill, mm/s: √(length × acceleration), at most
 * what was asked. A 0.5 mm retraction at 1000 mm/s² never gets beyond √(0.5 × 1000) ≈ 22 mm/s.
 *
 * @param asked mm/s
 * @param length mm
 * @param acceleration mm/s²
 */
export const reachedSpeed = (asked: number, length: number, acceleration: number): number =>
  Math.min(asked, Math.sqrt(length * acceleration));

/** The nozzle as a heater with a constant rate each way, °C/s. */
export class HeaterModel {
  private target = 0;

  /** @param at °C at the start */
  constructor(
    private readonly rise: number,
    private readonly fall: number,
    private at = 25,
  ) {}

  /** Temperature now, °C. */
  get temperature(): number {
    return this.at;
  }

  /** Sets a new target, °C. */
  aim(target: number): void {
    this.target = target;
  }

  /** Lets time pass, s, and gives the temperature at its end, °C. A heater that is off cools to 25 °C. */
  pass(seconds: number): number {
    const goal = Math.max(25, this.target);
    if (this.at < goal) this.at = Math.min(goal, this.at + this.rise * seconds);
    else if (this.at > goal) this.at = Math.max(goal, this.at - this.fall * seconds);
    return this.at;
  }

  /** Seconds until the target is reached. */
  get left(): number {
    const goal = Math.max(25, this.target);
    return this.at < goal ? (goal - this.at) / this.rise : (this.at - goal) / this.fall;
  }

  /** Waits for the target and gives the seconds it took. */
  wait(): number {
    const seconds = this.left;
    this.at = Math.max(25, this.target);
    return seconds;
  }
}
