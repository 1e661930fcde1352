import { fault, show, type Fault } from '#core/base';
import { coldest, filamentArea, filamentOf, flowLimit, hottest, reachOf, type Context } from '#core/context';
import { dialects } from '#core/gcode';
import type { Chunk, Command } from '#core/moves';
import { forbidden, passive } from './commands';

/** What a check needs to know. `lifted` names the protections that the trial lifts; they are still capped. */
export interface CheckContext extends Context {
  lifted: readonly string[];
  /** A file of other origin: its manners are its own, what could hurt is not. */
  foreign?: boolean;
}

const MOST_FAULTS = 24;
const LONGEST_RETRACTION = 15;
const MOST_IN_PLACE = 30;
/** A feed check pushes slowly, in short pieces, well above the bed. mm, mm/s. */
const [MOST_FREE, FREE_HEIGHT, FREE_SPEED, FREE_PIECE] = [300, 15, 6, 25.001];
const MOST_MISSING = 0.501;

/** What is lower than this no head can hit, mm. */
const LOW = 0.8;

/** How our own files are to be written; another program may do otherwise without harm. */
const manners = new Set([
  'check.ascii',
  'check.line',
  'check.modes',
  'check.tool-state',
  'check.unknown',
  'check.fan',
  'check.homing-late',
]);

/** A box around something printed, mm. */
interface Standing {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  top: number;
}

/**
 * The safety rules over a stream of moves and commands. It keeps its own picture of the machine and shares nothing
 * with the writer. Each broken rule is a fault at its line, once per kind of fault and layer of code.
 */
export class Rules {
  readonly faults: Fault[] = [];
  /** What a file of other origin does in another manner than ours; nothing against it. */
  readonly notes: Fault[] = [];
  private readonly seen = new Map<string, number>();
  private readonly reach;
  /** What a tool change leaves to be stated again before the new tool prints. */
  private readonly stale = new Set<'advance' | 'fan'>();
  private readonly area;
  private homed = new Set<string>();
  private stated = { units: false, axes: false, extrusion: false };
  private tool = 0;
  private target = new Map<number, number>();
  private certain = new Map<number, number>();
  private back = new Map<number, number>();
  private inPlace = 0;
  private bed = 0;
  private highest = 0;
  /** The object being printed, and those finished before it; only what stands higher than the head's underside. */
  private current: Standing | undefined;
  private readonly finished: Standing[] = [];
  private x = NaN;
  private y = NaN;
  private z = NaN;
  private overrides = { speed: 1, flow: 1 };
  private extruded = 0;

  constructor(private readonly context: CheckContext) {
    this.reach = reachOf(context.printer);
    this.area = filamentArea(context.filament);
  }

  /** Takes the next chunk of the file. */
  take(chunk: Chunk): void {
    let next = 0;
    const { moves, commands } = chunk;
    for (let i = 0; i < moves.n; i++) {
      while (next < commands.length && commands[next]!.before <= i) this.command(commands[next++]!);
      this.move(chunk, i);
    }
    while (next < commands.length) this.command(commands[next++]!);
  }

  /** What must hold at the end of the file. */
  end(lastLine: number): void {
    for (const [tool, target] of this.target) {
      if (target > 0)
        this.add(
          'check.end-hot',
          lastLine,
          `tool ${tool} is still heated to ${target} °C at the end`,
          'switch every heater off at the end',
        );
    }
    if (this.bed > 0)
      this.add(
        'check.end-bed',
        lastLine,
        `the bed is still heated to ${this.bed} °C at the end`,
        'switch the bed off at the end',
      );
    if (this.extruded > 0 && this.z < this.highest)
      this.add('check.end-low', lastLine, 'the head is left in the print', 'lift it at the end');
    if (this.overrides.speed !== 1 || this.overrides.flow !== 1) {
      this.add(
        'check.override',
        lastLine,
        'a speed or flow override other than 100 % is left on',
        'set M220 and M221 to 100',
      );
    }
  }

