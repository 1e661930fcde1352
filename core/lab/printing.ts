import { seeded, type Random } from '#core/base';
import { filamentArea, massOf, reachOf, type Context } from '#core/context';
import { limitsOf, Timer } from '#core/motion';
import type { Chunk, Command } from '#core/moves';
import { Echo } from './echo';
import { Deposit } from './deposit';
import { Fan, Heater, ROOM } from './heat';
import type { Blob, Laid, Strand } from './laid';
import { Spring } from './spring';
import { Way } from './way';
import { middleOf, type LabFaults, type Traits } from './traits';

/** Pieces of one stretch of a move, where what comes out still changes. */
const MOST_PIECES = 6;
/** A piece is at most so long, mm. */
const LONGEST = 2.5;
/** A change of less than this share is none. */
const EVEN = 0.03;
/** The melt is so much colder than the nozzle where as much flows as melts, °C. */
const CHILL = 14;
/** Filament that a nozzle at the temperature of oozing leaks with nothing drawn back, mm/s. */
const LEAK = 0.012;
/** Filament that a way pulls out of it at once, mm. */
const PULL = 0.005;
/** Drawn back by this share of its melt, a filament leaks an e-th. */
const EASES = 0.22;
/** What of a colour before is left in a melt after its own volume has passed, is an e-th, mm³. */
const MELT_VOLUME = 22;

/** The course of a print: a sample a second of time, s, height, mm, and the tool’s temperature as shown and as it is, °C. */
export interface Course {
  n: number;
  time: number[];
  z: number[];
  shown: number[];
  real: number[];
}

/** What came of a file. Lengths mm, mass g, time s. */
export interface Outcome {
  laid: Laid;
  strands: Strand[];
  blobs: Blob[];
  course: Course;
  /** Time with waiting for heat. */
  time: number;
  /** Filament that the file asked for, and that came out. */
  asked: number;
  fed: number;
  /** Fed and not taken along. */
  slipped: number;
  mass: number;
  /** Fed, and still between gear and nozzle at the end: what is pressed, less what is drawn back or leaked away. */
  held: number;
  /** The filament ran out, or the print came loose, at this height. */
  endedAt?: number;
  looseFrom?: number;
  /** Kelvin of shrinking held by the first layer: how strongly corners want to lift, 0–1. */
  warp: number;
  /** How much longer than in the file everything is once it is cold, along each axis. */
  scale: { x: number; y: number; z: number };
  /** Diameter of the nozzle that is fitted. */
  nozzle: number;
  traits: Traits;
}

/** Prints moves as they come. One state is carried through the file; nothing is known of what it is for. */
export class Printing {
  private readonly timer: Timer;
  private readonly heaters = new Map<number, Heater>();
  private readonly springs = new Map<number, Spring>();
  private readonly fan: Fan;
  private readonly deposit: Deposit;
  private readonly way: Way;
  private readonly echo: Echo;
  private readonly area: number;
  private readonly middle: number;
  private readonly moisture: number;
  private readonly eases: number;
  /** What the nozzle that is fitted does to resistance and width, against the one that was said. */
  private readonly narrow: number;
  private readonly out: Outcome;
  private heater!: Heater;
  private spring!: Spring;
  private tool = 0;
  private readonly random: Random;
  private x = 0;
  private y = 0;
  private z = 0;
  /** Where it goes, of a unit length. */
  private ux = 0;
  private uy = 0;
  /** What pressure advance has pushed ahead, mm. */
  private ahead = 0;
  /** How much of the colour before is in the melt, 0–1. */
  private old = 0;
  private sampled = -1;
  private bedMost = 0;

  constructor(
    private readonly context: Context,
    private readonly traits: Traits,
    private readonly faults: LabFaults,
    seed: number,
  ) {
    this.random = seeded(seed);
    const { printer, filament } = context;
    const { printer: t, filament: f } = traits;
    this.timer = new Timer(limitsOf(printer));
    this.area = filamentArea(filament);
    this.middle = middleOf(filament);
    this.moisture = faults.damp ? 1 : f.moisture;
    this.eases = EASES * f.meltDepth;
    this.narrow = (printer.nozzle.diameter / (faults.nozzle ?? printer.nozzle.diameter)) ** 3;
    this.fan = new Fan(t.fanFrom, t.fanTime);
    this.echo = new Echo(t);
    const nozzle = faults.nozzle ?? printer.nozzle.diameter;
    this.deposit = new Deposit(reachOf(printer), this.echo, traits, faults, {
      middle: this.middle,
      moisture: this.moisture,
      nozzle,
    });
    this.way = new Way(this.deposit.ground, this.random);
    this.out = {
      laid: this.deposit.laid,
      strands: this.way.strands,
      blobs: this.way.blobs,
      course: { n: 0, time: [], z: [], shown: [], real: [] },
      time: 0,
      asked: 0,
      fed: 0,
      slipped: 0,
      mass: 0,
      held: 0,
      warp: 0,
      nozzle,
      scale: {
        x: (1 + t.scaleX) * (1 - f.shrinks),
        y: (1 + t.scaleY) * (1 - f.shrinks),
        z: (1 + t.scaleZ) * (1 - f.shrinks),
      },
      traits,
    };
    this.take = this.take.bind(this);
    this.change(0);
  }

