import { fault, show, type Fault } from '#core/base';
import {
  coldest,
  filamentArea,
  filamentOf,
  flowLimit,
  forbidden,
  heatAsked,
  hottest,
  probesBed,
  reachOf,
  type Context,
} from '#core/context';
import { dialects } from '#core/gcode';
import type { Chunk, Command } from '#core/moves';
import { passive } from './commands';
import { HAIR, Standings, type Way } from './standing';

/** What a check needs to know. `lifted` names the protections that the trial lifts; they are still capped. */
export interface CheckContext extends Context {
  lifted: readonly string[];
  /** A file of other origin: its manners are its own, what could hurt is not. */
  foreign?: boolean;
}

/** At most so many reasons are given against one file. */
export const MOST_FAULTS = 24;
const LONGEST_RETRACTION = 15;
const MOST_IN_PLACE = 30;
/** A feed check pushes slowly, in short pieces, well above the bed. mm, mm/s. */
const [MOST_FREE, FREE_HEIGHT, FREE_SPEED, FREE_PIECE] = [300, 15, 6, 25.001];
const MOST_MISSING = 0.501;

/** How our own files are to be written; another program may do otherwise without harm. */
const manners = new Set([
  'check.ascii',
  'check.line',
  'check.modes',
  'check.tool-state',
  'check.tool-unsaid',
  'check.unknown',
  'check.fan',
]);

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
  private readonly standings: Standings;
  private homed = new Set<string>();
  private stated = { units: false, axes: false, extrusion: false };
  private tool = 0;
  private toolSaid = false;
  private target = new Map<number, number>();
  private certain = new Map<number, number>();
  private back = new Map<number, number>();
  private inPlace = 0;
  private bed = 0;
  private highest = 0;
  private x = NaN;
  private y = NaN;
  private z = NaN;
  private overrides = { speed: 1, flow: 1 };
  private extruded = 0;

  constructor(private readonly context: CheckContext) {
    this.reach = reachOf(context.printer);
    this.area = filamentArea(context.filament);
    this.standings = new Standings(context.printer);
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
        this.nozzleTarget(c.tool, c.target, line);
        this.target.set(c.tool, c.target);
        const before = this.certain.get(c.tool) ?? 0;
        this.certain.set(c.tool, c.wait ? c.target : Math.min(before, c.target));
        return;
      }
      case 'bed':
        this.bed = c.target;
        this.bedTarget(c.target, line);
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
        this.toolSaid = true;
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

  private nozzleTarget(tool: number, target: number, line: number): void {
    const limit = hottest({ ...this.context, filament: filamentOf(this.context, tool) });
    if (target > limit.value)
      this.add(
        'check.too-hot',
        line,
        `${show(target)} °C is over the limit of the ${limit.by}, ${show(limit.value)} °C`,
        `heat to at most ${show(limit.value)} °C`,
      );
  }

  private bedTarget(target: number, line: number): void {
    const most = this.context.printer.maximum.bedTemperature;
    if (!(target >= 0)) this.add('check.number', line, 'a temperature is no number', 'write a finite figure');
    if (target > most)
      this.add(
        'check.bed-hot',
        line,
        `${show(target)} °C is over the bed’s limit, ${show(most)} °C`,
        'heat the bed less',
      );
  }

  private home(axes: readonly string[], line: number): void {
    // A head on a round bed homes upwards, away from the print.
    if (axes.includes('Z') && this.context.printer.bed.shape === 'rectangle') this.late(line, 'Z is homed');
    for (const axis of axes) this.homed.add(axis);
    if (axes.includes('X')) this.x = NaN;
    if (axes.includes('Y')) this.y = NaN;
    if (axes.includes('Z')) this.z = NaN;
  }

  /** What brings the nozzle down to the bed must be done before anything stands there. */
  private late(line: number, what: string): void {
    if (this.extruded > 0)
      this.add(
        'check.homing-late',
        line,
        `${what} after printing has begun: the nozzle could be driven into the print`,
        'home only X and Y from there on',
      );
  }

  /** Motors that are switched off hold no place: their axes are to be homed again. A time (S) switches nothing off yet. */
  private letGo(words: string): void {
    const axes = words.match(/[XYZ]/g);
    if (axes) for (const axis of axes) this.homed.delete(axis);
    else if (!/[ES]/.test(words)) this.homed.clear();
  }

  private raw(text: string, line: number): void {
    const name = /^[A-Za-z_]+[A-Za-z0-9_.]*/.exec(text)?.[0].toUpperCase() ?? text.slice(0, 12);
    const upper = text.toUpperCase();
    if (name === 'G28') {
      this.home(upper.slice(3).match(/[XYZ]/g) ?? [], line);
      return;
    }
    if (name === 'G10' && /P/.test(upper) && /[SR]/.test(upper)) {
      const standby = Number(/R\s*([-\d.]+)/.exec(upper)?.[1] ?? 0);
      this.nozzleTarget(Number(/P\s*(\d+)/.exec(upper)?.[1] ?? this.tool), standby, line);
      return;
    }
    if (probesBed(name)) this.late(line, `${name} probes the bed`);
    // What is forbidden stays so when a macro of that name is declared.
    const why = forbidden(name);
    if (why && !(name === 'SET_GCODE_OFFSET' && resets(text))) {
      this.add('check.forbidden', line, `${name} ${why}`, 'take the line out');
      return;
    }
    if (why) return;
    const { bed, nozzle } = heatAsked(text);
    if (name === 'SET_HEATER_TEMPERATURE') {
      this.heater(text, bed[0], nozzle[0], line);
      return;
    }
    for (const target of bed) this.bedTarget(target, line);
    for (const target of nozzle) this.nozzleTarget(this.tool, target, line);
    const macro = this.context.printer.macros.find((m) => m.name.toUpperCase() === name);
    if (macro) {
      if (macro.homes) this.home(['X', 'Y', 'Z'], line);
      this.stated = { units: false, axes: false, extrusion: false };
      this.x = this.y = this.z = NaN;
      return;
    }
    if (name === 'M84' || name === 'M18') this.letGo(text.slice(name.length).toUpperCase());
    if (!passive.has(name) && name !== 'G29') {
      this.add(
        'check.unknown',
        line,
        `what “${text.slice(0, 40)}” does is not known`,
        'take it out, or name the macro and say what it does with the printer',
      );
    }
  }

  /** A heater set by its name in words. */
  private heater(text: string, bed: number | undefined, nozzle: number | undefined, line: number): void {
    const which = /\bHEATER\s*=\s*"?(\w+)/i.exec(text)?.[1]?.toLowerCase() ?? '';
    const tool = /^extruder(\d*)$/.exec(which)?.[1];
    if (which === 'heater_bed') this.command({ kind: 'bed', target: bed ?? 0, wait: false, before: 0, line });
    else if (tool !== undefined)
      this.command({ kind: 'heat', tool: Number(tool), target: nozzle ?? 0, wait: false, before: 0, line });
    else
      this.add('check.unknown', line, `what the heater “${which}” heats is not known`, 'name the bed or an extruder');
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
    const known = !Number.isNaN(this.x) && !Number.isNaN(this.y) && !Number.isNaN(this.z);
    const dx = Number.isNaN(this.x) ? 0 : x - this.x;
    const dy = Number.isNaN(this.y) ? 0 : y - this.y;
    const dz = Number.isNaN(this.z) ? 0 : z - this.z;
    const flat = Math.hypot(dx, dy);
    const length = Math.hypot(flat, dz);
    if (!known || length > 0) {
      if (this.homed.size < 3)
        this.add('check.homing', line, 'the head moves before all axes are homed', 'home with G28 first');
      if (z > printer.height + HAIR || !this.reaches(x, y)) {
        this.add(
          'check.reach',
          line,
          () => `the head would go to X${show(x)} Y${show(y)} Z${show(z)}, outside the printer`,
          'stay inside the volume',
        );
      }
      if (z < -HAIR)
        this.add('check.floor', line, () => `the nozzle would go to Z${show(z)}, below the bed`, 'stay above the bed');
      const way: Way = { fromX: this.x, fromY: this.y, fromZ: this.z, x, y, z };
      if (flat > 0 || dz < 0 || !known) {
        const hit = this.standings.hit(way);
        if (hit) this.add(hit.code, line, hit.wrong, hit.right);
      }
      if (printer.keepOut.length > 0) this.keptOut(way, e > 0 && flat > 0, line);
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
    if (!this.reaches(x, y))
      this.add(
        'check.off-bed',
        line,
        () => `a line ends at X${show(x)} Y${show(y)}, off the bed`,
        'keep extrusion on the bed',
      );
    if (printer.tools > 1 && !this.toolSaid)
      this.add(
        'check.tool-unsaid',
        line,
        'no tool was chosen before this line: the last file may have left another one in hand',
        'choose the tool first (T0)',
      );
    if (z > this.highest) this.highest = z;
    this.standings.lay({ fromX: this.x, fromY: this.y, fromZ: this.z, x, y, z });
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

  /** Whether the head gets there: to any place of a rectangular bed, or over a round one. */
  private reaches(x: number, y: number): boolean {
    const { bed } = this.context.printer;
    if (bed.shape === 'round') return Math.hypot(x, y) <= bed.diameter / 2 + HAIR;
    const r = this.reach;
    return x >= r.x0 - HAIR && x <= r.x1 + HAIR && y >= r.y0 - HAIR && y <= r.y1 + HAIR;
  }

  private keptOut(way: Way, lays: boolean, line: number): void {
    const zone = this.standings.zoneIn(way, lays);
    if (zone)
      this.add(
        'check.keep-out',
        line,
        () => `${lays ? 'a line' : 'the head'} runs through the keep-out zone ${zone.label} at Z${show(way.z)}`,
        lays ? 'keep clear of it' : 'go above it, or round it',
      );
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
}

/** Whether an offset is put back to nothing. */
const resets = (text: string): boolean =>
  [...text.matchAll(/\b[XYZ](?:_ADJUST)?\s*=\s*(\S+)/gi)].every((m) => Number(m[1]) === 0);
