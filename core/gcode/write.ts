import { lineFor, type Dialect, type Now } from '#core/firmware';
import { after, roleAt, unknownState, type Chunk, type MachineState } from '#core/moves';

/** How a file is written: firmware, and whether E is relative or absolute. */
export interface WriteOptions {
  dialect: Dialect;
  extrusion: 'relative' | 'absolute';
  /** Comment lines put first and last, without the semicolon. */
  head?: readonly string[];
  foot?: readonly string[];
}

const NEWLINE = 10;

/**
 * Moves → G-code bytes.
 *
 * Positions are written to 1 µm, extrusion to 10 nm with the rounding residue carried, speeds in whole mm/min. Kinds
 * of path and cells stand in comments of our own (`;@role`, `;@cell`, `;@layer`), so that a reader needs no plan.
 */
export class GcodeWriter {
  private buffer = new Uint8Array(1 << 16);
  private at = 0;
  private readonly parts: Uint8Array[] = [];
  private state: MachineState = unknownState;
  private x = NaN;
  private y = NaN;
  private z = NaN;
  private feed = -1;
  private role = -1;
  private cell = -1;
  private residue = 0;
  private absoluteE = 0;
  private lineNumber = 1;

  constructor(private readonly options: WriteOptions) {
    this.comments(options.head);
  }

  /** Appends a chunk and records in it the line of each move. */
  write(chunk: Chunk): void {
    const { moves, commands } = chunk;
    let next = 0;
    for (let i = 0; i < moves.n; i++) {
      while (next < commands.length && commands[next]!.before <= i) this.command(commands[next++]!);
      const role = moves.role[i]!;
      if (role !== this.role && moves.e[i]! > 0) {
        this.role = role;
        this.text(`;@role ${roleAt(role)}`);
      }
      if (moves.cell[i]! !== this.cell) {
        this.cell = moves.cell[i]!;
        this.text(`;@cell ${this.cell}`);
      }
      this.move(chunk, i);
    }
    while (next < commands.length) this.command(commands[next++]!);
  }

  /** All bytes. */
  finish(): Uint8Array {
    this.comments(this.options.foot);
    this.flush();
    const all = new Uint8Array(this.parts.reduce((sum, p) => sum + p.length, 0));
    let at = 0;
    for (const part of this.parts) {
      all.set(part, at);
      at += part.length;
    }
    return all;
  }

  private move({ moves }: Chunk, i: number): void {
    this.room(128);
    // Whole micrometres, so that what is unchanged after rounding is not written.
    const x = Math.round(moves.x[i]! * 1000);
    const y = Math.round(moves.y[i]! * 1000);
    const z = Math.round(moves.z[i]! * 1000);
    const e = moves.e[i]!;
    const feed = Math.max(1, Math.round(moves.speed[i]! * 60));
    const b = this.buffer;
    const start = this.at;
    b[start] = 71;
    b[start + 1] = e === 0 ? 48 : 49;
    const empty = start + 2;
    let at = empty;
    if (x !== this.x) at = thousandths(b, at, 88, x);
    if (y !== this.y) at = thousandths(b, at, 89, y);
    if (z !== this.z) at = thousandths(b, at, 90, z);
    if (e !== 0) {
      const exact = e * 1e5 + this.residue;
      const pushed = Math.round(exact);
      this.residue = exact - pushed;
      this.absoluteE += pushed;
      if (pushed !== 0) at = fed(b, at, this.options.extrusion === 'absolute' ? this.absoluteE : pushed);
    }
    if (at === empty) return;
    if (feed !== this.feed) at = whole(b, begun(b, at, 70, feed), feed);
    b[at] = NEWLINE;
    this.at = at + 1;
    this.x = x;
    this.y = y;
    this.z = z;
    this.feed = feed;
    moves.line[i] = this.lineNumber++;
  }

  private command(action: Chunk['commands'][number]): void {
    action.line = this.lineNumber;
    this.say(action);
    this.state = after(this.state, action);
    // Whether a firmware keeps E over a change of tool differs: it is stated anew.
    if ((action.kind === 'layer' || action.kind === 'tool') && this.options.extrusion === 'absolute') {
      this.text('G92 E0');
      this.absoluteE = 0;
    }
    if (action.kind === 'position' && action.axes.e !== undefined) {
      this.absoluteE = Math.round(action.axes.e * 1e5);
      this.residue = 0;
    }
    if (action.kind === 'home' || action.kind === 'raw') {
      // What raw code did to position and speed is not known here: write everything anew.
      this.x = this.y = this.z = NaN;
      this.feed = -1;
    }
  }

