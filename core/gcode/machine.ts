import {
  dialects,
  understood,
  type Declared,
  type Firmware,
  type Meaning,
  type Now,
  type Spoken,
} from '#core/firmware';
import { lineWidthOf } from '#core/settings';
import { Layering, roleNumber, type ChunkBuilder } from '#core/moves';
import { arcPoints } from './arc';
import type { Words } from './words';

/**
 * What the lines of a file do to a machine: modes, offsets, tools, heat, and the moves that come of it, handed to a
 * builder of chunks. Arcs become chords within 5 µm; what no entry of the table knows is passed over and counted.
 */
export class Machine implements Now {
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
  /** Macros of which it was said what they do, by how often they are called. */
  readonly called = new Map<string, number>();
  readonly dialect;
  tool = 0;
  private readonly targets = new Map<number, number>();
  private readonly advances = new Map<number, number>();
  private readonly layering = new Layering();
  /** How the firmware draws back, as far as the file has said it, and the tools that it has drawn back. */
  private readonly drawing = { length: 0, speed: 35, extra: 0, lift: 0 };
  private readonly drawn = new Set<number>();
  private readonly filamentArea: number;

  /** @param diameter of the filament, mm */
  constructor(
    readonly builder: ChunkBuilder,
    private readonly words: Words,
    firmware: Firmware,
    diameter: number,
    readonly macros: readonly Declared[] = [],
    drawing?: { length: number; speed: number },
  ) {
    Object.assign(this.drawing, drawing);
    this.dialect = dialects[firmware];
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
      this.layering.begins(z, dz);
      // Within a layer some lines may lie a little above or below its height.
      height = this.mark ? this.mark.height + z - this.mark.z : this.layering.height;
      if (!(height > 0)) height = this.layering.height;
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

  targetOf(tool: number): number {
    return this.targets.get(tool) ?? 0;
  }

  heated(): readonly number[] {
    return [...this.targets.keys()];
  }

  /** A line that is no straight move. */
  other(line: Spoken): void {
    for (const meaning of understood(line, this)) this.act(meaning, line);
  }

  private act(a: Meaning, spoken: Spoken): void {
    const { builder, line } = this;
    switch (a.kind) {
      case 'move':
        if (a.arc) this.arc(a.arc === 'clockwise');
        else this.pass(`${spoken.name} (unreadable)`, spoken.text);
        return;
      case 'unknown':
        this.pass(a.name, a.text);
        return;
      case 'macro':
        this.called.set(a.name, (this.called.get(a.name) ?? 0) + 1);
        break;
      case 'heat':
        if (a.tool >= 0 && a.tool < 64) this.targets.set(a.tool, a.target);
        break;
      case 'advance':
        this.advances.set(a.tool, a.value);
        break;
      case 'mode':
        if (a.what === 'units') this.unit = a.value === 'inch' ? 25.4 : 1;
        else if (a.what === 'extrusion') this.absoluteE = a.value === 'absolute';
        else {
          this.absolute = a.value === 'absolute';
          if (this.dialect.axesRuleE) this.absoluteE = this.absolute;
        }
        break;
      case 'home':
        for (const axis of a.axes ?? 'xyz') {
          this.at[axis.charCodeAt(0) - 120] = 0;
          if (axis === 'x') this.offsetX = 0;
          else if (axis === 'y') this.offsetY = 0;
          else this.offsetZ = 0;
        }
        break;
      case 'position':
        if (a.axes.x !== undefined) this.offsetX = this.at[0]! - a.axes.x;
        if (a.axes.y !== undefined) this.offsetY = this.at[1]! - a.axes.y;
        if (a.axes.z !== undefined) this.offsetZ = this.at[2]! - a.axes.z;
        if (a.axes.e !== undefined) this.at[3] = a.axes.e;
        break;
      case 'tool':
        this.tool = a.to;
        builder.command(a, line);
        builder.assume({
          ...builder.state,
          nozzle: this.targetOf(a.to),
          advance: this.advances.get(a.to) ?? builder.state.advance,
        });
        return;
      case 'drawing':
        for (const key of ['length', 'speed', 'extra', 'lift'] as const)
          this.drawing[key] = a[key] ?? this.drawing[key];
        break;
      case 'draw':
        // A second one in the same way does nothing.
        if (a.back === this.drawn.has(this.tool)) return;
        if (a.back) this.drawn.add(this.tool);
        else this.drawn.delete(this.tool);
        if (this.drawing.length > 0) {
          this.firmwareRetract(a.back);
          return;
        }
    }
    builder.command(a, line);
  }

  /** Draws back or pushes forward by what the firmware keeps; it stays lifted in between. */
  private firmwareRetract(back: boolean): void {
    const { length, speed, extra, lift } = this.drawing;
    const keep = this.speed;
    const rise = back ? lift : -lift;
    const [x, y, z] = [this.at[0]!, this.at[1]!, this.at[2]!];
    const pushed = (back ? -length : length + extra) / this.builder.state.flowShare;
    if (!back && lift !== 0) this.go(x, y, z + rise, 0);
    this.speed = speed;
    this.go(x, y, this.at[2]!, pushed);
    this.speed = keep;
    if (back && lift !== 0) this.go(x, y, z + rise, 0);
    this.offsetZ += rise;
  }

  private pass(name: string, text: string): void {
    const key = name.slice(0, 40);
    this.builder.command({ kind: 'unknown', name: key, text }, this.line);
    this.count(key);
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

  private count(key: string): void {
    if (this.unknown.has(key) || this.unknown.size < 200) this.unknown.set(key, (this.unknown.get(key) ?? 0) + 1);
  }
}
