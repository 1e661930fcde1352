import { reachOf, type Printer } from '#core/context';
import { dialects, SpokenLine, understood, type Meaning, type Now } from '#core/firmware';
import { unframed } from '#core/wire';
import { Heater, ROOM } from './heat';
import type { LabFaults, PrinterTraits } from './traits';

/** A line has at most so many characters. */
const LONGEST = 256;
/** So many characters wait to be read; what comes beyond is lost, as on a wire. */
const MOST_WAITING = 8192;
/** Moves that are planned ahead. */
const BUFFER = 32;
/** A machine that waits for heat says every so many seconds that it is there, and how hot it is. */
const SAYS = 2;
/** It says that it has nothing to do after so many seconds. */
const BORED = 1;
/** What a host may ask without a number while a print is under way. */
const asked: ReadonlySet<string> = new Set(['M105', 'M114', 'M115', 'M108', 'M112', 'M110', 'M503', '']);

interface Doing {
  line: string;
  seconds: number;
  to?: [number, number, number];
  /** Waits for a heater. */
  heat?: boolean;
}

/**
 * The practice printer’s side of the wire: what open firmware does with lines as they come. It takes a numbered line only
 * if its checksum is right and its number is the next; it holds its `ok` back while its planner is full, says that it is busy
 * while it waits, and stops at once when it is told to.
 *
 * It has no clock: `pass` lets time go by. Speeds mm/s, times s, temperatures °C.
 */
export class PracticeFirmware {
  /** Every line that it has taken, in order. */
  readonly executed: string[] = [];
  private waiting = '';
  private last = 0;
  private readonly doing: Doing[] = [];
  private readonly says: string[] = [];
  private held = 0;
  private sinceSaid = 0;
  private sinceHeard = 0;
  private halted = false;
  private readonly heaters = new Map<number, Heater>();
  private bed = { at: ROOM, target: 0 };
  private tool = 0;
  private at: [number, number, number] = [0, 0, 0];
  private planned: [number, number, number] = [0, 0, 0];
  private speed = 25;
  private absolute = true;
  private readonly now: Now;

  constructor(
    private readonly printer: Printer,
    private readonly traits: PrinterTraits,
    private readonly faults: LabFaults = {},
  ) {
    const targets = new Map<number, number>();
    this.targets = targets;
    this.now = {
      dialect: dialects[printer.firmware],
      macros: printer.macros,
      tool: 0,
      unit: 1,
      targetOf: (tool) => targets.get(tool) ?? 0,
      heated: () => [...targets.keys()],
    };
    this.greet();
  }

  private readonly targets: Map<number, number>;

  /** What it has said since it was asked last, line by line. */
  hear(): string[] {
    return this.says.splice(0);
  }

  /** Where the nozzle is, mm; how hot it is and as it shows; what it prints now. */
  get standing() {
    const heater = this.heater();
    return {
      x: this.at[0],
      y: this.at[1],
      z: this.at[2],
      nozzle: heater.temperature + this.traits.sensorError,
      target: this.targets.get(this.tool) ?? 0,
      bed: this.bed.at,
      bedTarget: this.bed.target,
      halted: this.halted,
      idle: this.doing.length === 0,
      executed: this.executed.length,
    };
  }

  /** Characters as they come over the wire. */
  receive(text: string): void {
    this.sinceHeard = 0;
    if (this.waiting.length + text.length > MOST_WAITING) text = text.slice(0, MOST_WAITING - this.waiting.length);
    this.waiting += text;
    // An emergency is heard whatever stands before it.
    if (/(?:^|[\n ])M112\b/.test(this.waiting)) this.emergency();
    this.read();
  }

  /** Switched off and on again. */
  restart(): void {
    this.halted = false;
    this.waiting = '';
    this.last = 0;
    this.doing.length = 0;
    this.held = 0;
    this.greet();
  }

  /** Has it as it was after these lines: hot, in its place, with its count. Nothing is printed again. */
  restore(lines: readonly string[], last: number): void {
    for (const line of lines) {
      this.executed.push(line);
      for (const meaning of understood(new SpokenLine(line), this.now)) this.act(meaning, new SpokenLine(line));
    }
    this.doing.length = 0;
    this.at = this.planned;
    for (const [tool, target] of this.targets) if (target > 0) this.heater(tool).wait();
    this.bed.at = Math.max(ROOM, this.bed.target);
    this.last = last;
    this.says.length = 0;
  }

  private greet(): void {
    this.says.push('start');
  }

