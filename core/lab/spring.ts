/** What draws air leaves this many times as much to be filled again: some of the air is shut in. */
const AIR = 1.5;
/** Shut in, it takes the place of this share of what flows, and comes out of it again as much later. */
const BUBBLES = 0.15;
/** A stretch is reckoned in at most so many steps. */
const MOST_STEPS = 64;

/**
 * The filament between gear and nozzle as a spring, in mm of filament: pressed together by `pressed`, it comes out at
 * `pressed / time` mm/s, by no more than melts. Pulled back it first loses the pressure, then crosses the play of its path,
 * then stands above the nozzle’s end, and beyond the depth of the melt it draws air. Beyond a pressure the gear slips.
 */
export class Spring {
  /** Pressed together; negative: drawn back from the nozzle’s end, mm. */
  pressed = 0;
  /** What is missing at the nozzle’s end: air drawn in, and what leaked away, mm. */
  air = 0;
  /** Fed and not taken along by the gear, mm. */
  slipped = 0;
  /** Filament that shut-in air keeps back for now, mm. */
  private owed = 0;
  /** Where in its play the filament lies: 0 where it pushes, `slack` where it pulls, mm. */
  private play = 0;

  /** @param meltDepth drawn back further, it draws air, mm */
  constructor(
    private readonly slack: number,
    private readonly slipsAt: number,
    private readonly meltDepth: number,
  ) {}

  /** Whether what comes out follows what goes in by the smooth law alone. */
  get smooth(): boolean {
    return this.play === 0 && this.air === 0 && this.owed === 0 && this.pressed >= 0;
  }

  /** What was fed and has neither come out nor slipped, mm: pressed, less what is missing. */
  get held(): number {
    return this.pressed - this.play - this.air + this.owed;
  }

  /**
   * Feeds for a stretch of time, at a rate that changes evenly, and gives what comes out, mm.
   *
   * @param from rate at its start, mm/s; `to` at its end
   * @param seconds how long
   * @param time mm pressed for each mm/s that comes out, s
   * @param most what melts, mm/s
   */
  feed(from: number, to: number, seconds: number, time: number, most: number): number {
    if (seconds <= 0) return 0;
    const p0 = this.pressed;
    if (this.smooth) {
      // dp/dt = f − p/K with f even in time has p = K f − K² f′ + c e^(−t/K).
      const slope = (to - from) / seconds;
      const lag = time * time * slope;
      const start = p0 - time * from + lag;
      const half = Math.exp(-seconds / (2 * time));
      const pm = (time * (from + to)) / 2 - lag + start * half;
      const p1 = time * to - lag + start * half * half;
      const bound = Math.min(most * time, this.slipsAt);
      if (pm >= 0 && p1 >= 0 && p0 <= bound && pm <= bound && p1 <= bound) {
        this.pressed = p1;
        return ((from + to) / 2) * seconds - (p1 - p0);
      }
    }
    const n = Math.max(1, Math.min(MOST_STEPS, Math.ceil(seconds / (time / 4 + 1e-4))));
    const h = seconds / n;
    let out = 0;
    for (let i = 0; i < n; i++) out += this.step((from + ((to - from) * (i + 0.5)) / n) * h, h, time, most);
    return out;
  }

  /** Pushes or pulls so much at once, mm; nothing comes out meanwhile. */
  push(d: number): void {
    this.step(d, 0, 1, 0);
  }

  /**
   * What oozes from a nozzle that nobody pushes, mm: the further it is drawn back, the less.
   *
   * @param rate with nothing drawn back, mm/s; @param eases drawn back by so much, it is an e-th, mm
   */
  leak(rate: number, seconds: number, eases: number): number {
    if (this.pressed > 0) return 0;
    // The end of the nozzle runs empty.
    const free = rate * Math.exp(this.pressed / eases);
    const out = eases * Math.log(1 + (free * seconds * Math.exp(-this.air / eases)) / eases);
    this.air += out;
    return out;
  }

  /** What a nozzle that leaves pulls out, mm: the further the filament is drawn back, the less. */
  pull(most: number, eases: number): number {
    const out = most * Math.exp((Math.min(0, this.pressed) - this.air) / eases);
    const pressed = Math.min(out, Math.max(0, this.pressed));
    this.pressed -= pressed;
    this.air += out - pressed;
    return out;
  }

  private step(d: number, h: number, time: number, most: number): number {
    if (d > 0) {
      const t = Math.min(this.play, d);
      this.play -= t;
      d -= t;
      if (this.pressed < 0) {
        const back = Math.min(-this.pressed, d);
        this.pressed += back;
        d -= back;
      }
      if (this.pressed >= 0 && this.air > 0) {
        const fill = Math.min(this.air, d);
        this.air -= fill;
        d -= fill;
      }
    }
    if (this.pressed + d <= 0) {
      // What is pressed lies against the gear: only when nothing presses any more the filament crosses its play.
      let back = -d - Math.max(0, this.pressed);
      if (this.pressed > 0) this.pressed = 0;
      const t = Math.min(this.slack - this.play, back);
      this.play += t;
      back -= t;
      this.pressed -= back;
      const beyond = -this.pressed - this.meltDepth;
      if (beyond > 0) {
        this.pressed = -this.meltDepth;
        this.air += AIR * beyond;
        this.owed += (AIR - 1) * beyond;
      }
      return 0;
    }
    // Implicit, so that any step holds.
    let p = (this.pressed + d) / (1 + h / time);
    let out = (p * h) / time;
    if (out > most * h) {
      out = most * h;
      p = this.pressed + d - out;
    }
    if (this.owed > 0) {
      const back = Math.min(this.owed, BUBBLES * out);
      this.owed -= back;
      out += back;
    }
    if (p > this.slipsAt) {
      this.slipped += p - this.slipsAt;
      p = this.slipsAt;
    }
    this.pressed = p;
    return out;
  }
}