  /** Prints the next chunk of a file. */
  take(chunk: Chunk): void {
    const { moves, commands, states } = chunk;
    const { time, peak, entry, accel } = this.timer.run(chunk);
    const more = 1 + this.traits.printer.feedError;
    let next = 0;
    for (let i = 0; i < moves.n; i++) {
      while (next < commands.length && commands[next]!.before <= i) this.command(commands[next++]!);
      const x = moves.x[i]!;
      const y = moves.y[i]!;
      const z = moves.z[i]!;
      let e = moves.e[i]!;
      if (!Number.isFinite(x + y + z + e)) continue;
      this.out.asked += e;
      e *= more;
      if (this.faults.filamentOut !== undefined && this.out.fed + e > this.faults.filamentOut && e > 0) {
        this.out.endedAt ??= z;
        e = 0;
      }
      this.out.fed += e;
      const dx = x - this.x;
      const dy = y - this.y;
      const dz = z - this.z;
      const d = Math.sqrt(dx * dx + dy * dy + dz * dz);
      const state = states[moves.state[i]!]!;
      this.fan.share = state.fan;
      const t = time[i]!;
      if (d < 1e-9) this.still(e, t);
      else {
        const flat = Math.sqrt(dx * dx + dy * dy);
        const v0 = Math.sqrt(entry[i]!);
        const v1 = Math.sqrt(entry[i + 1]!);
        const a = accel[i]!;
        if (flat > 1e-9) {
          this.echo.turn(v0 * (dx / flat - this.ux), v0 * (dy / flat - this.uy));
          this.ux = dx / flat;
          this.uy = dy / flat;
        }
        if (e > 0 && flat > 1e-9) {
          this.deposit.layer = moves.height[i]! > 0 ? moves.height[i]! : 0.2;
          this.deposit.line = moves.line[i]!;
          this.deposit.asked = (moves.e[i]! * this.area) / d;
          this.print(x, y, z, d, e, v0, peak[i]!, v1, a, t, state.advance);
        } else this.travel(x, y, z, e, t);
      }
      this.x = x;
      this.y = y;
      this.z = z;
    }
    while (next < commands.length) this.command(commands[next++]!);
  }

  /** All that came of it. */
  result(): Outcome {
    const { out, traits } = this;
    this.deposit.lift();
    for (const spring of this.springs.values()) {
      out.slipped += spring.slipped;
      out.held += spring.held;
    }
    const { filament } = traits;
    // What the bed holds back while the body cools from its softening to the bed’s temperature.
    const cold = Math.max(0, filament.glass - Math.max(ROOM, this.bedMost)) / 80;
    out.warp = Math.min(1, (cold * filament.shrinks) / 0.008);
    return out;
  }

  private change(tool: number): void {
    const { printer: t, filament: f } = this.traits;
    this.tool = tool;
    this.deposit.tool = tool;
    let heater = this.heaters.get(tool);
    if (!heater) this.heaters.set(tool, (heater = new Heater(t, this.faults.heaterLags)));
    let spring = this.springs.get(tool);
    if (!spring) this.springs.set(tool, (spring = new Spring(t.slack, t.slipsAt, f.meltDepth)));
    this.heater = heater;
    this.spring = spring;
  }

  private command(c: Command): void {
    switch (c.kind) {
      case 'heat': {
        const heater = this.heaterOf(c.tool);
        // The controller holds what its sensor shows.
        heater.aim(c.target > 0 ? c.target - this.traits.printer.sensorError : 0);
        if (c.wait) this.waits(heater.wait(), heater);
        return;
      }
      case 'bed':
        this.deposit.bed = c.target;
        this.bedMost = Math.max(this.bedMost, c.target);
        return;
      case 'settle':
        for (const [tool, heater] of this.heaters)
          if (c.heater !== 'bed' && c.heater !== 'chamber' && (c.tool ?? tool) === tool)
            this.waits(heater.wait(), heater);
        return;
      case 'tool':
        if (c.to === this.tool || c.to < 0 || c.to > 63) return;
        this.endWay();
        this.change(c.to);
        this.old = 1;
        if (this.faults.toolRestores !== undefined) this.heater.aim(this.faults.toolRestores);
        return;
      case 'fan':
        this.fan.share = c.share;
        return;
      case 'dwell':
        this.still(0, Math.min(c.seconds, 86_400));
    }
  }

