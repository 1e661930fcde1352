import { done, fault, refuse, show, type Job } from '#core/base';
import type { Firmware } from '#core/context';
import { carriedFactors, factorOf } from '#core/factors';
import { GcodeReader } from '#core/gcode';
import { Recogniser } from '#core/inspect';
import { roleNumber, type Role } from '#core/moves';
import { BandFinder } from './bands';
import { Output } from './output';
import { linesIn, textOf, Walker, type StateKey, type Step } from './walk';

/** Where a level holds: heights in mm, and the box of an object where objects are told apart (bed, mm). */
export interface Band {
  cell: number;
  level: number;
  z: [number, number];
  box?: [number, number, number, number];
}

export interface FileSweep {
  factor: string;
  bands: readonly Band[];
}

export interface CarryContext {
  firmware: Firmware;
  /** Filament, mm. */
  diameter: number;
  /** What holds where the file says nothing of it. */
  baseline: {
    flow: number;
    pressureAdvance: number;
    acceleration: number;
    retractionDistance: number;
    retractionSpeed: number;
  };
}

export interface Carried {
  bytes: Uint8Array<ArrayBuffer>;
  /** Lines added and lines changed. */
  added: number;
  changed: number;
  remarks: string[];
}

const states: Record<string, StateKey> = {
  'nozzle-temperature': 'nozzle',
  fan: 'fan',
  'pressure-advance': 'advance',
  acceleration: 'acceleration',
};
const speeds: Record<string, Role[]> = {
  'outer-wall-speed': ['outer-wall'],
  'inner-wall-speed': ['inner-wall'],
  'infill-speed': ['infill'],
  'skin-speed': ['top-skin', 'bottom-skin'],
};

const EVERY = 20_000;
/** Lower than this above the lines a way is not lifted, mm. */
const LIFT = 1e-3;

/** A way between lines: the height above which it counts as lifted, mm, and whose it is. */
interface Way {
  base: number;
  lifted: boolean;
  cell: number;
}

interface Retraction {
  back: number;
  forward: number;
  cell: number;
}

/** What the first reading finds: where levels change, which lines draw back, where printing begins and ends. */
interface Survey {
  /** From this line on (counted from 1) the cell holds, and the line that first prints in it; −1 is none. */
  bounds: { line: number; prints: number; cell: number }[];
  retractions: Retraction[];
  ways: Way[];
  /** Lines that cool a tool which is about to be put away. */
  standby: Set<number>;
  last: number;
  roles: Uint8Array | undefined;
  total: number;
  relativeAxes: boolean;
  checksums: boolean;
  /** How often the firmware draws back within the bands. */
  firmwareRetractions: number;
  /** Whether the firmware draws back by a length that the file has not said. */
  untold: boolean;
}

/**
 * A sweep into a file of any origin: the same file with the levels in force where their bands are.
 *
 * States (temperature, fan, pressure advance, acceleration) are set after the last line of the layer before, again
 * after every tool change and after whatever in the file sets them otherwise, and put back at the end. Flow, speeds,
 * retraction and height are written into the lines themselves, relative or absolute E alike. The original is not
 * touched; lines that need no change are copied byte by byte.
 */
export function* carry(bytes: Uint8Array, sweep: FileSweep, context: CarryContext): Job<Carried> {
  if (!carriedFactors.includes(sweep.factor) || !factorOf(sweep.factor))
    return refuse(
      fault(
        'carry.factor',
        'factor',
        `${factorOf(sweep.factor)?.label ?? sweep.factor} cannot be changed in a finished file`,
        'choose temperature, fan, flow, pressure advance, a speed, acceleration, retraction or nozzle height',
      ),
    );
  const seen = yield* survey(bytes, sweep, context);
  const faults = [
    ...(seen.bounds.every((b) => b.cell < 0)
      ? [fault('carry.empty', 'bands', 'nothing is printed within the bands', 'lay the bands over the part')]
      : []),
    ...(seen.checksums
      ? [
          fault(
            'carry.checksum',
            'file',
            'its lines carry numbers and checksums',
            'take the file before it was numbered',
          ),
        ]
      : []),
    ...(sweep.factor === 'z-offset' && seen.relativeAxes
      ? [fault('carry.relative', 'file', 'it moves in relative steps', 'vary something else in this file')]
      : []),
    ...(sweep.factor === 'z-hop' && !seen.ways.some((w) => w.lifted && w.cell >= 0)
      ? [
          fault(
            'carry.hop',
            'file',
            'it never lifts the nozzle on its ways within the bands',
            'slice it with a lift on travel, or vary something else',
          ),
        ]
      : []),
    ...(sweep.factor.startsWith('retraction') &&
    seen.retractions.every((r) => r.cell < 0) &&
    seen.firmwareRetractions === 0
      ? [
          fault(
            'carry.retraction',
            'file',
            'it never draws the filament back within the bands',
            'slice it with retraction, or lay the bands elsewhere',
          ),
        ]
      : []),
  ];
  if (faults.length > 0) return refuse(...faults);
  const writer = new Carrier(sweep, context, seen, bytes.length);
  let number = 0;
  for (const { from, to, next } of linesIn(bytes)) {
    writer.line(++number, bytes, from, to, next);
    if (number % EVERY === 0) yield { stage: 'carrying', done: to, of: bytes.length };
  }
  return done(writer.result());
}

