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
    b[this.at++] = 71;
    b[this.at++] = e === 0 ? 48 : 49;
    const empty = this.at;
    if (x !== this.x) this.axis(88, x, 3);
    if (y !== this.y) this.axis(89, y, 3);
    if (z !== this.z) this.axis(90, z, 3);
    if (e !== 0) {
      const exact = e * 1e5 + this.residue;
      const pushed = Math.round(exact);
      this.residue = exact - pushed;
      this.absoluteE += pushed;
      if (pushed !== 0) this.axis(69, this.options.extrusion === 'absolute' ? this.absoluteE : pushed, 5);
    }
    if (this.at === empty) {
      this.at = start;
      return;
    }
    if (feed !== this.feed) this.axis(70, feed, 0);
    b[this.at++] = NEWLINE;
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

  private axis(letter: number, value: number, decimals: number): void {
    const b = this.buffer;
    b[this.at++] = 32;
    b[this.at++] = letter;
    if (value < 0) {
      b[this.at++] = 45;
      value = -value;
    }
    const scale = decimals === 3 ? 1000 : decimals === 5 ? 100_000 : 1;
    const whole = Math.floor(value / scale);
    let rest = value - whole * scale;
    this.whole(whole);
    if (rest === 0) return;
    b[this.at++] = 46;
    const from = this.at;
    for (let unit = scale / 10; rest > 0; unit /= 10) {
      const digit = Math.floor(rest / unit);
      b[this.at++] = 48 + digit;
      rest -= digit * unit;
    }
    if (this.at === from) this.at--;
  }

  private whole(value: number): void {
    const b = this.buffer;
    let digits = 1;
    for (let limit = 10; value >= limit; limit *= 10) digits++;
    for (let k = digits - 1; k >= 0; k--) {
      b[this.at + k] = 48 + (value % 10);
      value = Math.floor(value / 10);
    }
    this.at += digits;
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