  private heaterOf(tool: number): Heater {
    let heater = this.heaters.get(tool);
    if (!heater) this.heaters.set(tool, (heater = new Heater(this.traits.printer, this.faults.heaterLags)));
    return heater;
  }

  /** One heater has been waited for; the others and the fan go on meanwhile. */
  private waits(seconds: number, but: Heater): void {
    this.out.time += seconds;
    this.fan.pass(seconds);
    for (const heater of this.heaters.values()) if (heater !== but) heater.pass(seconds);
    this.leaks(seconds, false);
    this.sample();
  }

  private pass(seconds: number): void {
    this.out.time += seconds;
    for (const heater of this.heaters.values()) heater.pass(seconds);
    this.fan.pass(seconds);
    this.echo.pass(seconds);
    if (this.out.time - this.sampled >= 1) this.sample();
  }

  private sample(): void {
    const { course, time } = this.out;
    this.sampled = time;
    course.n++;
    course.time.push(time);
    course.z.push(this.z);
    course.real.push(this.heater.temperature);
    course.shown.push(this.heater.temperature + this.traits.printer.sensorError);
  }

  /** Pressure for each mm/s that comes out, s, and what melts, mm/s: both by the temperature that the nozzle has. */
  private get time(): number {
    const hot = this.heater.temperature - this.middle;
    return Math.max(2e-3, this.traits.printer.pressureTime * this.narrow * Math.exp(-this.traits.filament.thins * hot));
  }

  private get melts(): number {
    const { melts, meltSlope } = this.traits.printer;
    const { temperature } = this.heater;
    // Cold filament does not melt at all.
    if (temperature < this.traits.filament.glass + 60) return 0.01;
    return Math.max(0.05, (melts / this.area) * (1 + meltSlope * (temperature - this.middle)));
  }

  private get oozing(): number {
    const { oozesAt, oozeWidth } = this.traits.filament;
    const free = Math.exp((this.heater.temperature - oozesAt) / oozeWidth) * (1 + 1.8 * this.moisture);
    // No nozzle runs empty faster than it can.
    return free / (1 + free / 10);
  }

  /** Lets what oozes come out for a time, mm³. */
  private leaks(seconds: number, stands: boolean): void {
    if (this.heater.temperature < this.traits.filament.glass + 60) return;
    this.came(this.spring.leak(LEAK * this.oozing, seconds, this.eases), stands);
  }

  /** The extruder alone moves, or nothing does. */
  private still(e: number, t: number): void {
    this.drop();
    if (!this.way.under) this.beginWay();
    // It stands: what comes out lies there, and is drawn out nowhere.
    this.push(e, t, true);
    this.pass(t);
  }

  /** The extruder pushes or pulls while nothing is laid. */
  private push(e: number, t: number, stands: boolean): void {
    const rate = t > 0 ? e / t : 0;
    const out = this.spring.feed(rate, rate, t, this.time, this.melts);
    this.stale(out * this.area);
    this.came(out, stands);
    this.leaks(t, stands);
  }

  /** What pressure advance had pushed ahead is taken back. */
  private drop(): void {
    if (this.ahead === 0) return;
    this.spring.push(-this.ahead);
    this.ahead = 0;
  }

  private travel(x: number, y: number, z: number, e: number, t: number): void {
    this.drop();
    if (!this.way.under) this.beginWay();
    this.way.leave(this.x, this.y, this.z, this.out.time);
    this.push(e, t, false);
    this.pull();
    this.way.over(this.x, this.y, this.z, x, y, z);
    this.pass(t);
  }

  private beginWay(): void {
    this.deposit.lift();
    this.way.begin(this.z);
  }

  /** The nozzle leaves: it pulls a little out, the less the further the filament is drawn back. */
  private pull(): void {
    if (this.way.moved) return;
    this.way.moved = true;
    if (this.heater.temperature < this.traits.filament.glass + 60) return;
    this.came(this.spring.pull(PULL * this.oozing, this.eases), false);
  }

  /** Filament has come out while nothing was laid, mm. */
  private came(out: number, stands: boolean): void {
    this.way.came(out * this.area, stands);
    this.out.mass += out * this.area;
  }

