import type { Context } from '#core/context';
import { SpokenLine, type Declared, type Firmware } from '#core/firmware';
import { ChunkBuilder, type Chunk } from '#core/moves';
import { annotate } from './annotations';
import { Machine } from './machine';
import { ascii, Words } from './words';

/** What a reader has to know: firmware, macros that were declared, filament diameter in mm, moves in a chunk. */
export interface ReadOptions {
  firmware?: Firmware;
  /** What was said of macros: only so is it known what they do. */
  macros?: readonly Declared[];
  /** How the firmware draws back until the file says it, mm and mm/s. */
  drawing?: { length: number; speed: number } | undefined;
  /** Diameter of the filament, mm, for line widths. */
  diameter?: number;
  /** Moves in a chunk at most. */
  capacity?: number;
}

/** What a reader has to know of a pair. */
export const readingFor = ({ printer, filament }: Context): ReadOptions => ({
  firmware: printer.firmware,
  macros: printer.macros,
  diameter: filament.diameter,
  drawing: printer.drawsBack,
});

/** What the reader says at the end. Commands passed over are counted by name. */
export interface ReadSummary {
  lines: number;
  moves: number;
  unknown: Record<string, number>;
  /** Macros of which it was said what they do, by how often they are called. */
  macros: Record<string, number>;
  /** Lines too long to be read. */
  overlong: number;
  /** The first lines that not every firmware reads alike, by why. */
  doubtful: Doubt[];
}

/** Lower-case letters, a comment in brackets behind words, a letter that stands there twice. */
export interface Doubt {
  kind: 'lower-case' | 'brackets' | 'doubled';
  line: number;
}

/** At most so many lines of one kind are named. */
const MOST_DOUBTS = 3;

const LONGEST_LINE = 1 << 16;
/** So much of a command in words is read. */
const LONGEST_SAID = 4096;
const NEWLINE = 10;
const SPACE = 32;
const powers = Float64Array.from({ length: 23 }, (_, i) => 10 ** i);

/**
 * G-code bytes → chunks of moves with the state in force.
 *
 * Feed it slices of any size with `push`, then call `end`. Arcs become chords within 5 µm; inches, relative modes,
 * offsets by `G92`, several tools and firmware retraction are followed. What it does not know it passes over and counts.
 */
export class GcodeReader {
  private readonly builder: ChunkBuilder;
  private rest: Uint8Array | undefined;
  private skipping = false;
  /** What is still to come of the line in hand is a comment. */
  private tail = false;
  private overlong = 0;
  private readonly doubtful: Doubt[] = [];
  private readonly words = new Words();
  private readonly machine: Machine;

  constructor(sink: (chunk: Chunk) => void, options: ReadOptions = {}) {
    this.builder = new ChunkBuilder(sink, options.capacity);
    this.machine = new Machine(
      this.builder,
      this.words,
      options.firmware ?? 'marlin',
      options.diameter ?? 1.75,
      options.macros,
      options.drawing,
    );
  }

  /** Reads the next slice of the file. */
  push(bytes: Uint8Array): void {
    let from = 0;
    if (this.rest || this.skipping) {
      const newline = bytes.indexOf(10);
      const tail = newline < 0 ? bytes : bytes.subarray(0, newline + 1);
      from = tail.length;
      if (!this.skipping) {
        const joined = new Uint8Array(this.rest!.length + tail.length);
        joined.set(this.rest!);
        joined.set(tail, this.rest!.length);
        if (newline < 0) this.keep(joined);
        else {
          this.rest = undefined;
          this.tail = false;
          this.read(joined, 0, joined.length);
        }
      }
      if (newline < 0) return;
      if (this.skipping) {
        this.skipping = false;
        this.rest = undefined;
        this.machine.line++;
      }
    }
    const last = bytes.lastIndexOf(10);
    if (last >= from) {
      this.read(bytes, from, last + 1);
      from = last + 1;
    }
    if (from < bytes.length) this.keep(bytes.slice(from));
  }

  /** Reads a last line without a newline and hands the last chunk on. */
  end(): ReadSummary {
    if (this.rest) {
      // Every line that is read ends with a newline: the loops rest on it.
      const last = new Uint8Array(this.rest.length + 1);
      last.set(this.rest);
      last[last.length - 1] = NEWLINE;
      this.rest = undefined;
      this.read(last, 0, last.length);
    }
    this.builder.flush();
    const { line, moves, unknown, called } = this.machine;
    return {
      lines: line,
      moves,
      unknown: Object.fromEntries(unknown),
      macros: Object.fromEntries(called),
      overlong: this.overlong,
      doubtful: this.doubtful,
    };
  }