  /** @param wrong built only when it is said: a file may break one rule a million times */
  private add(code: string, line: number, wrong: string | (() => string), right: string): void {
    const what = () => (typeof wrong === 'string' ? wrong : wrong());
    if (this.context.foreign && manners.has(code)) {
      const count = (this.seen.get(code) ?? 0) + 1;
      this.seen.set(code, count);
      if (count === 1) this.notes.push(fault(code, `line ${line}`, what(), right));
      return;
    }
    const count = (this.seen.get(code) ?? 0) + 1;
    this.seen.set(code, count);
    if (count <= 3 && this.faults.length < MOST_FAULTS) this.faults.push(fault(code, `line ${line}`, what(), right));
  }

  private command(c: Command): void {
    const { printer } = this.context;
    const line = c.line;
    switch (c.kind) {
      case 'home':
        this.home(['X', 'Y', 'Z'], line);
        return;
      case 'mode':
        this.stated[c.what] = true;
        if (c.what === 'units' && c.value !== 'mm')
          this.add('check.units', line, 'the file speaks in inches', 'write millimetres (G21)');
        return;
      case 'heat': {
        if (!(c.target >= 0))
          return this.add('check.number', line, 'a temperature is no number', 'write a finite figure');
        const limit = hottest({ ...this.context, filament: filamentOf(this.context, c.tool) });
        if (c.target > limit.value) {
          this.add(
            'check.too-hot',
            line,
            `${show(c.target)} °C is over the limit of the ${limit.by}, ${show(limit.value)} °C`,
            `heat to at most ${show(limit.value)} °C`,
          );
        }
        this.target.set(c.tool, c.target);
        const before = this.certain.get(c.tool) ?? 0;
        this.certain.set(c.tool, c.wait ? c.target : Math.min(before, c.target));
        return;
      }
      case 'bed':
        this.bed = c.target;
        if (c.target > printer.maximum.bedTemperature) {
          this.add(
            'check.bed-hot',
            line,
            `${show(c.target)} °C is over the bed’s limit, ${show(printer.maximum.bedTemperature)} °C`,
            'heat the bed less',
          );
        }
        return;
      case 'fan':
        this.stale.delete('fan');
        if (!(c.share >= 0 && c.share <= 1))
          this.add('check.fan', line, 'the fan is asked for more than it has', 'write 0 to 255');
        return;
      case 'acceleration':
        // A file of other origin may leave the printer’s own value for travel.
        for (const a of this.context.foreign && c.travel === 0 ? [c.print] : [c.print, c.travel]) {
          if (!(a > 0 && a <= printer.maximum.acceleration)) {
            this.add(
              'check.acceleration',
              line,
              `${show(a)} mm/s² is not within the printer’s limit, ${show(printer.maximum.acceleration)} mm/s²`,
              'accelerate less',
            );
          }
        }
        return;
      case 'advance':
        this.stale.delete('advance');
        if (!(c.value >= 0 && c.value <= 3))
          this.add('check.advance', line, `pressure advance ${c.value} is out of range`, 'write 0 to 3');
        return;
      case 'override':
        this.overrides[c.what] = c.share;
        if (c.share !== 1)
          this.add('check.override', line, `the ${c.what} is set to ${show(c.share * 100)} %`, 'leave it at 100 %');
        return;
      case 'tool':
        this.tool = c.to;
        if (c.to >= printer.tools)
          this.add('check.tool', line, `tool ${c.to} does not exist`, `use tools 0 to ${printer.tools - 1}`);
        // A tool carries its own temperature: it must be waited for again.
        this.certain.set(c.to, 0);
        if (this.extruded > 0) for (const what of ['advance', 'fan'] as const) this.stale.add(what);
        return;
      case 'position':
        if (c.axes.x !== undefined || c.axes.y !== undefined || c.axes.z !== undefined) {
          this.add('check.offset', line, 'the coordinates are shifted (G92 with X, Y or Z)', 'reset only E');
        }
        return;
      case 'dwell':
        if (!(c.seconds >= 0 && c.seconds <= 600))
          this.add('check.dwell', line, `a wait of ${show(c.seconds)} s is out of range`, 'wait at most 600 s');
        return;
      case 'raw':
        this.raw(c.text, line);
        return;
      case 'layer':
        return;
    }
  }

  private home(axes: readonly string[], line: number): void {
    // A head on a round bed homes upwards, away from the print.
    if (axes.includes('Z') && this.extruded > 0 && this.context.printer.bed.shape === 'rectangle')
      this.add(
        'check.homing-late',
        line,
        'Z is homed after printing has begun: the nozzle could be driven into the print',
        'home only X and Y from there on',
      );
    for (const axis of axes) this.homed.add(axis);
    this.x = this.y = this.z = NaN;
  }