  private say(action: Chunk['commands'][number]): void {
    if (action.kind === 'layer') return this.text(`;@layer ${action.number} ${Number(action.z.toFixed(3))}`);
    const line = lineFor(action, this.now);
    if (line !== undefined) this.text(line);
  }

  private get now(): Now {
    const { tool, nozzle } = this.state;
    return {
      dialect: this.options.dialect,
      macros: [],
      tool,
      unit: 1,
      targetOf: (other) => (other === tool ? nozzle : 0),
      heated: () => [],
    };
  }

  private comments(lines: readonly string[] = []): void {
    for (const line of lines) this.text(`; ${line}`.trimEnd());
  }

  private text(line: string): void {
    this.room(line.length + 1);
    for (let i = 0; i < line.length; i++) {
      const code = line.charCodeAt(i);
      this.buffer[this.at++] = code < 32 || code > 126 ? 63 : code;
    }
    this.buffer[this.at++] = NEWLINE;
    this.lineNumber++;
  }

  private room(bytes: number): void {
    if (this.at + bytes <= this.buffer.length) return;
    this.flush();
    if (bytes > this.buffer.length) this.buffer = new Uint8Array(bytes);
  }

  private flush(): void {
    if (this.at === 0) return;
    this.parts.push(this.buffer.slice(0, this.at));
    this.at = 0;
  }
}

// Digits by table, three at a time: a division for each would cost more than all the rest of a line.
const digits = Uint8Array.from({ length: 3000 }, (_, k) => {
  const value = Math.floor(k / 3);
  return 48 + (k % 3 === 0 ? Math.floor(value / 100) : k % 3 === 1 ? Math.floor(value / 10) % 10 : value % 10);
});
/** How many of three decimals are left without the zeros at their end. */
const significant = Uint8Array.from({ length: 1000 }, (_, v) =>
  v === 0 ? 0 : v % 100 === 0 ? 1 : v % 10 === 0 ? 2 : 3,
);

/** Writes a blank, a letter and the sign of a value; gives the place behind. */
function begun(b: Uint8Array, at: number, letter: number, value: number): number {
  b[at++] = 32;
  b[at++] = letter;
  if (value < 0) b[at++] = 45;
  return at;
}

/** What is as large, or no figure at all, is written as “?”: no check lets such a line pass. */
const MOST = 1e15;

/** Writes a whole number without its sign. */
function whole(b: Uint8Array, at: number, value: number): number {
  if (value < 0) value = -value;
  if (!(value < MOST)) {
    b[at] = 63;
    return at + 1;
  }
  if (value < 1000) {
    const k = 3 * value;
    if (value >= 100) b[at++] = digits[k]!;
    if (value >= 10) b[at++] = digits[k + 1]!;
    b[at++] = digits[k + 2]!;
    return at;
  }
  const thousands = Math.floor(value / 1000);
  at = whole(b, at, thousands);
  return three(b, at, value - 1000 * thousands);
}

function three(b: Uint8Array, at: number, value: number): number {
  const k = 3 * value;
  b[at] = digits[k]!;
  b[at + 1] = digits[k + 1]!;
  b[at + 2] = digits[k + 2]!;
  return at + 3;
}

/** Writes a letter with a value in thousandths, without zeros at its end. */
function thousandths(b: Uint8Array, at: number, letter: number, value: number): number {
  at = begun(b, at, letter, value);
  if (value < 0) value = -value;
  if (!(value < MOST)) return whole(b, at, value);
  const units = Math.floor(value / 1000);
  const rest = value - 1000 * units;
  at = whole(b, at, units);
  if (rest === 0) return at;
  b[at] = 46;
  three(b, at + 1, rest);
  return at + 1 + significant[rest]!;
}

/** Writes E with a value in hundred-thousandths, without zeros at its end. */
function fed(b: Uint8Array, at: number, value: number): number {
  at = begun(b, at, 69, value);
  if (value < 0) value = -value;
  if (!(value < MOST)) return whole(b, at, value);
  const units = Math.floor(value / 100_000);
  const rest = value - 100_000 * units;
  at = whole(b, at, units);
  if (rest === 0) return at;
  b[at++] = 46;
  const high = Math.floor(rest / 100);
  const low = rest - 100 * high;
  three(b, at, high);
  if (low === 0) return at + significant[high]!;
  // Of a table of three the last two.
  b[at + 3] = digits[3 * low + 1]!;
  b[at + 4] = digits[3 * low + 2]!;
  return at + (low % 10 === 0 ? 4 : 5);
}
