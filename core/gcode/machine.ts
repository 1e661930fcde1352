import { lineWidthOf } from '#core/settings';
import { roleNumber, type ChunkBuilder, type MachineState } from '#core/moves';
import { arcPoints } from './arc';
import { ascii, type Words } from './words';

export type Firmware = 'marlin' | 'klipper' | 'reprap';

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

/** What a line says without its number, comment and checksum: none of them changes what it does. */
const bare = (text: string): string =>
  text
    .replace(/;.*$/, '')
    .replace(/\*\s*\d+\s*$/, '')
    .replace(/^\s*N\s*\d+\s*/i, '')
    .trim();

/**
 * What the lines of a file do to a machine: modes, offsets, tools, heat, and the moves that come of it, handed to a
 * builder of chunks. Arcs become chords within 5 µm; what it does not know it passes over and counts.
 */
export class Machine {
  /** Where the nozzle is, machine x y z, mm, and the extruder’s own count, mm. */
  readonly at = new Float64Array(4);
  /** Where the move in hand goes, x y z, and what it pushes. */
  readonly to = new Float64Array(4);
  offsetX = 0;
  offsetY = 0;
  offsetZ = 0;
  unit = 1;
  absolute = true;
  absoluteE = true;
  speed = 25;
  /** The number of the line in hand, counted from 1. */
  line = 0;
  moves = 0;
  cell = -1;
  role = -1;
  /** The layer that the file says it is in: nozzle height and thickness, mm. */
  mark: { z: number; height: number } | undefined;
  readonly unknown = new Map<string, number>();
  private tool = 0;
  private readonly targets: number[] = [0];
  private layerZ = 0;
  private layerHeight = 0;
  private retractLength = 0;
  private retractSpeed = 35;
  private readonly filamentArea: number;

  /** @param diameter of the filament, mm */
  constructor(
    readonly builder: ChunkBuilder,
    private readonly words: Words,
    private readonly firmware: Firmware,
    diameter: number,
  ) {
    this.filamentArea = (Math.PI / 4) * diameter * diameter;
  }

  /** A move in a straight line, by the words of the line. */
  linear(): void {
    const { unit } = this;
    const { has, value, stamp } = this.words;
    let [x, y, z] = [this.at[0]!, this.at[1]!, this.at[2]!];
    if (has[88] === stamp) x = this.absolute ? value[88]! * unit + this.offsetX : x + value[88]! * unit;
    if (has[89] === stamp) y = this.absolute ? value[89]! * unit + this.offsetY : y + value[89]! * unit;
    if (has[90] === stamp) z = this.absolute ? value[90]! * unit + this.offsetZ : z + value[90]! * unit;
    if (has[70] === stamp && value[70]! > 0) this.speed = (value[70]! * unit) / 60;
    this.go(x, y, z, has[69] === stamp ? this.pushed(value[69]! * unit) : 0);
  }

  private pushed(word: number): number {
    const pushed = this.absoluteE ? word - this.at[3]! : word;
    this.at[3] = this.absoluteE ? word : this.at[3]! + word;
    return pushed;
  }

  private go(x: number, y: number, z: number, pushed: number): void {
    this.to.set([x, y, z, pushed]);
    this.step();
  }

  /** The move to `to`. Typed arrays, since figures handed over or kept in fields are boxed one by one. */
  step(): void {
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
    m.line[i] = this.line;
  }

  /**
   * A line that is no straight move.
   *
   * @param kind the letter it begins with, 0 where it is written in words
   */
  other(kind: number, code: number, b: Uint8Array, start: number, end: number, wordy: boolean): void {
    const build = this.builder;
    const { line } = this;
    const word = (letter: string) => this.words.get(letter);
    const text = () => bare(ascii(b, start, Math.min(end, start + 256)));
    if (wordy && kind === 0) {
      this.text(text(), line);
      return;
    }
    if (kind === 84) {
      this.changeTool(code, line);
      return;
    }
    const name = `${kind === 71 ? 'G' : 'M'}${code}`;
    // By its plain name, however its figure is written: `M 0302` is M302.
    const raw = () => build.command({ kind: 'raw', text: text().replace(/^[GM]\s*[\d.]+/i, name) }, line);
    switch (name) {
      case 'G0':
      case 'G1':
        raw();
        this.count(`${name} (unreadable)`);
        return;
      case 'G2':
      case 'G3':
        this.arc(code === 2);
        return;
      case 'G4':
        build.command({ kind: 'dwell', seconds: (word('P') ?? 0) / 1000 + (word('S') ?? 0) }, line);
        return;
      case 'G10':
        if (word('P') !== undefined && (word('S') !== undefined || word('R') !== undefined)) {
          if (word('S') !== undefined) this.heat(word('P')!, word('S')!, false, line);
          // What it asks for standby is left to the check.
          if (word('R') !== undefined) raw();
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
        if (!['X', 'Y', 'Z'].some((axis) => this.words.says(axis))) {
          this.at[0] = this.at[1] = this.at[2] = 0;
          this.offsetX = this.offsetY = this.offsetZ = 0;
          build.command({ kind: 'home' }, line);
        } else {
          if (this.words.says('X')) this.at[0] = this.offsetX = 0;
          if (this.words.says('Y')) this.at[1] = this.offsetY = 0;
          if (this.words.says('Z')) this.at[2] = this.offsetZ = 0;
          raw();
        }
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
        // Without an axis, every firmware calls the place that the head is in zero, on all of them.
        const all = ['X', 'Y', 'Z', 'E'].some((axis) => this.words.says(axis)) ? undefined : 0;
        const [x, y, z, e] = [word('X') ?? all, word('Y') ?? all, word('Z') ?? all, word('E') ?? all];
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
      const match = new RegExp(`\\b${key}\\s*=\\s*([-+]?[0-9.]+(?:e[-+]?[0-9]+)?)`, 'i').exec(text);
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

  private arc(clockwise: boolean): void {
    const word = (letter: string) => this.words.get(letter);
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
    const pushed = e === undefined ? 0 : this.pushed(e * this.unit);
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