  private endWay(): void {
    if (!this.way.under) return;
    this.deposit.since = 0;
    this.way.arrive(this.x, this.y, this.z, this.out.time);
    if (this.out.looseFrom !== undefined) this.deposit.drift(this.random() - 0.5, this.random() - 0.5);
  }

  private stale(volume: number): void {
    if (this.old > 0) this.old = this.old < 1e-3 ? 0 : this.old * Math.exp(-volume / MELT_VOLUME);
  }

  /** A line is laid: its trapezoid in up to three stretches, each in pieces while what comes out still changes. */
  private print(
    x: number,
    y: number,
    z: number,
    d: number,
    e: number,
    v0: number,
    vp: number,
    v1: number,
    a: number,
    total: number,
    k: number,
  ): void {
    this.endWay();
    const ratio = e / d;
    const t0 = Math.max(0, (vp - v0) / a);
    const t2 = Math.max(0, (vp - v1) / a);
    const t1 = Math.max(0, total - t0 - t2);
    const s0 = Math.min(d, ((v0 + vp) / 2) * t0);
    const s2 = Math.min(d - s0, ((v1 + vp) / 2) * t2);
    const ahead = k * ratio * v0;
    if (ahead !== this.ahead) this.spring.push(ahead - this.ahead);
    this.stretch(x, y, z, d, 0, s0, v0, vp, t0, ratio, k * a * ratio);
    this.stretch(x, y, z, d, s0, d - s2, vp, vp, t1, ratio, 0);
    this.stretch(x, y, z, d, d - s2, d, vp, v1, t2, ratio, -k * a * ratio);
    this.ahead = k * ratio * v1;
  }

  private stretch(
    x: number,
    y: number,
    z: number,
    d: number,
    s0: number,
    s1: number,
    v0: number,
    v1: number,
    t: number,
    ratio: number,
    extra: number,
  ): void {
    if (s1 - s0 < 1e-6 || t <= 0) return;
    const { time, melts, spring } = this;
    const steady = time * ratio * v1;
    const changes = !spring.smooth || Math.abs(spring.pressed - steady) > EVEN * Math.max(steady, spring.pressed, 1e-6);
    // In pieces of half a time constant while it changes; what is left of it is one.
    const n =
      changes && s1 - s0 > 0.15
        ? Math.max(1, Math.min(MOST_PIECES, Math.ceil((2 * t) / time), Math.ceil((s1 - s0) / 0.15)))
        : 1;
    const short = n > 1 ? Math.min(t / n, time / 2) : t;
    const drive = t > 0 ? (v1 - v0) / t : 0;
    this.echo.drive(drive * this.ux, drive * this.uy);
    let tau = 0;
    let v = v0;
    let s = s0;
    for (let i = 0; i < n; i++) {
      const dt = i === n - 1 ? t - tau : short;
      const to = i === n - 1 ? v1 : v + ((v1 - v0) * dt) / t;
      const end = i === n - 1 ? s1 : Math.min(s1, s + ((v + to) / 2) * dt);
      const out = spring.feed(ratio * v + extra, ratio * to + extra, dt, time, melts);
      // What it lies on may change on the way.
      const parts = Math.ceil((end - s) / LONGEST);
      for (let k = 0; k < parts; k++) {
        const u0 = (s + ((end - s) * k) / parts) / d;
        const u1 = (s + ((end - s) * (k + 1)) / parts) / d;
        this.piece(
          this.x + (x - this.x) * u0,
          this.y + (y - this.y) * u0,
          this.x + (x - this.x) * u1,
          this.y + (y - this.y) * u1,
          this.z + (z - this.z) * u1,
          (end - s) / parts,
          out / parts,
          dt / parts,
          melts,
        );
      }
      tau += dt;
      v = to;
      s = end;
    }
  }

  private piece(
    x0: number,
    y0: number,
    x1: number,
    y1: number,
    z: number,
    length: number,
    out: number,
    t: number,
    melts: number,
  ): void {
    if (length < 1e-6) return;
    const volume = out * this.area;
    this.out.mass += volume;
    this.pass(t);
    this.stale(volume);
    const share = out / t / melts;
    const melt = this.heater.temperature - CHILL * Math.min(1, share * share);
    this.deposit.wind = this.fan.turning * this.traits.printer.fanPower;
    this.deposit.lay(x0, y0, x1, y1, z, length, volume / length, share, melt, this.out.time, this.old);
    if (this.faults.comesLoose !== undefined && z >= this.faults.comesLoose) this.out.looseFrom ??= z;
  }

  /** Mass in g of what came out, which was gathered as a volume, mm³. */
  weigh(): Outcome {
    const out = this.result();
    out.mass = massOf(this.context.filament, out.mass / this.area);
    return out;
  }
}