  /** Takes back a chunk that nobody looks at any more; its arrays are filled anew. */
  free(chunk: Chunk): void {
    this.builder.free(chunk);
  }

  private keep(part: Uint8Array): void {
    // A comment may be as long as it likes: what stands before it is the line.
    const comment = this.tail ? this.rest!.length - 1 : part.length > LONGEST_LINE ? part.indexOf(59) : -1;
    if (comment >= 0 && comment <= LONGEST_LINE) {
      this.rest = part.slice(0, comment + 1);
      this.tail = true;
    } else if (part.length > LONGEST_LINE) {
      this.overlong++;
      this.skipping = true;
      this.rest = undefined;
    } else this.rest = part;
  }

  // One flat loop: a call per word would cost more than the word.
  private read(b: Uint8Array, from: number, to: number): void {
    const { machine, words } = this;
    const { has, value } = words;
    let i = from;
    while (i < to) {
      if (b[i] === 71 && b[i + 2] === SPACE && (b[i + 1] === 49 || b[i + 1] === 48)) {
        const next = this.plain(b, i + 3);
        if (next > 0) {
          i = next;
          continue;
        }
      } else if (b[i] === 59) {
        machine.line++;
        if (b[i + 1] === 64) i = annotate(machine, b, i + 2, to);
        while (b[i] !== NEWLINE) i++;
        i++;
        continue;
      }
      const start = i;
      machine.line++;
      const stamp = ++words.stamp;
      let kind = 0;
      let code = -1;
      let c: number;
      let wordy = false;
      let lower = false;
      let brackets = false;
      let doubled = false;
      let comment = -1;
      scan: for (; i < to; i++) {
        c = b[i]!;
        if (c === 10) break;
        if (c <= 32) continue;
        if (c === 59) {
          comment = i;
          if (b[i + 1] === 64) i = annotate(machine, b, i + 2, to);
          while (i < to && b[i] !== 10) i++;
          break;
        }
        if (c === 40) {
          brackets = true;
          while (i < to && b[i] !== 41 && b[i] !== 10) i++;
          if (b[i] === 10) break;
          continue;
        }
        if (c === 42) {
          // Checksum: the rest of the line counts for nothing.
          while (i < to && b[i] !== 10 && b[i] !== 59) i++;
          i--;
          continue;
        }
        let letter = c;
        if (letter >= 97 && letter <= 122) {
          letter -= 32;
          lower = true;
        }
        if (letter < 65 || letter > 90) {
          wordy = true;
          break scan;
        }
        // Number behind the letter: integer mantissa and a count of decimals.
        let k = i + 1;
        while (b[k] === 32) k++;
        let negative = false;
        if (b[k] === 45) {
          negative = true;
          k++;
        } else if (b[k] === 43) k++;
        const first = k;
        let mantissa = 0;
        let decimals = 0;
        let d = 0;
        for (; k < to && (d = b[k]! - 48) >= 0 && d <= 9; k++) mantissa = mantissa * 10 + d;
        let digits = k - first;
        if (d === -2 && k < to) {
          const point = ++k;
          for (; k < to && (d = b[k]! - 48) >= 0 && d <= 9; k++) mantissa = mantissa * 10 + d;
          decimals = k - point;
          digits += decimals;
        }
        const none = digits === 0;
        let number = decimals > 0 ? mantissa / powers[decimals < 22 ? decimals : 22]! : mantissa;
        // More digits than a double holds exactly: rare, so the language may read them.
        if (digits > 15) number = Number(ascii(b, first, Math.min(k, first + 400)));
        if (negative) number = -number;
        if (kind === 0) {
          if (letter === 78 && !none) {
            i = k - 1;
            continue;
          }
          if ((letter === 71 || letter === 77 || letter === 84) && !none) {
            kind = letter;
            code = number;
          } else {
            wordy = true;
            break scan;
          }
          i = k - 1;
          continue;
        }
        if (kind === 77 && (code === 117 || code === 118)) {
          wordy = true;
          break scan;
        }
        if (has[letter] === stamp) doubled = true;
        has[letter] = stamp;
        value[letter] = none ? NaN : number;
        i = k - 1;
      }
      if (wordy) {
        while (i < to && b[i] !== 10) i++;
      }
      const end = i;
      i++;
      // However the file is cut into slices, what is too long is not done.
      if ((comment < 0 ? end : comment) - start > LONGEST_LINE) {
        this.overlong++;
        continue;
      }
      if (kind !== 0 && !wordy && (lower || brackets || doubled)) {
        if (lower) this.doubt('lower-case');
        if (brackets) this.doubt('brackets');
        if (doubled) this.doubt('doubled');
      }
      if (kind === 71 && (code === 1 || code === 0) && !wordy) machine.linear();
      else if (wordy) machine.other(new SpokenLine(ascii(b, start, Math.min(end, start + LONGEST_SAID))));
      else if (kind !== 0) machine.other(words.named(String.fromCharCode(kind) + code, b, start, end));
    }
  }

