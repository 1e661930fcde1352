import { normal, seeded, type Random } from '#core/base';
import { filamentArea, massOf, reachOf, usualTemperature, type Context } from '#core/context';
import { limitsOf, Timer } from '#core/motion';
import type { Chunk, Command } from '#core/moves';
import { lineWidthOf } from '#core/settings';
import { Echo } from './echo';
import { Ground } from './ground';
import { Fan, Heater, ROOM } from './heat';
import { Laying, type Blob, type Laid, type Strand } from './laid';
import { Spring } from './spring';
import { Spans } from './spans';
import type { LabFaults, Traits } from './traits';

/** Pieces of one stretch of a move, where what comes out still changes. */
const MOST_PIECES = 6;
/** A piece is at most so long, mm. */
const LONGEST = 2.5;
/** A change of less than this share is none. */
const EVEN = 0.03;
/** So many strands and blobs are kept. */
const MOST_KEPT = 200_000;
/** What drips off a nozzle at once instead of being drawn out, mm³. */
const BLOB = 0.06;
/** Of what leaks on a way so much is wiped off where the next line begins. */
const WIPED = 0.3;
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
/** So far one looks for a wall around a strand, mm. */
const SEEN = 20;
/** How much strands of one way differ in thickness, as a share. */
const STRAND_SCATTER = 0.3;
/** Thinner than this a strand breaks before it arrives, mm. */
export const BREAKS = 0.035;

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
  private readonly ground: Ground;
  private readonly laying = new Laying();
  private readonly spans: Spans;
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
  private bed = 0;
  private x = 0;
  private y = 0;
  private z = 0;
  /** Where it goes, of a unit length. */
  private ux = 0;
  private uy = 0;
  /** What pressure advance has pushed ahead, mm. */
  private ahead = 0;
  /** Of the line in hand: how thick it is meant to be, mm, its number in the file, the section that was asked for, mm². */
  private layer = 0.2;
  private line = 0;
  private asked = 0;
  /** Distance laid since the last way, mm. */
  private since = 0;
  /** Whether the nozzle is on a way, at what height, over which air, and what came out on it, mm³. */
  private way = false;
  private pulled = false;
  private wayZ = 0;
  private airFrom: [number, number] | undefined;
  private airTo: [number, number] = [0, 0];
  private drips = 0;
  /** What came out while the nozzle stood, mm³. */
  private lump = 0;
  /** How much of the colour before is in the melt, 0–1. */
  private old = 0;
  private sampled = -1;
  private bedMost = 0;
  private readonly centre: { x: number; y: number };

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
    const usual = usualTemperature[filament.material];
    this.middle = (Math.max(filament.temperature.min, usual.min) + Math.min(filament.temperature.max, usual.max)) / 2;
    this.moisture = faults.damp ? 1 : f.moisture;
    this.eases = EASES * f.meltDepth;
    this.narrow = (printer.nozzle.diameter / (faults.nozzle ?? printer.nozzle.diameter)) ** 3;
    this.fan = new Fan(t.fanFrom, t.fanTime);
    const box = reachOf(printer);
    this.centre = { x: (box.x0 + box.x1) / 2, y: (box.y0 + box.y1) / 2 };
    const half = { x: Math.max(1, (box.x1 - box.x0) / 2), y: Math.max(1, (box.y1 - box.y0) / 2) };
    const { x: cx, y: cy } = this.centre;
    this.ground = new Ground(
      box,
      (x, y) => {
        const u = (x - cx) / half.x;
        const v = (y - cy) / half.y;
        return t.tiltX * u + t.tiltY * v + t.bowl * ((u * u + v * v) / 2 - 0.5) - t.nozzleHeight;
      },
      ROOM,
    );
    this.spans = new Spans(this.laying.laid);
    this.echo = new Echo(t);
    this.out = {
      laid: this.laying.laid,
      strands: [],
      blobs: [],
      course: { n: 0, time: [], z: [], shown: [], real: [] },
      time: 0,
      asked: 0,
      fed: 0,
      slipped: 0,
      mass: 0,
      held: 0,
      warp: 0,
      nozzle: faults.nozzle ?? printer.nozzle.diameter,
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
          this.layer = moves.height[i]! > 0 ? moves.height[i]! : 0.2;
          this.line = moves.line[i]!;
          this.asked = (moves.e[i]! * this.area) / d;
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
    this.spans.end(false);
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
        this.bed = c.target;
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
    this.leaks(seconds);
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
  private leaks(seconds: number): void {
    if (this.heater.temperature < this.traits.filament.glass + 60) return;
    this.came(this.spring.leak(LEAK * this.oozing, seconds, this.eases));
  }

  /** The extruder alone moves, or nothing does. */
  private still(e: number, t: number): void {
    this.drop();
    const before = this.drips;
    if (!this.way) this.beginWay();
    this.push(e, t);
    // It stands: what comes out lies there, and is drawn out nowhere.
    this.lump += this.drips - before;
    this.drips = before;
    this.pass(t);
  }

  /** The extruder pushes or pulls while nothing is laid. */
  private push(e: number, t: number): void {
    const rate = t > 0 ? e / t : 0;
    const out = this.spring.feed(rate, rate, t, this.time, this.melts);
    this.stale(out * this.area);
    this.came(out);
    this.leaks(t);
  }

  /** What pressure advance had pushed ahead is taken back. */
  private drop(): void {
    if (this.ahead === 0) return;
    this.spring.push(-this.ahead);
    this.ahead = 0;
  }

  private travel(x: number, y: number, z: number, e: number, t: number): void {
    this.drop();
    if (!this.way) this.beginWay();
    this.leaveLump();
    this.push(e, t);
    this.pull();
    this.crosses(x, y, z);
    this.pass(t);
  }

  /** What came out where the nozzle stood stays there. */
  private leaveLump(): void {
    if (this.lump > BLOB && this.out.blobs.length < MOST_KEPT)
      this.out.blobs.push({ x: this.x, y: this.y, z: this.z, volume: this.lump, time: this.out.time });
    this.lump = 0;
  }

  private beginWay(): void {
    this.spans.end(false);
    this.way = true;
    this.wayZ = this.z;
    this.airFrom = undefined;
    this.drips = 0;
    this.pulled = false;
  }

  /** The nozzle leaves: it pulls a little out, the less the further the filament is drawn back. */
  private pull(): void {
    if (this.pulled) return;
    this.pulled = true;
    if (this.heater.temperature < this.traits.filament.glass + 60) return;
    this.came(this.spring.pull(PULL * this.oozing, this.eases));
  }

  /** Filament has come out on a way, mm. */
  private came(out: number): void {
    this.drips += out * this.area;
    this.out.mass += out * this.area;
  }

  /** Looks for air below a straight way. */
  private crosses(x: number, y: number, z: number): void {
    const flat = Math.hypot(x - this.x, y - this.y);
    const n = Math.ceil(flat / 0.6);
    const { ground } = this;
    const z0 = Math.min(z, this.z, this.wayZ);
    for (let k = 0; k < n; k++) {
      const u = (k + 0.5) / n;
      const px = this.x + (x - this.x) * u;
      const py = this.y + (y - this.y) * u;
      if (ground.height(px, py) > z0 - 0.75) continue;
      this.airFrom ??= [px, py];
      this.airTo[0] = px;
      this.airTo[1] = py;
    }
  }

  /** The nozzle arrives where it prints on: what leaked hangs in the air as a strand, the rest is wiped off here. */
  private endWay(): void {
    if (!this.way) return;
    this.way = false;
    this.since = 0;
    const { airFrom: from, airTo: to, drips } = this;
    let left = drips;
    if (from && drips > 0 && this.out.strands.length < MOST_KEPT) {
      const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
      if (length > 0.8) {
        // No two strands are drawn out alike.
        const thickness =
          Math.sqrt(((1 - WIPED) * drips * 4) / (Math.PI * length)) * Math.exp(STRAND_SCATTER * normal(this.random));
        if (thickness >= BREAKS) {
          this.out.strands.push({
            x0: from[0],
            y0: from[1],
            x1: to[0],
            y1: to[1],
            z: this.wayZ,
            thickness,
            time: this.out.time,
            inside: this.enclosed((from[0] + to[0]) / 2, (from[1] + to[1]) / 2, this.wayZ),
          });
          left = WIPED * drips;
        }
      }
    }
    this.lump += left;
    this.leaveLump();
    this.drips = 0;
  }

  /** Whether a place in the air is shut in on all sides by what is printed, so that nobody sees it. */
  private enclosed(x: number, y: number, z: number): boolean {
    for (let k = 0; k < 8; k++) {
      const [dx, dy] = [Math.cos((k * Math.PI) / 4), Math.sin((k * Math.PI) / 4)];
      let met = false;
      for (let d = 0.3; d < SEEN && !met; d += 0.3) met = this.ground.height(x + d * dx, y + d * dy) > z - 0.75;
      if (!met) return false;
    }
    return true;
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
    if (this.way) this.endWay();
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
    const { ground, traits, laying } = this;
    const { laid } = laying;
    const { filament: f, printer } = traits;
    const volume = out * this.area;
    this.out.mass += volume;
    this.pass(t);
    this.stale(volume);
    const section = volume / length;
    const { layer, asked } = this;
    const share = out / t / melts;
    const melt = this.heater.temperature - CHILL * Math.min(1, share * share);
    const wind = this.fan.turning * printer.fanPower;
    // Near the bed it is warm.
    const around = ROOM + Math.max(0, this.bed - ROOM) * 0.7 * Math.exp(-z / 20);
    const cools = 7 / (1 + 2.2 * wind);
    const flatWidth = section > 0 ? lineWidthOf(section, layer) : 0;
    ground.lay(
      x0,
      y0,
      x1,
      y1,
      z,
      layer,
      Math.max(flatWidth, 0.1),
      Math.sqrt((4 * asked) / Math.PI),
      this.out.time,
      melt,
      around,
      cools,
      section > 0.15 * asked,
    );
    const known = ground.holds + ground.sinks + ground.frees;
    // Beside what holds it, what lies deeper is an overhang; alone, it is a gap that the line sinks through.
    const held = known > 0 ? (ground.holds > 0 ? ground.holds : ground.sinks) / known : 1;
    const free = known > 0 && ground.frees === known;
    const room = ground.holds > 0 ? Math.max(0.02, ground.thickness) : layer;
    const width = free ? Math.sqrt((4 * section) / Math.PI) * f.swells : section > 0 ? widthIn(section, room) : 0;
    const i = laying.next();
    const lost = this.faults.losesSteps;
    const off = lost !== undefined && z >= lost.at;
    laid.x0[i] = x0 + (off ? lost.x : 0);
    laid.y0[i] = y0 + (off ? lost.y : 0);
    laid.x1[i] = x1 + (off ? lost.x : 0);
    laid.y1[i] = y1 + (off ? lost.y : 0);
    laid.z[i] = z;
    laid.height[i] = free ? width : room;
    laid.layer[i] = layer;
    laid.width[i] = width;
    laid.area[i] = section;
    laid.asked[i] = asked;
    laid.melt[i] = melt;
    laid.beneath[i] = ground.beneath;
    laid.held[i] = held;
    laid.gap[i] = ground.holds > 0 ? 0 : ground.gap;
    laid.time[i] = this.out.time;
    laid.tool[i] = this.tool;
    laid.line[i] = this.line;
    laid.after[i] = this.since;
    laid.bleed[i] = this.old;
    laid.echo[i] = this.echo.across(x1 - x0, y1 - y0);
    this.since += length;
    // Heat of both sides of the joint: a layer laid on what is still warm welds at a lower temperature.
    const joint = melt + 0.45 * (ground.beneath - around) - 6 * wind;
    laid.weld[i] = free
      ? 0
      : (1 / (1 + Math.exp(-(joint - f.weldsAt) / f.weldWidth)) / (1 + (laid.gap[i]! / 0.15) ** 2)) *
        Math.min(1, (section / asked) ** 2) *
        // Too thick for its section it is hardly pressed on.
        Math.min(1, (section / room / this.out.nozzle / 0.75) ** 2);
    laid.soft[i] = Math.min(1, Math.max(0, (ground.beneath - f.glass - 12) / 50));
    const hot = (melt - this.middle) / 30;
    const slow = Math.max(-1, Math.min(1, 1 - share * 2.2));
    laid.gloss[i] = Math.min(1, Math.max(0, f.gloss + 0.22 * hot + 0.14 * slow - 0.1 * wind));
    const torn = Math.max(0, 0.92 - section / asked) * 2;
    // Lines that do not wet one another stand apart.
    const apart = free ? 0 : Math.max(0, 0.7 - laid.weld[i]!);
    const bubbles = 0.5 * this.moisture * Math.max(0, 0.4 + hot);
    laid.rough[i] = Math.min(1, torn + bubbles + 0.7 * apart + 0.5 * laid.soft[i]!);
    laid.sag[i] = 0;
    laid.curl[i] = ground.curl;
    const open = 1 - held;
    // What overhangs shrinks from its upper side as it cools, and rises: the more, the hotter it stays.
    if (open > 0.12 && !free) {
      const hotter = Math.exp((melt - this.middle) / 40) / (1 + 3 * wind);
      const up = Math.min(1.2, ground.curl * 0.93 + 0.022 * Math.min(1, open * 1.4) * hotter * (0.5 + laid.soft[i]!));
      ground.lift(x0, y0, x1, y1, up);
      laid.curl[i] = up;
      laid.sag[i] = 0.25 * layer * open * open * hotter * 2;
    } else if (ground.curl > 0.004) ground.lift(x0, y0, x1, y1, ground.curl * 0.6);
    const { freeHead, freeTail } = ground;
    this.spans.lay(i, length, freeHead, freeTail, {
      sags: (f.sags * Math.exp((melt - this.middle) / 28)) / (1 + 3.2 * wind),
      width,
    });
    if (this.faults.comesLoose !== undefined && z >= this.faults.comesLoose) this.out.looseFrom ??= z;
  }

  /** Mass in g of what came out, which was gathered as a volume, mm³. */
  weigh(): Outcome {
    const out = this.result();
    out.mass = massOf(this.context.filament, out.mass / this.area);
    return out;
  }
}

/** A line in a gap of its own height: its width, mm; in one so low that it is a film it spreads as far as it must. */
const widthIn = (section: number, height: number): number => Math.max(Math.sqrt(section), lineWidthOf(section, height));
