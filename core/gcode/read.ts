import { lineWidthOf } from '#core/settings';
import { ChunkBuilder, roleNumber, roles, type Chunk, type MachineState } from '#core/moves';
import { arcPoints } from './arc';

export interface ReadOptions {
  firmware?: 'marlin' | 'klipper' | 'reprap';
  /** Diameter of the filament, mm, for line widths. */
  diameter?: number;
  /** Moves in a chunk at most. */
  capacity?: number;
}

/** What the reader says at the end. Commands passed over are counted by name. */
export interface ReadSummary {
  lines: number;
  moves: number;
  unknown: Record<string, number>;
  /** Lines too long to be read. */
  overlong: number;
}

const LONGEST_LINE = 1 << 16;
const NEWLINE = 10;
const SPACE = 32;
const powers = Float64Array.from({ length: 23 }, (_, i) => 10 ** i);
const roleBySum = new Map<number, number>(
  roles.map((r, i) => [[...`role ${r}`].reduce((sum, c) => (Math.imul(sum, 31) + c.charCodeAt(0)) | 0, 0), i]),
);

// Known, but without effect on motion, heat or fan: handed on as raw text.
const passive = new Set([
  'M17',
  'M18',
  'M84',
  'M73',
  'M75',
  'M76',
  'M77',
  'M105',
  'M110',
  'M115',
  'M117',
  'M118',
  'M155',
  'M201',
  'M203',
  'M205',
  'M300',
  'M400',
  'M566',
  'G17',
  'G29',
  'G27',
  'G80',
]);

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
  private lines = 0;
  private moves = 0;
  private overlong = 0;
  private readonly unknown = new Map<string, number>();

  /** Where the nozzle is, machine x y z, mm, and the extruder’s own count, mm. */
  private readonly at = new Float64Array(4);
  /** Where the move in hand goes, x y z, and what it pushes. */
  private readonly to = new Float64Array(4);
  private offsetX = 0;
  private offsetY = 0;
  private offsetZ = 0;
  private unit = 1;
  private absolute = true;
  private absoluteE = true;
  private speed = 25;
  private tool = 0;
  private targets: number[] = [0];
  private cell = -1;
  private role = -1;
  private layerZ = 0;
  private layerHeight = 0;
  /** The layer that the file says it is in: nozzle height and thickness, mm. */
  private mark: { z: number; height: number } | undefined;
  private retractLength = 0;
  private retractSpeed = 35;
  private readonly filamentArea: number;
  private readonly firmware: NonNullable<ReadOptions['firmware']>;

  // Words of the line at hand: has[letter] is the line number at which value[letter] was set.
  private readonly has = new Uint32Array(128);
  private readonly value = new Float64Array(128);
  private stamp = 0;

  constructor(sink: (chunk: Chunk) => void, options: ReadOptions = {}) {
    this.builder = new ChunkBuilder(sink, options.capacity);
    this.firmware = options.firmware ?? 'marlin';
    const d = options.diameter ?? 1.75;
    this.filamentArea = (Math.PI / 4) * d * d;
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
          this.read(joined, 0, joined.length);
        }
      }
      if (newline < 0) return;
      if (this.skipping) {
        this.skipping = false;
        this.rest = undefined;
        this.lines++;
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
    return { lines: this.lines, moves: this.moves, unknown: Object.fromEntries(this.unknown), overlong: this.overlong };
  }

  private keep(part: Uint8Array): void {
    if (part.length > LONGEST_LINE) {
      this.overlong++;
      this.skipping = true;
      this.rest = undefined;
    } else this.rest = part;
  }

  // One flat loop: a call per word would cost more than the word.
  private read(b: Uint8Array, from: number, to: number): void {
    const { has, value } = this;
    let i = from;
    while (i < to) {
      if (b[i] === 71 && b[i + 2] === SPACE && (b[i + 1] === 49 || b[i + 1] === 48)) {
        const next = this.plain(b, i + 3);
        if (next > 0) {
          i = next;
          continue;
        }
      }
      const start = i;
      this.lines++;
      const stamp = ++this.stamp;
      let kind = 0;
      let code = -1;
      let c: number;
      let wordy = false;
      scan: for (; i < to; i++) {
        c = b[i]!;
        if (c === 10) break;
        if (c <= 32) continue;
        if (c === 59) {
          if (b[i + 1] === 64) this.annotation(b, i + 2, to);
          while (i < to && b[i] !== 10) i++;
          break;
        }
        if (c === 40) {
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
        if (letter >= 97 && letter <= 122) letter -= 32;
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
        has[letter] = stamp;
        value[letter] = none ? NaN : number;
        i = k - 1;
      }
      if (wordy) {
        while (i < to && b[i] !== 10) i++;
      }
      const end = i;
      i++;
      if (kind === 71 && (code === 1 || code === 0) && !wordy) this.linear(stamp);
      else if (kind !== 0 || wordy) this.other(kind, code, stamp, b, start, end, wordy);
    }
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
      let d = c - 48;
      while (d >= 0 && d <= 9) {
        mantissa = (Math.imul(mantissa, 10) + d) | 0;
        d = b[++k]! - 48;
      }
      let digits = k - first;
      let number = mantissa;
      if (d === -2) {
        const point = ++k;
        d = b[k]! - 48;
        while (d >= 0 && d <= 9) {
          mantissa = (Math.imul(mantissa, 10) + d) | 0;
          d = b[++k]! - 48;
        }
        digits += k - point;
        // More digits are left to the slower way.
        if (digits > 9) return 0;
        number = mantissa / powers[k - point]!;
      }
      if (digits === 0 || digits > 9) return 0;
      if (negative) number = -number;
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
      } else if (letter === 70) f = number;
      else return 0;
    }
    this.lines++;
    const { unit } = this;
    if (f > 0) this.speed = (f * unit) / 60;
    const to = this.to;
    to[0] = words & 1 ? (this.absolute ? x * unit + this.offsetX : this.at[0]! + x * unit) : this.at[0]!;
    to[1] = words & 2 ? (this.absolute ? y * unit + this.offsetY : this.at[1]! + y * unit) : this.at[1]!;
    to[2] = words & 4 ? (this.absolute ? z * unit + this.offsetZ : this.at[2]! + z * unit) : this.at[2]!;
    to[3] = 0;
    if (words & 8) {
      to[3] = this.absoluteE ? e * unit - this.at[3]! : e * unit;
      this.at[3] = this.absoluteE ? e * unit : this.at[3]! + e * unit;
    }
    this.step();
    return k;
  }

  private linear(stamp: number): void {
    const { has, value, unit } = this;
    let [x, y, z] = [this.at[0]!, this.at[1]!, this.at[2]!];
    if (has[88] === stamp) x = this.absolute ? value[88]! * unit + this.offsetX : x + value[88]! * unit;
    if (has[89] === stamp) y = this.absolute ? value[89]! * unit + this.offsetY : y + value[89]! * unit;
    if (has[90] === stamp) z = this.absolute ? value[90]! * unit + this.offsetZ : z + value[90]! * unit;
    if (has[70] === stamp && value[70]! > 0) this.speed = (value[70]! * unit) / 60;
    this.go(x, y, z, has[69] === stamp ? this.push_(value[69]! * unit) : 0);
  }

  private push_(word: number): number {
    const pushed = this.absoluteE ? word - this.at[3]! : word;
    this.at[3] = this.absoluteE ? word : this.at[3]! + word;
    return pushed;
  }

  private go(x: number, y: number, z: number, pushed: number): void {
    this.to.set([x, y, z, pushed]);
    this.step();
  }

  /** The move to `to`. Typed arrays, since figures handed over or kept in fields are boxed one by one. */
  private step(): void {
    const { at, to } = this;
    const x = to[0]!;
    const y = to[1]!;
    const z = to[2]!;
    const dx = x - at[0]!;
    const dy = y - at[1]!;
    const dz = z - at[2]!;
    const e = to[3]! * this.builder.state.flowShare;
    if (dx === 0 && dy === 0 && dz === 0 && e === 0) return;
    at[0] = x;
    at[1] = y;
    at[2] = z;
    let role: number = roleNumber.travel;
    let width = 0;
    let height = 0;
    const flat = dx * dx + dy * dy;
    if (e > 0 && flat > 0) {
      role = this.role >= 0 ? this.role : roleNumber.other;
      if (z !== this.layerZ) {
        this.layerHeight = z > this.layerZ ? z - this.layerZ : z;
        this.layerZ = z;
      }
      // Within a layer some lines may lie a little above or below its height.
      height = this.mark ? this.mark.height + z - this.mark.z : this.layerHeight;
      if (!(height > 0)) height = this.layerHeight;
      const area = (e * this.filamentArea) / Math.sqrt(flat + dz * dz);
      width = height > 0 ? lineWidthOf(area, height) : 0;
    } else if (e !== 0 && flat === 0 && dz === 0) role = e < 0 ? roleNumber.retract : roleNumber.unretract;
    else if (flat === 0 && dz !== 0) role = roleNumber.hop;
    this.moves++;
    const m = this.builder.room();
    const i = m.n - 1;
    m.x[i] = x;
    m.y[i] = y;
    m.z[i] = z;
    m.e[i] = e;
    m.speed[i] = this.speed;
    m.width[i] = width;
    m.height[i] = height;
    m.role[i] = role;
    m.cell[i] = this.cell;
    m.line[i] = this.lines;
  }

  private annotation(b: Uint8Array, from: number, to: number): void {
    let end = from;
    // A hash over the letters tells the kinds of path apart, so that no text is built for the frequent ones.
    let sum = 0;
    while (end < to && b[end] !== 10 && b[end] !== 13 && end - from < 80) sum = (Math.imul(sum, 31) + b[end++]!) | 0;
    const role = roleBySum.get(sum);
    if (role !== undefined) {
      this.role = role;
      return;
    }
    const [word, first, second] = ascii(b, from, end).split(' ');
    if (word === 'role') this.role = -1;
    else if (word === 'cell') this.cell = toInteger(first);
    else if (word === 'layer') {
      const number = toInteger(first);
      const z = Number(second);
      if (number >= 0 && Number.isFinite(z)) {
        const below = this.mark?.z ?? 0;
        this.mark = { z, height: z > below ? z - below : z };
      }
      if (number >= 0 && Number.isFinite(z)) this.builder.command({ kind: 'layer', number, z }, this.lines);
    }
  }

  private word(letter: string, stamp: number): number | undefined {
    const at = letter.charCodeAt(0);
    const v = this.value[at]!;
    return this.has[at] === stamp && !Number.isNaN(v) ? v : undefined;
  }

  private other(
    kind: number,
    code: number,
    stamp: number,
    b: Uint8Array,
    start: number,
    end: number,
    wordy: boolean,
  ): void {
    const build = this.builder;
    const line = this.lines;
    const word = (letter: string) => this.word(letter, stamp);
    const raw = () =>
      build.command(
        {
          kind: 'raw',
          text: ascii(b, start, Math.min(end, start + 256))
            .replace(/;.*$/, '')
            .trim(),
        },
        line,
      );
    if (wordy && kind === 0) {
      this.text(
        ascii(b, start, Math.min(end, start + 256))
          .replace(/;.*$/, '')
          .trim(),
        line,
      );
      return;
    }
    if (kind === 84) {
      this.changeTool(code, line);
      return;
    }
    const name = `${kind === 71 ? 'G' : 'M'}${code}`;
    switch (name) {
      case 'G0':
      case 'G1':
        raw();
        this.count(`${name} (unreadable)`);
        return;
      case 'G2':
      case 'G3':
        this.arc(code === 2, stamp);
        return;
      case 'G4':
        build.command({ kind: 'dwell', seconds: (word('P') ?? 0) / 1000 + (word('S') ?? 0) }, line);
        return;
      case 'G10':
        if (word('P') !== undefined && (word('S') !== undefined || word('R') !== undefined)) {
          if (word('S') !== undefined) this.heat(word('P')!, word('S')!, false, line);
          return;
        }
        this.firmwareRetract(-1, line);
        return;
      case 'G11':
        this.firmwareRetract(1, line);
        return;
      case 'G20':
      case 'G21':
        this.unit = code === 20 ? 25.4 : 1;
        build.command({ kind: 'mode', what: 'units', value: code === 20 ? 'inch' : 'mm' }, line);
        return;
      case 'G28':
        if (!['X', 'Y', 'Z'].some((axis) => this.has[axis.charCodeAt(0)] === stamp)) {
          this.at[0] = this.at[1] = this.at[2] = 0;
          this.offsetX = this.offsetY = this.offsetZ = 0;
          build.command({ kind: 'home' }, line);
        } else raw();
        return;
      case 'G90':
      case 'G91':
        this.absolute = code === 90;
        // Marlin lets G90 and G91 decide over E too; the others leave it to M82 and M83.
        if (this.firmware === 'marlin') this.absoluteE = this.absolute;
        build.command({ kind: 'mode', what: 'axes', value: this.absolute ? 'absolute' : 'relative' }, line);
        return;
      case 'G92': {
        const axes: Partial<Record<'x' | 'y' | 'z' | 'e', number>> = {};
        const [x, y, z, e] = [word('X'), word('Y'), word('Z'), word('E')];
        if (x !== undefined) this.offsetX = this.at[0]! - (axes.x = x * this.unit);
        if (y !== undefined) this.offsetY = this.at[1]! - (axes.y = y * this.unit);
        if (z !== undefined) this.offsetZ = this.at[2]! - (axes.z = z * this.unit);
        if (e !== undefined) this.at[3] = axes.e = e * this.unit;
        build.command({ kind: 'position', axes }, line);
        return;
      }
      case 'M82':
      case 'M83':
        this.absoluteE = code === 82;
        build.command({ kind: 'mode', what: 'extrusion', value: this.absoluteE ? 'absolute' : 'relative' }, line);
        return;
      case 'M104':
      case 'M109': {
        const target = word('S') ?? word('R');
        if (target === undefined) return raw();
        const tool = word('T') ?? this.tool;
        const rising = target >= (this.targets[tool] ?? 0);
        const waits = code === 109 && (word('R') !== undefined || rising || this.firmware === 'klipper');
        this.heat(tool, target, waits, line);
        return;
      }
      case 'M140':
      case 'M190': {
        const target = word('S') ?? word('R');
        if (target === undefined) return raw();
        build.command({ kind: 'bed', target, wait: code === 190 }, line);
        return;
      }
      case 'M106': {
        const s = word('S');
        if ((word('P') ?? 0) !== 0) return raw();
        build.command(
          { kind: 'fan', share: s === undefined ? 1 : this.firmware === 'reprap' && s <= 1 ? s : s / 255 },
          line,
        );
        return;
      }
      case 'M107':
        build.command({ kind: 'fan', share: 0 }, line);
        return;
      case 'M204': {
        const s = word('S');
        const print = word('P') ?? s ?? build.state.acceleration;
        build.command({ kind: 'acceleration', print, travel: word('T') ?? s ?? build.state.travelAcceleration }, line);
        return;
      }
      case 'M207':
        this.retractLength = word('S') ?? this.retractLength;
        this.retractSpeed = (word('F') ?? this.retractSpeed * 60) / 60;
        raw();
        return;
      case 'M220':
      case 'M221':
        if (word('S') !== undefined)
          build.command({ kind: 'override', what: code === 220 ? 'speed' : 'flow', share: word('S')! / 100 }, line);
        else raw();
        return;
      case 'M572':
      case 'M900': {
        const v = code === 900 ? word('K') : word('S');
        if (v !== undefined)
          build.command({ kind: 'advance', value: v, tool: code === 572 ? (word('D') ?? this.tool) : this.tool }, line);
        else raw();
        return;
      }
      default:
        raw();
        if (!passive.has(name)) this.count(name);
    }
  }

  private text(text: string, line: number): void {
    if (text === '') return;
    const name = /^[A-Za-z_][A-Za-z0-9_]*/.exec(text)?.[0]?.toUpperCase() ?? text.slice(0, 12);
    const parameter = (key: string) => {
      const match = new RegExp(`\\b${key}\\s*=\\s*([0-9.]+)`, 'i').exec(text);
      return match ? Number(match[1]) : undefined;
    };
    if (name === 'SET_PRESSURE_ADVANCE' && parameter('ADVANCE') !== undefined) {
      this.builder.command({ kind: 'advance', value: parameter('ADVANCE')!, tool: this.tool }, line);
    } else if (name === 'SET_RETRACTION') {
      this.retractLength = parameter('RETRACT_LENGTH') ?? this.retractLength;
      this.retractSpeed = parameter('RETRACT_SPEED') ?? this.retractSpeed;
      this.builder.command({ kind: 'raw', text }, line);
    } else if (name === 'SET_VELOCITY_LIMIT' && parameter('ACCEL') !== undefined) {
      const accel = parameter('ACCEL')!;
      this.builder.command({ kind: 'acceleration', print: accel, travel: accel }, line);
    } else {
      this.builder.command({ kind: 'raw', text }, line);
      if (!/^M11[78]\b/.test(text)) this.count(name);
    }
  }

  private heat(tool: number, target: number, wait: boolean, line: number): void {
    if (tool >= 0 && tool < 64) this.targets[tool] = target;
    this.builder.command({ kind: 'heat', tool, target, wait }, line);
  }

  private changeTool(to: number, line: number): void {
    if (!Number.isInteger(to) || to < 0 || to > 63) {
      this.count('T');
      return;
    }
    this.tool = to;
    this.builder.command({ kind: 'tool', to }, line);
    const state: MachineState = { ...this.builder.state, nozzle: this.targets[to] ?? 0 };
    this.builder.assume(state);
  }

  private firmwareRetract(sign: number, line: number): void {
    if (this.retractLength === 0) {
      this.builder.command({ kind: 'raw', text: sign < 0 ? 'G10' : 'G11' }, line);
      return;
    }
    const keep = this.speed;
    this.speed = this.retractSpeed;
    this.go(this.at[0]!, this.at[1]!, this.at[2]!, sign * this.retractLength);
    this.speed = keep;
  }

  private arc(clockwise: boolean, stamp: number): void {
    const word = (letter: string) => this.word(letter, stamp);
    const axis = (letter: string, now: number, offset: number) => {
      const v = word(letter);
      return v === undefined ? now : this.absolute ? v * this.unit + offset : now + v * this.unit;
    };
    const to = {
      x: axis('X', this.at[0]!, this.offsetX),
      y: axis('Y', this.at[1]!, this.offsetY),
      z: axis('Z', this.at[2]!, this.offsetZ),
    };
    const f = word('F');
    if (f !== undefined && f > 0) this.speed = (f * this.unit) / 60;
    const e = word('E');
    const pushed = e === undefined ? 0 : this.push_(e * this.unit);
    const from = { x: this.at[0]!, y: this.at[1]!, z: this.at[2]! };
    const points = arcPoints(from, to, clockwise, {
      i: word('I') === undefined ? undefined : word('I')! * this.unit,
      j: word('J') === undefined ? undefined : word('J')! * this.unit,
      r: word('R') === undefined ? undefined : word('R')! * this.unit,
    });
    if (!points) {
      this.count(`${clockwise ? 'G2' : 'G3'} (no centre)`);
      this.go(to.x, to.y, to.z, pushed);
      return;
    }
    for (const p of points) this.go(p.x, p.y, p.z, pushed / points.length);
  }

  private count(name: string): void {
    const key = name.slice(0, 40);
    if (this.unknown.has(key) || this.unknown.size < 200) this.unknown.set(key, (this.unknown.get(key) ?? 0) + 1);
  }
}

function ascii(b: Uint8Array, from: number, to: number): string {
  let text = '';
  for (let i = from; i < to; i++) text += String.fromCharCode(b[i]!);
  return text;
}

const toInteger = (text: string | undefined): number => {
  const n = Number(text);
  return Number.isInteger(n) && n >= -1 && n < 1e6 ? n : -1;
};

/** Reads whole bytes at once and hands each chunk on. */
export function readGcode(bytes: Uint8Array, sink: (chunk: Chunk) => void, options?: ReadOptions): ReadSummary {
  const reader = new GcodeReader(sink, options);
  reader.push(bytes);
  return reader.end();
}
