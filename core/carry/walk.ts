import type { Told } from '#core/factors';
import {
  commandOf,
  dialects,
  SpokenLine,
  understood,
  type Action,
  type Declared,
  type Dialect,
  type Firmware,
  type Meaning,
  type Now,
  type Word,
} from '#core/firmware';

/** What a line does. `e` is filament pushed, mm; z where the nozzle then stands, mm. */
export interface Step {
  kind: 'print' | 'travel' | 'push' | 'retract' | 'tool' | 'set' | 'other';
  /** In capitals, such as `G1`; empty where it is a comment or nothing. */
  code: string;
  words: Readonly<Partial<Record<string, Word>>>;
  text: string;
  x: number;
  y: number;
  z: number;
  e: number;
  /** Feed in force, mm/min. */
  feed: number;
  tool: number;
  /** What the line makes the machine do, moves apart. */
  actions: readonly Action[];
  /** The firmware draws back, or pushes forward, by what it keeps. */
  draws?: 'back' | 'forward' | undefined;
  /** Of `set`: what it sets, and for which tool. */
  sets?: { key: StateKey; value: number; tool: number; waits: boolean };
}

const isMove = /^G[0-3]$/;

/** A state that a line can tell the machine. */
export type StateKey = Told | 'drawing';

/**
 * Follows a file line by line, without changing it: where the nozzle is, how much filament each line pushes, what it
 * sets. Deliberately another reader than the fast one: it keeps the text of each line, so that a line can be rewritten.
 */
export class Walker implements Now {
  readonly dialect: Dialect;
  x = 0;
  y = 0;
  z = 0;
  feed = 1500;
  tool = 0;
  /** The share of filament that the firmware makes of what the file says. */
  flow = 1;
  /** Whether X, Y, Z and E are absolute. */
  absolute = true;
  absoluteE = true;
  private e = 0;
  private readonly offset = { x: 0, y: 0, z: 0 };
  /** Millimetres in a unit of the file. */
  unit = 1;
  /** How far and how fast the firmware draws back, mm and mm/s; undefined where nothing in the file has said so yet. */
  drawn: { length: number | undefined; speed: number | undefined } = { length: undefined, speed: undefined };

  private readonly targets = new Map<number, number>();
  private readonly drawnBack = new Set<number>();

  /** @param macros what was said of macros: only so is it known what they do */
  constructor(
    firmware: Firmware,
    readonly macros: readonly Declared[] = [],
    drawing?: { length: number; speed: number },
  ) {
    if (drawing) this.drawn = { ...drawing };
    this.dialect = dialects[firmware];
  }

  targetOf(tool: number): number {
    return this.targets.get(tool) ?? 0;
  }

  heated(): readonly number[] {
    return [...this.targets.keys()];
  }

  step(line: string): Step {
    const spoken = new SpokenLine(line);
    const step: Step = {
      kind: 'other',
      code: spoken.name,
      words: spoken.words,
      text: line,
      x: this.x,
      y: this.y,
      z: this.z,
      e: 0,
      feed: this.feed,
      tool: this.tool,
      actions: [],
    };
    // Most lines are moves.
    const meanings: readonly Meaning[] = isMove.test(spoken.name) ? [{ kind: 'move' }] : understood(spoken, this);
    const actions: Action[] = [];
    for (const a of meanings) {
      if (a.kind === 'move') this.move(step, spoken);
      else {
        actions.push(a);
        this.act(step, a);
      }
    }
    step.actions = actions;
    return step;
  }

