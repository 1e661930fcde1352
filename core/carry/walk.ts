import type { Firmware } from '#core/context';

/** A word of a line, such as `E0.5`: its value and where the figure stands in the text. */
export interface Word {
  value: number;
  from: number;
  to: number;
}

/** What a line does. `e` is filament pushed, mm; z where the nozzle then stands, mm. */
export interface Step {
  kind: 'print' | 'travel' | 'push' | 'retract' | 'tool' | 'set' | 'other';
  /** Upper case, such as `G1`; empty where it is a comment or nothing. */
  code: string;
  words: Partial<Record<string, Word>>;
  text: string;
  x: number;
  y: number;
  z: number;
  e: number;
  /** Feed in force, mm/min. */
  feed: number;
  tool: number;
  /** Of `set`: what it sets, and for which tool. */
  sets?: { key: StateKey; value: number; tool: number; waits: boolean };
}

export type StateKey = 'nozzle' | 'fan' | 'advance' | 'acceleration' | 'drawn';

const COMMENT = 59;

/** A line without its comments, after a semicolon or in brackets; what is left keeps its place. */
export const uncommented = (text: string): string => {
  const cut = text.indexOf(';');
  return (cut < 0 ? text : text.slice(0, cut)).replace(/\([^)]*\)?/g, (comment) => ' '.repeat(comment.length));
};

/** Reads a line’s words; comments are out already. */
export function wordsOf(text: string): { code: string; words: Partial<Record<string, Word>> } {
  const words: Partial<Record<string, Word>> = {};
  const head = /^\s*(?:N\d+\s*)?([GMT])\s*(\d+(?:\.\d+)?)/i.exec(text);
  if (!head) return { code: '', words };
  const pattern = /([A-Z])\s*([-+]?(?:\d+\.?\d*|\.\d+))?/gi;
  pattern.lastIndex = head[0].length;
  for (let m = pattern.exec(text); m; m = pattern.exec(text)) {
    const figure = m[2];
    const end = m.index + m[0].length;
    words[m[1]!.toUpperCase()] = figure
      ? { value: Number(figure), from: end - figure.length, to: end }
      : { value: NaN, from: end, to: end };
  }
  return { code: head[1]!.toUpperCase() + Number(head[2]), words };
}

/**
 * Follows a file line by line, without changing it: where the nozzle is, how much filament each line pushes, what it
 * sets. Deliberately another reader than the fast one: it keeps the text of each line, so that a line can be rewritten.
 */
export class Walker {
  x = 0;
  y = 0;
  z = 0;
  feed = 1500;
  tool = 0;
  /** Whether X, Y, Z and E are absolute. */
  absolute = true;
  absoluteE = true;
  private e = 0;
  private offset = { X: 0, Y: 0, Z: 0 };
  /** Millimetres in a unit of the file. */
  unit = 1;
  /** How far and how fast the firmware draws back, mm and mm/s; undefined where nothing in the file has said so yet. */
  drawn: { length: number | undefined; speed: number | undefined } = { length: undefined, speed: undefined };

  constructor(private readonly firmware: Firmware) {}