  /** Motors that are switched off hold no place: their axes are to be homed again. A time (S) switches nothing off yet. */
  private letGo(words: string): void {
    const axes = words.match(/[XYZ]/g);
    if (axes) for (const axis of axes) this.homed.delete(axis);
    else if (!/[ES]/.test(words)) this.homed.clear();
  }

  private raw(text: string, line: number): void {
    const name = /^[A-Za-z_]+[A-Za-z0-9_.]*/.exec(text)?.[0].toUpperCase() ?? text.slice(0, 12);
    const macro = this.context.printer.macros.find((m) => m.name.toUpperCase() === name);
    if (macro) {
      if (macro.homes) this.homed = new Set(['X', 'Y', 'Z']);
      this.stated = { units: false, axes: false, extrusion: false };
      this.x = this.y = this.z = NaN;
      return;
    }
    if (name === 'G28') {
      this.home(text.toUpperCase().match(/[XYZ]/g) ?? [], line);
      return;
    }
    if (name === 'M84' || name === 'M18') this.letGo(text.slice(name.length).toUpperCase());
    const why = forbidden(name, this.context.printer.firmware);
    if (why) this.add('check.forbidden', line, `${name} ${why}`, 'take the line out');
    else if (!passive.has(name)) {
      this.add(
        'check.unknown',
        line,
        `what “${text.slice(0, 40)}” does is not known`,
        'take it out, or name the macro and say what it does with the printer',
      );
    }
  }

  private move({ moves, states }: Chunk, i: number): void {
    const { printer } = this.context;
    const line = moves.line[i]!;
    const x = moves.x[i]!;
    const y = moves.y[i]!;
    const z = moves.z[i]!;
    const e = moves.e[i]!;
    const speed = moves.speed[i]!;
    if (!(
      Number.isFinite(x) &&
      Number.isFinite(y) &&
      Number.isFinite(z) &&
      Number.isFinite(e) &&
      Number.isFinite(speed)
    )) {
      this.add('check.number', line, 'a figure is missing or not finite', 'write plain numbers');
      return;
    }
    const known = !Number.isNaN(this.x);
    const dx = known ? x - this.x : 0;
    const dy = known ? y - this.y : 0;
    const dz = known ? z - this.z : 0;
    const flat = Math.hypot(dx, dy);
    const length = Math.hypot(flat, dz);
    const moved = !known || length > 0;
    if (moved) {
      if (this.homed.size < 3)
        this.add('check.homing', line, 'the head moves before all axes are homed', 'home with G28 first');
      const r = this.reach;
      const hair = 0.0015;
      if (x < r.x0 - hair || x > r.x1 + hair || y < r.y0 - hair || y > r.y1 + hair || z > printer.height + hair) {
        this.add(
          'check.reach',
          line,
          () => `the head would go to X${show(x)} Y${show(y)} Z${show(z)}, outside the printer`,
          'stay inside the volume',
        );
      }
      if (z < -hair)
        this.add('check.floor', line, () => `the nozzle would go to Z${show(z)}, below the bed`, 'stay above the bed');
      if (flat > 0) this.clearOf(line, x, y, z);
      if (speed > printer.maximum.speed * 1.001)
        this.add(
          'check.speed',
          line,
          () => `${show(speed)} mm/s is over the printer’s limit, ${show(printer.maximum.speed)} mm/s`,
          'move slower',
        );
      if (known && flat === 0 && length > 0 && speed > printer.maximum.zSpeed * 1.001) {
        this.add(
          'check.z-speed',
          line,
          () => `Z would move at ${show(speed)} mm/s, its limit is ${show(printer.maximum.zSpeed)} mm/s`,
          'move Z slower',
        );
      }
    }
    if (e !== 0) this.extrude(line, x, y, z, e, speed, flat, length, states[moves.state[i]!]!.tool);
    if (flat > 0 && e > 0) this.inPlace = 0;
    this.x = x;
    this.y = y;
    this.z = z;
  }