  private act(step: Step, a: Action): void {
    switch (a.kind) {
      case 'mode':
        if (a.what === 'units') this.unit = a.value === 'inch' ? 25.4 : 1;
        else if (a.what === 'extrusion') this.absoluteE = a.value === 'absolute';
        else {
          this.absolute = a.value === 'absolute';
          if (this.dialect.axesRuleE) this.absoluteE = this.absolute;
        }
        return;
      case 'home':
        for (const axis of (a.axes ?? 'xyz') as Iterable<'x' | 'y' | 'z'>) {
          this[axis] = 0;
          this.offset[axis] = 0;
        }
        [step.x, step.y, step.z] = [this.x, this.y, this.z];
        return;
      case 'position':
        for (const axis of ['x', 'y', 'z'] as const)
          if (a.axes[axis] !== undefined) this.offset[axis] = this[axis] - a.axes[axis];
        this.e = a.axes.e ?? this.e;
        return;
      case 'tool':
        this.tool = a.to;
        step.kind = 'tool';
        step.tool = a.to;
        return;
      case 'heat':
        this.targets.set(a.tool, a.target);
        return this.set(step, {
          key: 'heat',
          value: a.target,
          tool: a.tool,
          waits: commandOf(step.code, this.dialect.id)?.waits ?? false,
        });
      case 'bed':
        return this.set(step, { key: 'bed', value: a.target, tool: this.tool, waits: a.wait });
      case 'fan':
        return this.set(step, { key: 'fan', value: a.share, tool: this.tool, waits: false });
      case 'advance':
        return this.set(step, { key: 'advance', value: a.value, tool: a.tool, waits: false });
      case 'acceleration':
        if (a.print !== undefined)
          this.set(step, { key: 'acceleration', value: a.print, tool: this.tool, waits: false });
        return;
      case 'limit': {
        const value = a.axes.x ?? a.axes.y;
        if ((a.of === 'corner' || a.of === 'junction-deviation') && value !== undefined)
          this.set(step, { key: 'limit', value, tool: this.tool, waits: false });
        return;
      }
      case 'override':
        if (a.what === 'flow') this.flow = a.share;
        return;
      case 'drawing':
        this.drawn = { length: a.length ?? this.drawn.length, speed: a.speed ?? this.drawn.speed };
        return this.set(step, { key: 'drawing', value: this.drawn.length ?? 0, tool: this.tool, waits: false });
      case 'draw':
        // A second one in the same way does nothing.
        step.draws = a.back === this.drawnBack.has(this.tool) ? undefined : a.back ? 'back' : 'forward';
        if (a.back) this.drawnBack.add(this.tool);
        else this.drawnBack.delete(this.tool);
    }
  }

  /** Whether the whole file up to here leaves E where a reader that knows it absolutely would have it. */
  get logicalE(): number {
    return this.e;
  }

  private move(step: Step, line: SpokenLine): void {
    const to = (axis: 'x' | 'y' | 'z', letter: string): number => {
      const w = line.get(letter);
      const now = this[axis];
      return w === undefined ? now : this.absolute ? w * this.unit + this.offset[axis] : now + w * this.unit;
    };
    const [x, y, z] = [to('x', 'X'), to('y', 'Y'), to('z', 'Z')];
    const f = line.get('F');
    if (f !== undefined && f > 0) this.feed = f * this.unit;
    const e = line.get('E');
    if (e !== undefined) {
      const word = e * this.unit;
      step.e = this.absoluteE ? word - this.e : word;
      this.e = this.absoluteE ? word : this.e + word;
    }
    const arc = step.code === 'G2' || step.code === 'G3';
    const flat = arc || Math.hypot(x - this.x, y - this.y) > 0;
    step.kind = step.e > 0 ? (flat ? 'print' : 'push') : step.e < 0 ? 'retract' : 'travel';
    [step.x, step.y, step.z, step.feed] = [x, y, z, this.feed];
    [this.x, this.y, this.z] = [x, y, z];
  }

  private set(step: Step, sets: NonNullable<Step['sets']>): void {
    step.kind = 'set';
    step.sets = sets;
  }
}

/** Where each line of a file begins and ends, without its line end. */
export function* linesIn(bytes: Uint8Array): Generator<{ from: number; to: number; next: number }> {
  for (let at = 0; at < bytes.length;) {
    let end = bytes.indexOf(10, at);
    if (end < 0) end = bytes.length;
    const to = end > at && bytes[end - 1] === 13 ? end - 1 : end;
    yield { from: at, to, next: Math.min(bytes.length, end + 1) };
    at = end + 1;
  }
}

/** Plain text of bytes; what is no ASCII keeps its place. */
export function textOf(bytes: Uint8Array, from: number, to: number): string {
  let text = '';
  for (let i = from; i < to; i++) text += String.fromCharCode(bytes[i]!);
  return text;
}