  private doubt(kind: Doubt['kind']): void {
    const { doubtful } = this;
    if (doubtful.reduce((n, d) => n + Number(d.kind === kind), 0) < MOST_DOUBTS)
      doubtful.push({ kind, line: this.machine.line });
  }

  /**
   * Reads the words of a plain `G0` or `G1`, which most lines are.
   * @returns where the next line begins, or 0 where the line holds anything else; nothing has changed then
   */
  private plain(b: Uint8Array, from: number): number {
    let k = from;
    let words = 0;
    let x = 0;
    let y = 0;
    let z = 0;
    let e = 0;
    let f = 0;
    for (;;) {
      const letter = b[k++]!;
      if (letter === NEWLINE) break;
      if (letter === SPACE || letter === 13) continue;
      let c = b[k]!;
      const negative = c === 45;
      if (negative) c = b[++k]!;
      const first = k;
      let mantissa = 0;
      // One test tells a digit: what lies below “0” is huge without its sign. A newline ends every line, so this ends.
      let d = c - 48;
      if (d >>> 0 < 10) {
        mantissa = d;
        d = b[++k]! - 48;
        if (d >>> 0 < 10) {
          mantissa = mantissa * 10 + d;
          d = b[++k]! - 48;
          while (d >>> 0 < 10) {
            mantissa = (Math.imul(mantissa, 10) + d) | 0;
            d = b[++k]! - 48;
          }
        }
      }
      let digits = k - first;
      let number = mantissa;
      if (d === -2) {
        const point = ++k;
        d = b[k]! - 48;
        if (d >>> 0 < 10) {
          mantissa = (Math.imul(mantissa, 10) + d) | 0;
          d = b[++k]! - 48;
          if (d >>> 0 < 10) {
            mantissa = (Math.imul(mantissa, 10) + d) | 0;
            d = b[++k]! - 48;
          }
        }
        while (d >>> 0 < 10) {
          mantissa = (Math.imul(mantissa, 10) + d) | 0;
          d = b[++k]! - 48;
        }
        digits += k - point;
        // More digits are left to the slower way.
        if (digits > 9) return 0;
        number = mantissa / powers[k - point]!;
      }
      if (digits === 0 || digits > 9) return 0;
      if (d === SPACE - 48) k++;
      if (negative) number = -number;
      const before = words;
      if (letter === 88) {
        x = number;
        words |= 1;
      } else if (letter === 89) {
        y = number;
        words |= 2;
      } else if (letter === 69) {
        e = number;
        words |= 8;
      } else if (letter === 90) {
        z = number;
        words |= 4;
      } else if (letter === 70) {
        f = number;
        words |= 16;
      } else return 0;
      // Which of two figures counts differs from firmware to firmware.
      if (words === before) return 0;
    }
    const { machine } = this;
    machine.line++;
    const { unit, absolute, at, to } = machine;
    if (f > 0) machine.speed = (f * unit) / 60;
    to[0] = words & 1 ? (absolute ? x * unit + machine.offsetX : at[0]! + x * unit) : at[0]!;
    to[1] = words & 2 ? (absolute ? y * unit + machine.offsetY : at[1]! + y * unit) : at[1]!;
    to[2] = words & 4 ? (absolute ? z * unit + machine.offsetZ : at[2]! + z * unit) : at[2]!;
    to[3] = 0;
    if (words & 8) {
      to[3] = machine.absoluteE ? e * unit - at[3]! : e * unit;
      at[3] = machine.absoluteE ? e * unit : at[3]! + e * unit;
    }
    machine.step();
    return k;
  }
}

/** Reads whole bytes at once and hands each chunk on. */
export function readGcode(bytes: Uint8Array, sink: (chunk: Chunk) => void, options?: ReadOptions): ReadSummary {
  const reader = new GcodeReader(sink, options);
  reader.push(bytes);
  return reader.end();
}
