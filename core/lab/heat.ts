/** Room temperature, °C. */
export const ROOM = 22;

/** What a heater is like: rates °C/s, how far it runs beyond a target on the way up, °C. */
export interface HeaterTraits {
  heats: number;
  cools: number;
  overshoot: number;
}

/** A controller holds its heater to a target with this time constant near it, s. */
const NEAR = 6;
/** An overshoot dies away over so many seconds. */
const SETTLES = 18;
const STEP = 0.25;
/** The degrees that count as the last ones, °C. */
const LAST = 8;

/**
 * A nozzle with its heater: it follows a target at a bounded rate, closes the last degrees as a first-order lag, and runs
 * beyond on the way up by as much as its controller lets it. Temperatures °C, as they really are.
 */
export class Heater {
  target = 0;
  private at = ROOM;
  /** What is left of the overshoot. */
  private beyond = 0;
  private rising = false;
  /** Time that is not yet a step, s. */
  private rest = 0;

  constructor(
    private readonly traits: HeaterTraits,
    /** How many times more slowly it closes the last degrees. */
    private readonly lags = 1,
  ) {}

  get temperature(): number {
    return this.at + this.beyond;
  }

  /** Sets a target, °C as it really is. */
  aim(target: number): void {
    if (target === this.target) return;
    this.rising = target > this.at + 3;
    this.target = target;
  }

  /** Lets time pass, s. */
  pass(seconds: number): void {
    this.rest += seconds;
    // A day at most: nobody waits longer, and a dwell may say anything.
    let steps = Math.min(345_600, Math.floor(this.rest / STEP));
    this.rest -= steps * STEP;
    if (this.rest > STEP) this.rest = 0;
    for (; steps > 0; steps--) if (!this.step() && steps > 4) break;
  }

  /** One step; whether anything still changes. */
  private step(): boolean {
    const goal = Math.max(ROOM, this.target);
    const gap = goal - this.at;
    const most = gap > 0 ? this.traits.heats : this.traits.cools;
    const rate = Math.max(-most, Math.min(most, gap / (NEAR * (Math.abs(gap) < LAST ? this.lags : 1))));
    this.at += rate * STEP;
    if (this.rising && gap < 2) {
      this.rising = false;
      this.beyond += this.traits.overshoot;
    }
    this.beyond *= 1 - STEP / SETTLES;
    return Math.abs(gap) > 1e-4 || Math.abs(this.beyond) > 1e-4;
  }

  /**
   * Waits as firmware does, until the target is held within a degree for three seconds, and gives the seconds. On the
   * way down it waits only if asked to.
   */
  wait(downward = true): number {
    const goal = Math.max(ROOM, this.target);
    if (!downward && this.at >= goal) return 0;
    let seconds = 0;
    let held = 0;
    while (held < 3 && seconds < 1800) {
      this.step();
      seconds += STEP;
      held = Math.abs(this.temperature - goal) <= 1.5 ? held + STEP : 0;
    }
    return seconds;
  }
}

/** A fan that follows what it is told as a first-order lag, and stands still below its least share. */
export class Fan {
  private at = 0;
  share = 0;

  constructor(
    private readonly from: number,
    private readonly time: number,
  ) {}

  /** What turns, 0–1. */
  get turning(): number {
    return this.at;
  }

  pass(seconds: number): void {
    const goal = this.share < this.from ? 0 : this.share;
    if (this.at === goal) return;
    this.at = goal + (this.at - goal) * Math.exp(-seconds / this.time);
    if (Math.abs(this.at - goal) < 1e-3) this.at = goal;
  }
}