  step(line: string): Step {
    const { code, words } = wordsOf(uncommented(line));
    const step: Step = {
      kind: 'other',
      code,
      words,
      text: line,
      x: this.x,
      y: this.y,
      z: this.z,
      e: 0,
      feed: this.feed,
      tool: this.tool,
    };
    const v = (letter: string): number | undefined => {
      const w = words[letter]?.value;
      return w === undefined || Number.isNaN(w) ? undefined : w;
    };
    switch (code) {
      case 'G0':
      case 'G1':
      case 'G2':
      case 'G3':
        this.move(step, v);
        break;
      case 'G20':
      case 'G21':
        this.unit = code === 'G20' ? 25.4 : 1;
        break;
      case 'G28':
        if (!words['X'] && !words['Y'] && !words['Z']) {
          this.x = this.y = this.z = 0;
          this.offset = { X: 0, Y: 0, Z: 0 };
        }
        break;
      case 'G90':
      case 'G91':
        this.absolute = code === 'G90';
        if (this.firmware === 'marlin') this.absoluteE = this.absolute;
        break;
      case 'G92': {
        const [x, y, z, e] = [v('X'), v('Y'), v('Z'), v('E')];
        if (x !== undefined) this.offset.X = this.x - x * this.unit;
        if (y !== undefined) this.offset.Y = this.y - y * this.unit;
        if (z !== undefined) this.offset.Z = this.z - z * this.unit;
        if (e !== undefined) this.e = e * this.unit;
        break;
      }
      case 'M82':
      case 'M83':
        this.absoluteE = code === 'M82';
        break;
      case 'M104':
      case 'M109': {
        const target = v('S') ?? v('R');
        if (target !== undefined)
          this.set(step, { key: 'nozzle', value: target, tool: v('T') ?? this.tool, waits: code === 'M109' });
        break;
      }
      case 'M106':
        if ((v('P') ?? 0) === 0) {
          const s = v('S') ?? 255;
          const share = this.firmware === 'reprap' && s <= 1 ? s : s / 255;
          this.set(step, { key: 'fan', value: share, tool: this.tool, waits: false });
        }
        break;
      case 'M107':
        this.set(step, { key: 'fan', value: 0, tool: this.tool, waits: false });
        break;
      case 'M900':
      case 'M572': {
        const k = code === 'M900' ? v('K') : v('S');
        if (k !== undefined) this.set(step, { key: 'advance', value: k, tool: v('D') ?? this.tool, waits: false });
        break;
      }
      case 'M204': {
        const a = v('P') ?? v('S');
        if (a !== undefined) this.set(step, { key: 'acceleration', value: a, tool: this.tool, waits: false });
        break;
      }
      case 'M207': {
        const [length, feed] = [v('S'), v('F')];
        if (length !== undefined) this.drawn.length = length * this.unit;
        if (feed !== undefined) this.drawn.speed = (feed * this.unit) / 60;
        this.set(step, { key: 'drawn', value: this.drawn.length ?? 0, tool: this.tool, waits: false });
        break;
      }
      case 'G10':
        if (v('P') !== undefined && v('S') !== undefined)
          this.set(step, { key: 'nozzle', value: v('S')!, tool: v('P')!, waits: false });
        break;
      default:
        if (/^T\d+$/.test(code)) {
          this.tool = Number(code.slice(1));
          step.kind = 'tool';
          step.tool = this.tool;
        } else if (code === '' && line.charCodeAt(0) !== COMMENT) this.word(step);
    }
    return step;
  }

  /** Whether the whole file up to here leaves E where a reader that knows it absolutely would have it. */
  get logicalE(): number {
    return this.e;
  }

  private move(step: Step, v: (letter: string) => number | undefined): void {
    const to = (letter: 'X' | 'Y' | 'Z', now: number): number => {
      const w = v(letter);
      return w === undefined ? now : this.absolute ? w * this.unit + this.offset[letter] : now + w * this.unit;
    };
    const [x, y, z] = [to('X', this.x), to('Y', this.y), to('Z', this.z)];
    const f = v('F');
    if (f !== undefined && f > 0) this.feed = f * this.unit;
    const e = v('E');
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

  /** Commands in words. */
  private word(step: Step): void {
    const text = uncommented(step.text);
    const advance = /^\s*SET_PRESSURE_ADVANCE\b.*\bADVANCE\s*=\s*([\d.]+)/i.exec(text);
    if (advance) this.set(step, { key: 'advance', value: Number(advance[1]), tool: this.tool, waits: false });
    if (/^\s*SET_RETRACTION\b/i.test(text)) {
      const said = (key: string) => {
        const found = new RegExp(`\\b${key}\\s*=\\s*([\\d.]+)`, 'i').exec(text)?.[1];
        return found === undefined ? undefined : Number(found);
      };
      this.drawn = {
        length: said('RETRACT_LENGTH') ?? this.drawn.length,
        speed: said('RETRACT_SPEED') ?? this.drawn.speed,
      };
      this.set(step, { key: 'drawn', value: this.drawn.length ?? 0, tool: this.tool, waits: false });
    }
    const limit = /^\s*SET_VELOCITY_LIMIT\b.*\bACCEL\s*=\s*([\d.]+)/i.exec(text);
    if (limit) this.set(step, { key: 'acceleration', value: Number(limit[1]), tool: this.tool, waits: false });
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