function* survey(
  bytes: Uint8Array,
  sweep: FileSweep,
  context: CarryContext,
): Generator<{ stage: string; done: number; of: number }, Survey> {
  const walker = new Walker(context.firmware);
  const seen: Survey = {
    bounds: [],
    retractions: [],
    ways: [],
    standby: new Set(),
    last: 0,
    roles: undefined,
    total: 0,
    relativeAxes: false,
    checksums: false,
    firmwareRetractions: 0,
    untold: false,
  };
  if (speeds[sweep.factor]) seen.roles = yield* rolesByLine(bytes, context);
  const finder = new BandFinder(sweep.bands);
  let laid = 0;
  let cell = -1;
  let open: Retraction | undefined;
  let way: { highest: number } | undefined;
  let waiting: { line: number; tool: number }[] = [];
  let number = 0;
  for (const { from, to } of linesIn(bytes)) {
    number++;
    const step = walker.step(textOf(bytes, from, to));
    const band = finder.next(step);
    if (/\*\d+\s*$/.test(step.text)) seen.checksums = true;
    if (step.code === 'G10' && step.kind === 'other') {
      if (cell >= 0) seen.firmwareRetractions++;
      seen.untold ||= walker.drawn.length === undefined;
    }
    if (step.kind === 'print') {
      if (!walker.absolute) seen.relativeAxes = true;
      if (way) {
        const base = Math.max(laid, step.z);
        seen.ways.push({ base, lifted: way.highest > base + LIFT, cell });
      }
      way = undefined;
      laid = step.z;
      const own = band?.cell ?? -1;
      if (own !== cell) seen.bounds.push({ line: seen.last + 1, prints: number, cell: own });
      cell = own;
      seen.last = number;
      open = undefined;
      waiting = [];
    } else if (step.kind === 'retract') {
      if (!open || open.forward > 0) seen.retractions.push((open = { back: 0, forward: 0, cell }));
      open.back -= step.e;
    } else if (step.kind === 'push' && open) open.forward += step.e;
    else if (step.sets?.key === 'nozzle' && step.sets.tool === walker.tool)
      waiting.push({ line: number, tool: walker.tool });
    else if (step.kind === 'tool') {
      for (const w of waiting) if (w.tool !== walker.tool) seen.standby.add(w.line);
      waiting = [];
    }
    if (step.kind !== 'print' && /^G[01]$/.test(step.code)) way = { highest: Math.max(way?.highest ?? 0, step.z) };
    if (number % EVERY === 0) yield { stage: 'reading', done: to, of: bytes.length };
  }
  seen.total = number;
  return seen;
}

/** The role of each line of the text, by geometry or by what the file says of itself. */
function* rolesByLine(
  bytes: Uint8Array,
  { firmware, diameter }: CarryContext,
): Generator<{ stage: string; done: number; of: number }, Uint8Array> {
  const roles = new Uint8Array(bytes.length / 4 + 16);
  const named = new Recogniser(({ moves }) => {
    for (let i = 0; i < moves.n; i++) if (moves.e[i]! > 0) roles[moves.line[i]!] = moves.role[i]!;
  });
  const reader = new GcodeReader((chunk) => named.take(chunk), { firmware, diameter });
  for (let at = 0; at < bytes.length; at += 1 << 18) {
    reader.push(bytes.subarray(at, at + (1 << 18)));
    yield { stage: 'recognising', done: at, of: bytes.length };
  }
  reader.end();
  named.end();
  return roles;
}

