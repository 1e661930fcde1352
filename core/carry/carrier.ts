import { show } from '#core/base';
import { cornerAction, type Printer } from '#core/context';
import { figure, lineFor, SpokenLine, toldAt, uncommented, type Action, type Now } from '#core/firmware';
import { rolesOf, toldBy } from '#core/factors';
import { roleNumber } from '#core/moves';
import { Output } from './output';
import { LIFT, type Survey } from './survey';
import type { CarryContext, FileSweep } from './sweep';
import { type StateKey, type Step, textOf, Walker } from './walk';

/** A file with a sweep carried in. */
export interface Carried {
  bytes: Uint8Array<ArrayBuffer>;
  /** Lines added and lines changed. */
  added: number;
  changed: number;
  remarks: string[];
}

/** How far and fast the firmware draws back: mm, mm/s. */
interface Drawn {
  length: number;
  speed: number;
}
type Told = number | Drawn;

/** Writes the file anew, line by line. */
export class Carrier {
  private readonly out: Output;
  private readonly walker: Walker;
  private readonly levels = new Map<number, number>();
  private readonly state: StateKey | undefined;
  private readonly drawsBack: boolean;
  private readonly own = new Map<string, number>();
  /** What each tool’s nozzle was told last in the new file, °C. */
  private readonly hot = new Map<number, number>();
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
    this.walker = new Walker(context.firmware, context.macros, context.drawing);
    // Where the firmware draws back, how far and fast is a state like others.
    this.drawsBack =
      sweep.factor.startsWith('retraction') &&
      seen.firmwareRetractions > seen.retractions.filter((r) => r.cell >= 0).length;
    this.state = this.drawsBack ? 'drawing' : toldBy[sweep.factor];
    for (const b of sweep.bands) this.levels.set(b.cell, b.level);
  }

  line(number: number, bytes: Uint8Array, from: number, to: number, next: number): void {
    const { walker, seen, state } = this;
    // What is drawn back must be pushed forward again by as much: so that changes only once that is done.
    const holdsFrom = (b: Survey['bounds'][number]) => (this.drawsBack ? b.prints : b.line);
    while (this.bound < seen.bounds.length && holdsFrom(seen.bounds[this.bound]!) <= number)
      this.enter(seen.bounds[this.bound++]!);
    if (number === 1 && this.drawsBack && seen.untold) this.restore();
    const before = { e: walker.logicalE, z: walker.z };
    const step = walker.step(textOf(bytes, from, to));
    const text = this.rewritten(step, number, before.e);
    if (seen.numbered && step.code !== '') {
      // Numbers and checksums would not fit any more; a file from a card needs neither.
      this.out.text(unnumbered(text ?? step.text));
      this.out.bytes(bytes, to, next);
      if (text !== undefined) this.changed++;
    } else if (text === undefined) this.out.bytes(bytes, from, next);
    else {
      this.out.text(text);
      this.out.bytes(bytes, to, next);
      this.changed++;
    }
    if (step.sets) this.own.set(`${step.sets.key} ${step.sets.key === 'heat' ? step.sets.tool : ''}`, step.sets.value);
    if (step.sets?.key === 'heat' && !(text !== undefined && seen.heats.has(number)))
      this.hot.set(step.sets.tool, step.sets.value);
    if (!state || this.cell < 0 || number >= seen.last) {
      if (number === seen.last) this.leave();
      return;
    }
    // What is told anew before anything is printed needs no answer.
    const overrides =
      step.sets?.key === state &&
      (state !== 'heat' || (seen.heats.has(number) && step.sets.tool === walker.tool)) &&
      text === undefined;
    if (step.kind === 'tool' || overrides) this.assert(step.sets?.waits ?? false);
  }

  result(): Carried {
    if (this.residue > 0.01) this.remarks.push(`${show(this.residue, 4)} mm of filament is left out by rounding`);
    return { bytes: this.out.result(), added: this.added, changed: this.changed, remarks: this.remarks };
  }

  private enter({ cell, tool }: Survey['bounds'][number]): void {
    this.cell = cell;
    // A tool that is put away before anything is printed is not told; the one that is taken will be.
    if (!this.state || (this.state === 'heat' && tool !== this.walker.tool)) return;
    if (cell >= 0) this.assert(false);
    else this.restore();
  }

  /** After the last line: what outlasts the file goes back to what it was. */
  private leave(): void {
    if (this.state && outlasts.has(this.state)) this.restore();
    this.cell = -1;
  }

  private restore(): void {
    const own = this.ownTold();
    if (own !== undefined) this.say(own, false);
  }

  private assert(waits: boolean): void {
    const level = this.levels.get(this.cell)! + this.apart(this.walker.tool);
    if (this.state === 'heat' && !waits && this.hot.get(this.walker.tool) === level) return;
    const own = this.state === 'drawing' ? this.ownDrawn() : undefined;
    if (!own) this.say(level, waits);
    else
      this.say(this.sweep.factor === 'retraction-speed' ? { ...own, speed: level } : { ...own, length: level }, waits);
  }

  /** What the file itself has told of the state by now; where it has not, the pair’s own value, as far as there is one. */
  private ownTold(): Told | undefined {
    const key = this.state!;
    if (key === 'drawing') return this.ownDrawn();
    const { pressureAdvance, acceleration } = this.context.baseline;
    return (
      this.own.get(`${key} ${key === 'heat' ? this.walker.tool : ''}`) ??
      ({ advance: pressureAdvance, acceleration, limit: 0 } as Partial<Record<StateKey, number>>)[key]
    );
  }

  /** How far a tool keeps from the level, °C. */
  private apart(tool: number): number {
    return this.state === 'heat' ? (this.sweep.apart?.(tool) ?? 0) : 0;
  }

  private ownDrawn(): Drawn {
    const { retractionDistance, retractionSpeed } = this.context.baseline;
    const { length = retractionDistance, speed = retractionSpeed } = this.walker.drawn;
    return { length, speed };
  }

  private say(told: Told, waits: boolean): void {
    const { tool } = this.walker;
    this.out.text(`${lineFor(actionOf(this.state!, told, waits, tool, this.context), this.now) ?? ''}\n`);
    if (this.state === 'heat' && typeof told === 'number') this.hot.set(tool, told);
    this.added++;
  }

  /** What the new file has said so far. */
  private get now(): Now {
    const { dialect, tool, unit } = this.walker;
    return {
      dialect,
      macros: [],
      tool,
      unit,
      targetOf: (other) => this.hot.get(other) ?? 0,
      heated: () => [...this.hot.keys()],
    };
  }

  /** A line of the file that heats, with the level of the cell in which its tool prints under it. */
  private heating(step: Step, number: number): string | undefined {
    const cell = this.seen.heats.get(number);
    const planned = cell === undefined ? undefined : this.levels.get(cell);
    const { sets } = step;
    if (this.state !== 'heat' || sets?.key !== 'heat' || planned === undefined) return undefined;
    const level = planned + this.apart(sets.tool);
    const at = toldAt(new SpokenLine(step.text), this.walker.dialect.id);
    if (!at) return undefined;
    const was = this.hot.get(sets.tool) ?? 0;
    this.hot.set(sets.tool, level);
    // S alone would not wait for a nozzle that has to cool.
    const letter = sets.waits && !this.walker.dialect.waitsBothWays && (level < was || was === 0) && at.letter === 'S';
    const { text } = step;
    const head = letter ? text.slice(0, at.from).replace(/S(\s*)$/i, 'R$1') : text.slice(0, at.from);
    return head + figure(level, 1) + text.slice(at.to);
  }

  /** The line as it has to be now; undefined where it stays. */
  private rewritten(step: Step, number: number, e0: number): string | undefined {
    if (step.code === 'G92' && step.words['E']) {
      this.e = this.walker.logicalE;
      return undefined;
    }
    if (step.sets) return this.heating(step, number);
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
    edits.push({ at: [word.from, word.to], text: figure(value, this.digits(5)) });
  }

  /** Decimals of a length as fine as so many in mm. */
  private digits(mm: number): number {
    return this.walker.unit > 1 ? mm + 2 : mm;
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
    // What the firmware makes less or more of all filament is reckoned in.
    const drawn = length / this.walker.flow;
    if (step.kind === 'retract') return drawn / own.back;
    // What is pushed beyond what was drawn back stays as it is.
    if (step.kind === 'push' && own.forward > 0) return Math.max(0, drawn + own.forward - own.back) / own.forward;
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
        this.drawing && (step.kind === 'push' || (step.kind === 'retract' && !step.words['X'] && !step.words['Y']))
          ? this.seen.retractions[this.group]
          : undefined;
      const speed = own && this.levels.get(own.cell);
      if (speed !== undefined) want = speed * 60;
    } else {
      const roles = rolesOf[this.sweep.factor];
      const own =
        this.sweep.factor === 'travel-speed'
          ? step.kind === 'travel' && (step.words['X'] ?? step.words['Y'])
          : step.kind === 'print' && roles?.some((r) => roleNumber[r] === this.seen.roles![number]);
      if (level !== undefined && own) want = level * 60;
    }
    if (want === step.feed && (this.feed === want || word)) {
      this.feed = want;
      return;
    }
    if (want === this.feed && !word) return;
    this.feed = want;
    const text = figure(want / this.walker.unit, this.digits(3));
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
    const level = way?.hops ? this.levels.get(way.cell) : undefined;
    const to = level !== undefined && way && step.z > way.base + LIFT ? way.base + level : step.z;
    const value = this.walker.absolute
      ? word.value + (to - step.z) / this.walker.unit
      : (to - this.z) / this.walker.unit;
    this.z = to;
    if (Math.abs(value - word.value) > 1e-9)
      edits.push({ at: [word.from, word.to], text: figure(value, this.digits(4)) });
  }

  private height(step: Step, level: number | undefined, edits: { at: [number, number]; text: string }[]): void {
    if (this.sweep.factor !== 'z-offset') return;
    const shift = level ?? 0;
    const word = step.words['Z'];
    // A feed by itself moves nothing, and would take Z along at its own speed.
    const moves = (step.kind === 'travel' || step.kind === 'print') && !!(step.words['X'] ?? step.words['Y']);
    if (!this.walker.absolute) {
      // In relative steps what differs is added once, and never on a push in place.
      if (shift === this.shift || !moves) return;
      const more = (shift - this.shift) / this.walker.unit;
      this.shift = shift;
      if (word && !Number.isNaN(word.value))
        edits.push({ at: [word.from, word.to], text: figure(word.value + more, this.digits(4)) });
      else edits.push({ at: [endOf(step), endOf(step)], text: ` Z${figure(more, this.digits(4))}` });
    } else if (word && !Number.isNaN(word.value)) {
      if (shift !== 0)
        edits.push({ at: [word.from, word.to], text: figure(word.value + shift / this.walker.unit, this.digits(4)) });
      this.shift = shift;
    } else if (shift !== this.shift && moves) {
      // Never on a push in place: there the feed is that of the filament.
      this.shift = shift;
      edits.push({
        at: [endOf(step), endOf(step)],
        text: ` Z${figure((step.z + shift) / this.walker.unit, this.digits(4))}`,
      });
    }
  }
}

/** States that a file leaves behind in the firmware. */
const outlasts: ReadonlySet<StateKey> = new Set(['advance', 'acceleration', 'limit', 'drawing']);

/** A line without its number and checksum. */
const unnumbered = (text: string): string => text.replace(/^\s*N\s*\d+\s*/i, '').replace(/\s*\*\s*\d+(?=\s*(;|$))/, '');

/** Where the words of a line end, before its comment. */
const endOf = ({ text }: Step): number => uncommented(text).trimEnd().length;

/** The action that tells a state. */
function actionOf(key: StateKey, told: Told, wait: boolean, tool: number, printer: Pick<Printer, 'corner'>): Action {
  if (typeof told !== 'number') return { kind: 'drawing', length: told.length, speed: told.speed };
  switch (key) {
    case 'heat':
      return { kind: 'heat', tool, target: told, wait };
    case 'bed':
      return { kind: 'bed', target: told, wait };
    case 'fan':
      return { kind: 'fan', share: told };
    case 'advance':
      return { kind: 'advance', value: told, tool };
    case 'acceleration':
      return { kind: 'acceleration', print: told };
    case 'limit':
      return cornerAction(printer, told);
    case 'drawing':
      throw new Error('how the firmware draws back is told in two figures');
  }
}