  private extrude(
    line: number,
    x: number,
    y: number,
    z: number,
    e: number,
    speed: number,
    flat: number,
    length: number,
    tool: number,
  ): void {
    const { printer, lifted } = this.context;
    const { extruder } = printer;
    if (!this.stated.units || !this.stated.axes || !this.stated.extrusion) {
      this.add(
        'check.modes',
        line,
        'filament moves before units and modes are stated',
        'write G21, G90 and M82 or M83 first',
      );
    }
    const certain = this.certain.get(tool) ?? 0;
    const least = coldest(filamentOf(this.context, tool));
    if (certain < least) {
      this.add(
        'check.cold',
        line,
        () => `filament is moved while the nozzle is sure of only ${show(certain)} °C; it needs ${show(least)} °C`,
        'wait for the temperature first (M109)',
      );
    }
    if (Math.abs(e) > dialects[printer.firmware].longestPush) {
      this.add(
        'check.push',
        line,
        () => `${show(Math.abs(e))} mm of filament in one go is more than the firmware takes`,
        `push at most ${dialects[printer.firmware].longestPush} mm at once`,
      );
    }
    const back = this.back.get(tool) ?? 0;
    if (e < 0) {
      this.back.set(tool, back - e);
      if (back - e > LONGEST_RETRACTION)
        this.add(
          'check.retraction',
          line,
          () => `${show(back - e)} mm of filament is drawn back`,
          `draw back at most ${LONGEST_RETRACTION} mm`,
        );
      if (flat === 0 && speed > extruder.maximumSpeed * 1.001) this.extruderSpeed(line, speed);
      return;
    }
    this.back.set(tool, Math.max(0, back - e));
    const pushed = Math.max(0, e - back);
    if (flat === 0) {
      this.inPlace += pushed;
      // Before anything is printed, high above the bed, what is pushed hangs free: a feed check.
      const free = this.extruded === 0 && z >= FREE_HEIGHT && speed <= FREE_SPEED && e <= FREE_PIECE;
      if (this.inPlace > (free ? MOST_FREE : MOST_IN_PLACE))
        this.add(
          'check.blob',
          line,
          () => `${show(this.inPlace)} mm of filament is pushed in one place`,
          `push at most ${free ? MOST_FREE : MOST_IN_PLACE} mm without moving`,
        );
      if (length === 0 && speed > extruder.maximumSpeed * 1.001) this.extruderSpeed(line, speed);
      return;
    }
    if (back > MOST_MISSING)
      this.add(
        'check.retracted',
        line,
        () => `a line is printed while ${show(back)} mm of filament is drawn back`,
        'un-retract first',
      );
    // What a shorter un-retract leaves missing is missing in this line; it does not add up.
    this.back.set(tool, 0);
    this.extruded += e;
    if (this.stale.size > 0) {
      this.add(
        'check.tool-state',
        line,
        () =>
          `after the change to tool ${tool} ${[...this.stale].map((w) => (w === 'fan' ? 'the fan' : 'pressure advance')).join(' and ')} was not stated again`,
        'state every value of a tool after it is changed',
      );
      this.stale.clear();
    }
    if (z < 0.02)
      this.add('check.floor', line, () => `a line at Z${show(z)} has no room under the nozzle`, 'print above the bed');
    this.onBed(line, x, y);
    if (z > this.highest) this.highest = z;
    this.stands(x, y, z);
    const area = (e * this.area) / length;
    // A way of next to no length says nothing of its cross-section, but must not be a blob either.
    if (Math.min(area, (e * this.area) / 0.05) > 4 * printer.nozzle.diameter ** 2) {
      this.add(
        'check.thick',
        line,
        () => `the line has ${show(area)} mm² in cross-section`,
        `give at most ${show(4 * printer.nozzle.diameter ** 2)} mm² with this nozzle`,
      );
    }
    const flow = area * speed;
    const most = flowLimit(printer, lifted.includes('flow-cap'));
    // Positions are written to 1 µm: on a short line that alone changes the figure.
    if (flow > most * (1.01 + 0.002 / length) && length > 0.05) {
      this.add(
        'check.flow',
        line,
        () => `${show(flow, 1)} mm³/s is more than the hotend melts, ${show(most, 1)} mm³/s`,
        'print slower',
      );
    }
    if ((e / length) * speed > extruder.maximumSpeed * 1.01 && length > 0.05)
      this.extruderSpeed(line, (e / length) * speed);
  }