/** Writes the file anew, line by line. */
class Carrier {
  private readonly out: Output;
  private readonly walker: Walker;
  private readonly levels = new Map<number, number>();
  private readonly state: StateKey | undefined;
  private readonly drawsBack: boolean;
  private readonly own = new Map<string, number>();
  private bound = 0;
  private cell = -1;
  private added = 0;
  private changed = 0;
  /** E as the new file has it, mm; the part of a step too small to be written. */
  private e = 0;
  private residue = 0;
  private feed = 1500;
  private shift = 0;
  private group = -1;
  private way = -1;
  private onWay = false;
  /** Where the nozzle stands in the new file, mm. */
  private z = 0;
  /** Whether filament is drawn back, and whether some of it has been pushed forward again. */
  private drawing = false;
  private pushed = false;
  private readonly remarks: string[] = [];

  constructor(
    private readonly sweep: FileSweep,
    private readonly context: CarryContext,
    private readonly seen: Survey,
    length: number,
  ) {
    this.out = new Output(length + (length >> 4) + 4096);
    this.walker = new Walker(context.firmware);
    // Where the firmware draws back, how far and fast is a state like others.
    this.drawsBack =
      sweep.factor.startsWith('retraction') &&
      seen.firmwareRetractions > seen.retractions.filter((r) => r.cell >= 0).length;
    this.state = this.drawsBack ? 'drawn' : states[sweep.factor];
    for (const b of sweep.bands) this.levels.set(b.cell, b.level);
  }

  line(number: number, bytes: Uint8Array, from: number, to: number, next: number): void {
    const { walker, seen, state } = this;
    // What is drawn back must be pushed forward again by as much: so that changes only once that is done.
    const holdsFrom = (b: Survey['bounds'][number]) => (this.drawsBack ? b.prints : b.line);
    while (this.bound < seen.bounds.length && holdsFrom(seen.bounds[this.bound]!) <= number)
      this.enter(seen.bounds[this.bound++]!.cell);
    if (number === 1 && this.drawsBack && seen.untold) this.restore();
    const before = { e: walker.logicalE, z: walker.z };
    const step = walker.step(textOf(bytes, from, to));
    const text = this.rewritten(step, number, before.e);
    if (text === undefined) this.out.bytes(bytes, from, next);
    else {
      this.out.text(text);
      this.out.bytes(bytes, to, next);
      this.changed++;
    }
    if (step.sets)
      this.own.set(`${step.sets.key} ${step.sets.key === 'nozzle' ? step.sets.tool : ''}`, step.sets.value);
    if (!state || this.cell < 0 || number >= seen.last) {
      if (number === seen.last) this.leave();
      return;
    }
    const overrides = step.sets?.key === state && (state !== 'nozzle' || step.sets.tool === walker.tool);
    if (step.kind === 'tool' || (overrides && !seen.standby.has(number))) this.assert(step.sets?.waits ?? false);
  }

  result(): Carried {
    if (this.residue > 0.01) this.remarks.push(`${show(this.residue, 4)} mm of filament is left out by rounding`);
    return { bytes: this.out.result(), added: this.added, changed: this.changed, remarks: this.remarks };
  }

  private enter(cell: number): void {
    this.cell = cell;
    if (!this.state) return;
    if (cell >= 0) this.assert(false);
    else this.restore();
  }

  /** After the last line: what outlasts the file goes back to what it was. */
  private leave(): void {
    if (this.state === 'advance' || this.state === 'acceleration' || this.drawsBack) this.restore();
    this.cell = -1;
  }

  private restore(): void {
    const key = this.state!;
    const own = this.own.get(`${key} ${key === 'nozzle' ? this.walker.tool : ''}`);
    const { pressureAdvance, acceleration } = this.context.baseline;
    if (key === 'drawn') {
      this.out.text(`${drawnBack(this.ownDrawn(), this.context.firmware)}\n`);
      this.added++;
      return;
    }
    const value = own ?? (key === 'advance' ? pressureAdvance : key === 'acceleration' ? acceleration : undefined);
    if (value !== undefined) this.say(value, false);
  }