  private emergency(): void {
    this.halted = true;
    this.waiting = '';
    this.doing.length = 0;
    for (const heater of this.heaters.values()) heater.aim(0);
    this.targets.clear();
    this.bed.target = 0;
    this.says.push(this.printer.firmware === 'klipper' ? '!! Emergency stop' : 'Error:Printer halted. kill() called!');
  }

  private read(): void {
    while (this.held === 0) {
      const end = this.waiting.indexOf('\n');
      if (end < 0) {
        if (this.waiting.length > LONGEST) {
          this.waiting = '';
          this.refuse('line too long');
        }
        return;
      }
      const line = this.waiting.slice(0, end).replace(/\r$/, '');
      this.waiting = this.waiting.slice(end + 1);
      if (line.trim() !== '') this.line(line);
    }
  }

  private line(line: string): void {
    if (this.halted) {
      this.says.push('Error:Printer halted. kill() called!');
      return;
    }
    if (line.length > LONGEST) {
      this.refuse('line too long');
      return;
    }
    const frame = unframed(line);
    if (frame.kind === 'damaged') {
      this.refuse(frame.why);
      return;
    }
    if (frame.kind === 'numbered') {
      const counts = /^M110(?:\s+N(\d+))?$/.exec(frame.text);
      if (counts) {
        this.last = counts[1] === undefined ? frame.number : Number(counts[1]);
        this.says.push('ok');
        return;
      }
      if (frame.number !== this.last + 1) {
        this.refuse('Line Number is not Last Line Number+1');
        return;
      }
      this.last = frame.number;
      this.executed.push(frame.text);
      this.take(frame.text);
      return;
    }
    // While it counts lines, one without a number is a rest of a damaged one, or a question.
    const name = new SpokenLine(frame.text).name;
    if (this.last > 0 && !asked.has(name)) {
      this.says.push(`echo:Unknown command: "${frame.text.slice(0, 40)}"`, 'ok');
      return;
    }
    this.take(frame.text);
  }

  private refuse(why: string): void {
    this.says.push(`Error:${why}, Last Line: ${this.last}`, `Resend: ${this.last + 1}`, 'ok');
  }

  /** Takes a line to be done. */
  private take(text: string): void {
    const line = new SpokenLine(text);
    if (line.name === 'M105') {
      this.says.push(`ok ${this.heat()}`);
      return;
    }
    if (line.name === 'M114') {
      const [x, y, z] = this.at;
      this.says.push(`X:${x.toFixed(2)} Y:${y.toFixed(2)} Z:${z.toFixed(2)} E:0.00`, 'ok');
      return;
    }
    if (line.name === 'M115') {
      this.says.push(...this.introduces(), 'ok');
      return;
    }
    if (line.name === 'M503') {
      this.says.push(...this.limits(), 'ok');
      return;
    }
    for (const meaning of understood(line, this.now)) this.act(meaning, line);
    if (this.doing.length >= BUFFER || this.doing.some((d) => d.heat)) this.held++;
    else this.says.push('ok');
  }

  private act(a: Meaning, line: SpokenLine): void {
    switch (a.kind) {
      case 'move': {
        const [x, y, z] = this.planned;
        const to = (letter: string, now: number) => {
          const v = line.get(letter);
          return v === undefined ? now : this.absolute ? v : now + v;
        };
        this.planned = [to('X', x), to('Y', y), to('Z', z)];
        const f = line.get('F');
        if (f !== undefined && f > 0) this.speed = f / 60;
        const d = Math.hypot(this.planned[0] - x, this.planned[1] - y, this.planned[2] - z);
        const e = Math.abs(line.get('E') ?? 0);
        const { maximum } = this.printer;
        const v = Math.max(0.1, Math.min(this.speed, maximum.speed));
        // Up to speed and down again costs v/a once, where there is room for it; corners are run through at half of it.
        const ramp = d > 0 ? Math.min(v / maximum.acceleration, Math.sqrt(d / maximum.acceleration)) / 2 : 0;
        this.doing.push({ line: line.text, seconds: (d > 0 ? d : e) / v + ramp, to: this.planned });
        return;
      }
      case 'mode':
        if (a.what === 'axes') this.absolute = a.value === 'absolute';
        return;
      case 'home':
        this.planned = [0, 0, 0];
        this.doing.push({ line: line.text, seconds: 8, to: [0, 0, 0] });
        return;
      case 'heat':
        this.aim(a.tool, a.target);
        if (a.wait) this.doing.push({ line: line.text, seconds: 0, heat: true });
        return;
      case 'bed':
        this.bed.target = a.target;
        if (a.wait) this.doing.push({ line: line.text, seconds: 0, heat: true });
        return;
      case 'tool':
        if (a.to !== this.tool && this.faults.toolRestores !== undefined) this.aim(a.to, this.faults.toolRestores);
        this.tool = a.to;
        return;
      case 'dwell':
        this.doing.push({ line: line.text, seconds: Math.min(600, a.seconds) });
    }
  }