  /** A head that goes below what it has printed must be clear of it, with its sides and with the gantry. */
  private clearOf(line: number, x: number, y: number, z: number): void {
    const { head } = this.context.printer;
    const from = Number.isNaN(this.x) ? { x, y } : { x: this.x, y: this.y };
    const near = (o: Standing) =>
      hits(from.x, from.y, x, y, o.x0 - head.radius, o.y0 - head.radius, o.x1 + head.radius, o.y1 + head.radius);
    const { current } = this;
    if (current && z < current.top - 0.0015) {
      if (near(current)) {
        this.add(
          'check.collision',
          line,
          () => `the head moves at Z${show(z)} below what is printed, ${show(current.top)} mm`,
          'lift first',
        );
        return;
      }
      this.finished.push(current);
      this.current = undefined;
    }
    for (const o of this.finished) {
      if (z >= o.top - 0.0015) continue;
      if (near(o)) {
        this.add(
          'check.clearance',
          line,
          () =>
            `the head comes within ${show(head.radius)} mm of the object at X${show((o.x0 + o.x1) / 2, 0)} Y${show((o.y0 + o.y1) / 2, 0)}, which stands ${show(o.top)} mm high`,
          'set the objects further apart',
        );
      } else if (o.top - z > head.gantryHeight) {
        this.add(
          'check.gantry',
          line,
          () =>
            `the object at X${show((o.x0 + o.x1) / 2, 0)} Y${show((o.y0 + o.y1) / 2, 0)} stands ${show(o.top - z)} mm above the nozzle, the gantry passes at ${show(head.gantryHeight)} mm`,
          'print lower objects, or layer by layer',
        );
      }
    }
  }

  private stands(x: number, y: number, z: number): void {
    if (z < LOW) return;
    const o = (this.current ??= { x0: x, y0: y, x1: x, y1: y, top: z });
    for (const [px, py] of [
      [x, y],
      [this.x, this.y],
    ] as const) {
      if (px < o.x0) o.x0 = px;
      if (px > o.x1) o.x1 = px;
      if (py < o.y0) o.y0 = py;
      if (py > o.y1) o.y1 = py;
    }
    if (z > o.top) o.top = z;
  }

  private extruderSpeed(line: number, speed: number): void {
    this.add(
      'check.extruder-speed',
      line,
      () =>
        `the extruder would turn at ${show(speed)} mm/s, its limit is ${show(this.context.printer.extruder.maximumSpeed)} mm/s`,
      'feed slower',
    );
  }

  private onBed(line: number, x: number, y: number): void {
    const { bed, keepOut } = this.context.printer;
    const r = this.reach;
    const hair = 0.0015;
    const from = { x: this.x, y: this.y };
    const off =
      bed.shape === 'round'
        ? Math.hypot(x, y) > bed.diameter / 2 + hair
        : x < r.x0 - hair || x > r.x1 + hair || y < r.y0 - hair || y > r.y1 + hair;
    if (off)
      this.add(
        'check.off-bed',
        line,
        () => `a line ends at X${show(x)} Y${show(y)}, off the bed`,
        'keep extrusion on the bed',
      );
    for (const zone of keepOut) {
      if (hits(from.x, from.y, x, y, zone.x, zone.y, zone.x + zone.width, zone.y + zone.depth)) {
        this.add(
          'check.keep-out',
          line,
          () => `a line runs through the keep-out zone ${zone.label}`,
          'keep clear of it',
        );
      }
    }
  }
}

/** Whether a segment meets a box (slab test). */
function hits(ax: number, ay: number, bx: number, by: number, x0: number, y0: number, x1: number, y1: number): boolean {
  let t0 = 0;
  let t1 = 1;
  for (const [a, d, low, high] of [
    [ax, bx - ax, x0, x1],
    [ay, by - ay, y0, y1],
  ] as const) {
    if (d === 0) {
      if (a < low || a > high) return false;
      continue;
    }
    const u = (low - a) / d;
    const v = (high - a) / d;
    t0 = Math.max(t0, Math.min(u, v));
    t1 = Math.min(t1, Math.max(u, v));
    if (t0 > t1) return false;
  }
  return true;
}