  private assert(waits: boolean): void {
    this.say(this.levels.get(this.cell)!, waits);
  }

  /** How far and fast the file itself draws back by now; where it does not say, the pair’s own values. */
  private ownDrawn(): { length: number; speed: number } {
    const { retractionDistance, retractionSpeed } = this.context.baseline;
    return {
      length: this.walker.drawn.length ?? retractionDistance,
      speed: this.walker.drawn.speed ?? retractionSpeed,
    };
  }

  private say(value: number, waits: boolean): void {
    if (this.state === 'drawn') {
      const own = this.ownDrawn();
      const now = this.sweep.factor === 'retraction-speed' ? { ...own, speed: value } : { ...own, length: value };
      this.out.text(`${drawnBack(now, this.context.firmware)}\n`);
      this.added++;
      return;
    }
    this.out.text(
      `${commandOf(this.state as Exclude<StateKey, 'drawn'>, value, waits, this.context.firmware, this.walker.tool)}\n`,
    );
    this.added++;
  }

  /** The line as it has to be now; undefined where it stays. */
  private rewritten(step: Step, number: number, e0: number): string | undefined {
    if (step.code === 'G92' && step.words['E']) {
      this.e = this.walker.logicalE;
      return undefined;
    }
    if (!/^G[0-3]$/.test(step.code)) return undefined;
    const edits: { at: [number, number]; text: string }[] = [];
    const level = this.cell >= 0 && number <= this.seen.last ? this.levels.get(this.cell)! : undefined;
    this.filament(step, level, e0, edits);
    this.speed(step, number, level, edits);
    if (this.sweep.factor === 'z-hop') this.hop(step, edits);
    else this.height(step, level, edits);
    if (edits.length === 0) return undefined;
    return edits
      .sort((a, b) => b.at[0] - a.at[0])
      .reduce((text, { at, text: figure }) => text.slice(0, at[0]) + figure + text.slice(at[1]), step.text);
  }

  private filament(
    step: Step,
    level: number | undefined,
    e0: number,
    edits: { at: [number, number]; text: string }[],
  ): void {
    const word = step.words['E'];
    this.follow(step);
    if (!word || Number.isNaN(word.value)) return;
    const share = this.shareOf(step, level);
    let pushed = step.e;
    if (share !== 1) {
      const exact = step.e * share + this.residue;
      pushed = Math.round(exact * 1e5) / 1e5;
      this.residue = exact - pushed;
    }
    const was = this.e;
    this.e += pushed;
    const absolute = this.walker.absoluteE;
    // Nothing differs: neither this step nor, where E is absolute, what went before.
    if (share === 1 && (!absolute || Math.abs(was - e0) < 1e-9)) return;
    const value = (absolute ? this.e : pushed) / this.walker.unit;
    edits.push({ at: [word.from, word.to], text: figure(value, 5) });
  }

  /** Keeps count of the retractions, as the first reading did. */
  private follow(step: Step): void {
    if (step.kind === 'retract') {
      if (!this.drawing || this.pushed) this.group++;
      this.drawing = true;
      this.pushed = false;
    } else if (step.kind === 'push') this.pushed = true;
    else if (step.kind === 'print') this.drawing = this.pushed = false;
  }

  private shareOf(step: Step, level: number | undefined): number {
    if (this.sweep.factor === 'flow')
      return level !== undefined && step.kind === 'print' ? level / this.context.baseline.flow : 1;
    if (this.sweep.factor !== 'retraction-distance' || !this.drawing) return 1;
    const own = this.seen.retractions[this.group]!;
    const length = this.levels.get(own.cell);
    if (own.cell < 0 || length === undefined) return 1;
    if (step.kind === 'retract') return length / own.back;
    // What is pushed beyond what was drawn back stays as it is.
    if (step.kind === 'push' && own.forward > 0) return Math.max(0, length + own.forward - own.back) / own.forward;
    return 1;
  }