  private aim(tool: number, target: number): void {
    this.targets.set(tool, target);
    this.heater(tool).aim(target > 0 ? target - this.traits.sensorError : 0);
  }

  private heater(tool = this.tool): Heater {
    let heater = this.heaters.get(tool);
    if (!heater) this.heaters.set(tool, (heater = new Heater(this.traits, this.faults.heaterLags)));
    return heater;
  }

  private get warm(): boolean {
    for (const [tool, target] of this.targets) {
      const shown = this.heater(tool).temperature + this.traits.sensorError;
      if (target > 0 && Math.abs(shown - target) > 2) return false;
    }
    return this.bed.at >= this.bed.target - 1;
  }

  /** Lets time go by. */
  pass(seconds: number): void {
    this.sinceSaid += seconds;
    this.sinceHeard += seconds;
    let left = seconds;
    for (let guard = 0; left > 1e-9 && guard < 100_000; guard++) {
      const doing = this.doing[0];
      if (this.halted || !doing) {
        this.warms(left);
        break;
      }
      if (doing.heat) {
        const step = Math.min(left, 0.5);
        this.warms(step);
        left -= step;
        if (this.warm) this.finish();
        continue;
      }
      const step = Math.min(left, doing.seconds);
      this.warms(step);
      doing.seconds -= step;
      left -= step;
      if (doing.seconds <= 1e-9) this.finish();
    }
    if (this.sinceSaid >= SAYS && (this.held > 0 || this.doing.length > 0)) {
      this.sinceSaid = 0;
      this.says.push(this.heat());
      if (this.held > 0) this.says.push('echo:busy: processing');
    }
    if (!this.halted && this.doing.length === 0 && this.held === 0 && this.sinceHeard >= BORED) {
      this.sinceHeard = 0;
      this.says.push('wait');
    }
  }

  private finish(): void {
    const done = this.doing.shift()!;
    if (done.to) this.at = done.to;
    if (this.held > 0 && this.doing.length < BUFFER && !this.doing.some((d) => d.heat)) {
      this.held--;
      this.says.push('ok');
      this.read();
    }
  }

  private warms(seconds: number): void {
    for (const heater of this.heaters.values()) heater.pass(seconds);
    const goal = Math.max(ROOM, this.bed.target);
    const rate = this.bed.at < goal ? 0.8 : 0.15;
    const change = Math.sign(goal - this.bed.at) * Math.min(Math.abs(goal - this.bed.at), rate * seconds);
    this.bed.at += change;
  }

  private heat(): string {
    const { nozzle, target, bed, bedTarget } = this.standing;
    return `T:${nozzle.toFixed(2)} /${target.toFixed(2)} B:${bed.toFixed(2)} /${bedTarget.toFixed(2)} @:0 B@:0`;
  }

  private introduces(): string[] {
    const { firmware, tools, name } = this.printer;
    const { label } = dialects[firmware];
    const { x0, y0, x1, y1 } = reachOf(this.printer);
    return [
      `FIRMWARE_NAME:${label} (practice) MACHINE_TYPE:${name} EXTRUDER_COUNT:${tools} PROTOCOL_VERSION:1.0`,
      ...(firmware === 'marlin'
        ? [`area:{full:{min:{x:${x0},y:${y0},z:0},max:{x:${x1},y:${y1},z:${this.printer.height}}}}`]
        : []),
    ];
  }

  /** Its limits, as its firmware tells them. */
  private limits(): string[] {
    const { maximum, extruder, firmware } = this.printer;
    if (firmware === 'klipper') return ['// Unknown command:"M503"'];
    const by = dialects[firmware].limitSeconds;
    const speeds = `M203 X${maximum.speed * by} Y${maximum.speed * by} Z${maximum.zSpeed * by} E${extruder.maximumSpeed * by}`;
    const acceleration = `M201 X${maximum.acceleration} Y${maximum.acceleration} Z${maximum.zAcceleration} E${extruder.acceleration}`;
    const steps = extruder.stepsPerMm === undefined ? [] : [`M92 E${extruder.stepsPerMm}`];
    return [speeds, acceleration, ...steps].map((line) => `echo:  ${line}`);
  }
}
