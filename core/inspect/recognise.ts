import { roleNumber, type Chunk, type Command, type Role } from '#core/moves';
import type { Coverage } from './coverage';
import { nested, nameLoops, wallsFrom, loopOf, type Box } from './loops';
import { Stands } from './stands';
import { towerIn } from './tower';
import { boxIn, rootOf, splitAtLoops, outlinesOf, laidIn, lengthOf, type Layer, type Path } from './layer-paths';
import { Lines, type Line } from './line';
import { FillRoles } from './fill-roles';
import { bedRoles } from './bed-roles';

/** While a line climbs as it is laid, a layer is as much as this, mm. */
const CLIMB = 0.15;

/** Lengths recognised, mm of line: all, and those where the signs are plain. */
export interface Confidence {
  length: number;
  sure: number;
}

/**
 * Gives the lines of a file their roles from geometry alone: closed loops and how they nest, how far lines lie apart,
 * what lies beneath. A layer is named once the one above it is known.
 *
 * Source: our own; measured in `recognise.test.ts` against files whose roles are known.
 */
export class Recogniser {
  readonly confidence: Confidence = { length: 0, sure: 0 };
  /** The same of each role that was given. */
  readonly confidenceOf = new Map<Role, Confidence>();
  private layers: Layer[] = [];
  private now: Layer | undefined;
  private path: Path | undefined;
  private readonly lines = new Lines();
  private x = 0;
  private y = 0;
  private z = 0;
  private number = 0;
  /** The tool that has come in hand and has laid nothing yet. */
  private changed: number | undefined;
  /** The height of what lies on the bed. */
  private bed = Infinity;
  private readonly stands = new Stands();
  /** Whether the layer below has an outline of the part. */
  private outlined = false;
  private readonly fills = new FillRoles((lines, role, sure) => this.name(lines, role, sure));
  private spare: Coverage | undefined;
  private readonly walls = new Map<number, number>();
  /** Where colours are purged on a tower with walls of its own. */
  private tower: Box | undefined;

  /** @param sink gets the chunks, in order, with their roles */
  constructor(private readonly sink: (chunk: Chunk) => void) {}

  take(chunk: Chunk): void {
    const { moves, commands } = chunk;
    let next = 0;
    for (let i = 0; i < moves.n; i++) {
      while (next < commands.length && commands[next]!.before <= i) this.command(commands[next++]!);
      const x = moves.x[i]!;
      const y = moves.y[i]!;
      const z = moves.z[i]!;
      const e = moves.e[i]!;
      const flat = Math.sqrt((x - this.x) ** 2 + (y - this.y) ** 2);
      if (e > 0 && flat > 1e-6) this.line(chunk, i, flat);
      else if (flat > 0.02 || e < 0) this.path = undefined;
      this.x = x;
      this.y = y;
      this.z = z;
    }
    while (next < commands.length) this.command(commands[next++]!);
    if (this.now) this.now.done.push(chunk);
    else if (this.layers.length > 0) this.layers.at(-1)!.done.push(chunk);
    else this.sink(chunk);
  }

  private command(c: Command): void {
    // The tool that begins the print changes nothing.
    if (c.kind === 'tool' && (this.now || this.number > 0)) this.changed = c.to;
  }

  /** Names what is left and hands it on. */
  end(): void {
    if (this.now) this.close();
    while (this.layers.length > 0) this.resolve();
  }

  /** The number of walls that most outlines have. */
  get wallCount(): number {
    return [...this.walls].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 2;
  }

  private line(chunk: Chunk, i: number, length: number): void {
    const { moves } = chunk;
    const z = moves.z[i]!;
    const climbs = Math.abs(z - this.z) > 1e-6 && this.path !== undefined;
    if (!this.now || (climbs ? z - this.now.z > CLIMB : Math.abs(z - this.now.z) > (this.path ? CLIMB : 0.02))) {
      if (this.now) this.close();
      this.now = { z, paths: [], roots: [], done: [] };
      this.path = undefined;
    }
    if (!this.path) {
      this.path = { lines: [], change: this.changed, loop: undefined };
      this.changed = undefined;
      this.now.paths.push(this.path);
    }
    this.path.lines.push(this.lines.add(this.x, this.y, length, chunk, i));
  }

  private close(): void {
    const layer = this.now!;
    this.now = undefined;
    this.path = undefined;
    this.number++;
    layer.paths = layer.paths.flatMap(splitAtLoops);
    for (const p of layer.paths) p.loop = loopOf(p.lines);
    layer.roots = nested(layer.paths.flatMap((p) => p.loop ?? []));
    this.layers.push(layer);
    if (this.layers.length > 1) this.resolve();
  }

  private resolve(): void {
    const layer = this.layers.shift()!;
    if (this.fills.below.empty) this.bed = layer.z;
    // Objects printed one after the other begin on the bed each.
    const first = layer.z < this.bed + 0.02;
    const above = this.layers[0] && this.layers[0].z > layer.z ? this.layers[0] : undefined;
    const higher = first ? outlinesOf(above) : undefined;
    if (first) for (const b of bedRoles(layer, above)) this.name(b.path.lines, b.role, b.sure);
    this.tower ??= towerIn([layer, ...this.layers.slice(0, 1)]);
    if (this.tower)
      for (const p of layer.paths)
        if (p.lines[0]!.role === 'other' && boxIn(p, this.tower)) this.name(p.lines, 'purge', true);
    const left = layer.paths.filter((p) => p.lines[0]!.role === 'other');
    const loops = left.flatMap((p) => p.loop ?? []);
    const all = left.length === layer.paths.length ? layer.roots : nested(loops);
    const open = left.filter((p) => !p.loop);
    const fill = laidIn(open, all);
    const supports = higher ? this.stands.onBed({ roots: all, fill }, higher) : this.stands.next({ roots: all, fill });
    const roots = supports.length > 0 ? all.filter((r) => !supports.includes(r)) : all;
    const known = this.wallCount;
    if (!first) {
      for (const r of roots) {
        const n = Math.min(9, wallsFrom(r));
        // A long outline tells more than a small figure.
        const length = lengthOf(r.lines);
        this.walls.set(n, (this.walls.get(n) ?? 0) + length);
      }
    }
    nameLoops(roots, known);
    for (const loop of loops) {
      if (supports.length > 0 && supports.includes(rootOf(loop))) this.name(loop.lines as Line[], 'support', true);
      else if (loop.role === 'fill') open.push({ lines: loop.lines as Line[], change: undefined, loop });
      else if (loop.role === 'ring') this.name(loop.lines as Line[], 'infill', loop.plain === true);
      else this.name(loop.lines as Line[], loop.role, loop.lines.length > 0);
    }
    const cover = this.fills.below.next(roots, this.spare);
    const between = roots.length === 0 && this.outlined && (above?.roots.length ?? 0) > 0;
    this.fills.fill(open, { roots, supports, cover, first, above, between });
    this.outlined = roots.length > 0;
    this.spare = this.fills.below;
    this.fills.below = cover;
    for (const chunk of layer.done) this.sink(chunk);
  }

  private name(lines: readonly Line[], role: Role, sure: boolean): void {
    let own = this.confidenceOf.get(role);
    if (!own) this.confidenceOf.set(role, (own = { length: 0, sure: 0 }));
    const number = roleNumber[role];
    for (const l of lines) {
      l.role = role;
      l.chunk.moves.role[l.index] = number;
      own.length += l.length;
      this.confidence.length += l.length;
      if (!sure) continue;
      own.sure += l.length;
      this.confidence.sure += l.length;
    }
  }
}