  private speed(
    step: Step,
    number: number,
    level: number | undefined,
    edits: { at: [number, number]; text: string }[],
  ): void {
    const word = step.words['F'];
    let want = step.feed;
    if (this.sweep.factor === 'retraction-speed') {
      const own =
        this.drawing && (step.kind === 'retract' || step.kind === 'push')
          ? this.seen.retractions[this.group]
          : undefined;
      const speed = own && this.levels.get(own.cell);
      if (speed !== undefined) want = speed * 60;
    } else {
      const roles = speeds[this.sweep.factor];
      if (
        level !== undefined &&
        step.kind === 'print' &&
        roles?.some((r) => roleNumber[r] === this.seen.roles![number])
      )
        want = level * 60;
    }
    if (want === step.feed && (this.feed === want || word)) {
      this.feed = want;
      return;
    }
    if (want === this.feed && !word) return;
    this.feed = want;
    const text = figure(want / this.walker.unit, 3);
    if (word && !Number.isNaN(word.value)) edits.push({ at: [word.from, word.to], text });
    else edits.push({ at: [endOf(step), endOf(step)], text: ` F${text}` });
  }

  /** A way that is lifted is lifted by its level instead; what is not lifted stays so. */
  private hop(step: Step, edits: { at: [number, number]; text: string }[]): void {
    if (step.kind === 'print') this.onWay = false;
    else if (/^G[01]$/.test(step.code)) {
      if (!this.onWay) this.way++;
      this.onWay = true;
    }
    const word = step.words['Z'];
    if (!word || Number.isNaN(word.value)) return;
    const way = this.onWay ? this.seen.ways[this.way] : undefined;
    const level = way?.lifted ? this.levels.get(way.cell) : undefined;
    const to = level !== undefined && way && step.z > way.base + LIFT ? way.base + level : step.z;
    const value = this.walker.absolute
      ? word.value + (to - step.z) / this.walker.unit
      : (to - this.z) / this.walker.unit;
    this.z = to;
    if (Math.abs(value - word.value) > 1e-9) edits.push({ at: [word.from, word.to], text: figure(value, 4) });
  }

  private height(step: Step, level: number | undefined, edits: { at: [number, number]; text: string }[]): void {
    if (this.sweep.factor !== 'z-offset') return;
    const shift = level ?? 0;
    const word = step.words['Z'];
    if (word && !Number.isNaN(word.value)) {
      if (shift !== 0) edits.push({ at: [word.from, word.to], text: figure(word.value + shift / this.walker.unit, 4) });
      this.shift = shift;
    } else if (shift !== this.shift && (step.kind === 'travel' || step.kind === 'print')) {
      // Never on a push in place: there the feed is that of the filament.
      this.shift = shift;
      edits.push({ at: [endOf(step), endOf(step)], text: ` Z${figure((step.z + shift) / this.walker.unit, 4)}` });
    }
  }
}

/** Where the words of a line end, before its comment. */
const endOf = ({ text }: Step): number =>
  (text.includes(';') ? text.slice(0, text.indexOf(';')) : text).trimEnd().length;

const figure = (value: number, decimals: number): string => String(Number(value.toFixed(decimals)));

/** The command that says how the firmware draws back. */
const drawnBack = ({ length, speed }: { length: number; speed: number }, firmware: Firmware): string =>
  firmware === 'klipper'
    ? `SET_RETRACTION RETRACT_LENGTH=${figure(length, 3)} RETRACT_SPEED=${figure(speed, 1)} UNRETRACT_SPEED=${figure(speed, 1)}`
    : `M207 S${figure(length, 3)} F${figure(60 * speed, 0)}`;

/** The command that sets a value. */
function commandOf(
  key: Exclude<StateKey, 'drawn'>,
  value: number,
  waits: boolean,
  firmware: Firmware,
  tool: number,
): string {
  switch (key) {
    case 'nozzle':
      // Marlin waits both ways only with R.
      return waits ? `M109 ${firmware === 'marlin' ? 'R' : 'S'}${figure(value, 1)}` : `M104 S${figure(value, 1)}`;
    case 'fan':
      return `M106 S${Math.round(value * 255)}`;
    case 'advance':
      return firmware === 'klipper'
        ? `SET_PRESSURE_ADVANCE ADVANCE=${figure(value, 4)}`
        : firmware === 'reprap'
          ? `M572 D${tool} S${figure(value, 4)}`
          : `M900 K${figure(value, 4)}`;
    case 'acceleration':
      return firmware === 'klipper' ? `SET_VELOCITY_LIMIT ACCEL=${Math.round(value)}` : `M204 P${Math.round(value)}`;
  }
}
