import type { Laid } from '#core/factors';
import { roleNumber, type Chunk, type Role } from '#core/moves';
import { Coverage } from './coverage';
import { along, beside, holding, isNear, loopOf, nameLoops, nested, wallsFrom, within, type Loop } from './loops';

/** A line of a layer with where its role is to be written. */
interface Line extends Laid {
  chunk: Chunk;
  index: number;
}

interface Path {
  lines: Line[];
  /** The first that a tool lays after it came in hand. */
  afterChange: boolean;
  loop: Loop | undefined;
}

interface Layer {
  z: number;
  paths: Path[];
  roots: Loop[];
  /** Chunks that end within this layer. */
  done: Chunk[];
}

/** How many lines back and forth a neighbour is looked for. */
const LOOK = 8;
/** Lines whose distance is below so many widths fill the plane. */
const SOLID = 1.45;
/** A bottom of more layers than this is taken for a solid inside. */
const THICKEST = 10;
/** While a line climbs as it is laid, a layer is as much as this, mm. */
const CLIMB = 0.15;

/** Lengths recognised, mm of line: all, and those where the signs are plain. */
export interface Sureness {
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
  readonly sureness: Sureness = { length: 0, sure: 0 };
  private layers: Layer[] = [];
  private now: Layer | undefined;
  private path: Path | undefined;
  private x = 0;
  private y = 0;
  private z = 0;
  private number = 0;
  private changed = false;
  private below = new Coverage();
  private spare: Coverage | undefined;
  private readonly walls = new Map<number, number>();
  /** Where colours are purged, x0 y0 x1 y1. */
  private purge: [number, number, number, number] | undefined;

  /** @param sink gets the chunks, in order, with their roles */
  constructor(private readonly sink: (chunk: Chunk) => void) {}

  take(chunk: Chunk): void {
    const { moves, commands } = chunk;
    let next = 0;
    for (let i = 0; i < moves.n; i++) {
      while (next < commands.length && commands[next]!.before <= i)
        if (commands[next++]!.kind === 'tool') this.changed = true;
      const [x, y, z, e] = [moves.x[i]!, moves.y[i]!, moves.z[i]!, moves.e[i]!];
      const flat = Math.hypot(x - this.x, y - this.y);
      if (e > 0 && flat > 1e-6) this.line(chunk, i);
      else if (flat > 0.02 || e < 0) this.path = undefined;
      this.x = x;
      this.y = y;
      this.z = z;
    }
    while (next < commands.length) if (commands[next++]!.kind === 'tool') this.changed = true;
    if (this.now) this.now.done.push(chunk);
    else if (this.layers.length > 0) this.layers.at(-1)!.done.push(chunk);
    else this.sink(chunk);
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

  private line(chunk: Chunk, i: number): void {
    const { moves } = chunk;
    const z = moves.z[i]!;
    const climbs = Math.abs(z - this.z) > 1e-6 && this.path !== undefined;
    if (!this.now || (climbs ? z - this.now.z > CLIMB : Math.abs(z - this.now.z) > (this.path ? CLIMB : 0.02))) {
      if (this.now) this.close();
      this.now = { z, paths: [], roots: [], done: [] };
      this.path = undefined;
    }
    const begins = this.path === undefined;
    if (!this.path) {
      this.path = { lines: [], afterChange: this.changed, loop: undefined };
      this.changed = false;
      this.now.paths.push(this.path);
    }
    this.path.lines.push({
      x0: this.x,
      y0: this.y,
      x: moves.x[i]!,
      y: moves.y[i]!,
      z,
      height: moves.height[i]!,
      e: moves.e[i]!,
      width: moves.width[i]!,
      speed: moves.speed[i]!,
      role: 'other',
      layer: this.number,
      begins,
      chunk,
      index: i,
    });
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
    const first = this.below.empty;
    if (first && this.layers[0]) this.apart(layer, this.layers[0].roots);
    const left = layer.paths.filter((p) => p.lines[0]!.role === 'other');
    const loops = left.flatMap((p) => p.loop ?? []);
    for (const l of loops) [l.kids, l.parent, l.filled] = [[], undefined, false];
    const roots = nested(loops);
    const fills = left.filter((p) => !p.loop);
    for (const p of fills) {
      const { x, y } = middleOf(p);
      const home = holding(roots, x, y);
      if (home) home.filled = true;
    }
    const known = this.wallCount;
    if (!first) {
      for (const r of roots) {
        const n = Math.min(9, wallsFrom(r));
        // A long outline tells more than a small figure.
        const length = r.lines.reduce((sum, l) => sum + Math.hypot(l.x - l.x0, l.y - l.y0), 0);
        this.walls.set(n, (this.walls.get(n) ?? 0) + length);
      }
    }
    nameLoops(roots, known);
    for (const loop of loops) {
      if (loop.role === 'fill') fills.push({ lines: loop.lines as Line[], afterChange: false, loop });
      else this.name(loop.lines as Line[], loop.role, loop.lines.length > 0);
    }
    const cover = this.below.next(roots, this.spare);
    this.fill(fills, roots, cover, first);
    this.spare = this.below;
    this.below = cover;
    for (const chunk of layer.done) this.sink(chunk);
  }

  /** On the bed: what lies outside the outline of the layer above is a brim, a skirt or a line to prime. */
  private apart(layer: Layer, above: readonly Loop[]): void {
    if (above.length === 0) return;
    const out = (p: Path) => {
      const points = p.loop?.samples ?? [middleOf(p), { x: p.lines[0]!.x0, y: p.lines[0]!.y0 }];
      return points.every(
        (q) => !above.some((a) => within(a, q.x, q.y) || isNear(a, q.x, q.y, 0.6 * p.lines[0]!.width)),
      );
    };
    const outside = layer.paths.filter(out);
    const loops = layer.paths.flatMap((p) => p.loop ?? []);
    for (const p of outside) {
      const { loop } = p;
      if (!loop) this.name(p.lines, layer.paths.indexOf(p) === 0 ? 'prime' : 'support', false);
      else
        this.name(
          p.lines,
          loops.some((o) => o !== loop && (beside(loop, o) || beside(o, loop))) ? 'brim' : 'skirt',
          true,
        );
    }
  }

  private fill(paths: readonly Path[], roots: readonly Loop[], cover: Coverage, first: boolean): void {
    const lines = paths.flatMap((p) => p.lines);
    const gaps = gapsBeside(lines);
    let at = 0;
    for (const path of paths) {
      const own = gaps.slice(at, (at += path.lines.length));
      const { x, y } = middleOf(path);
      const inside = path.loop !== undefined || holding(roots, x, y) !== undefined;
      if (path.afterChange && !inside) this.purgesAt(path);
      if (!inside && this.purge && boxIn(path, this.purge)) {
        this.name(path.lines, 'purge', true);
        continue;
      }
      const single = !path.loop && this.single(path, own, roots, inside, first);
      if (single) this.name(path.lines, single, true);
      else this.fillPath(path, own, inside, cover, first);
    }
  }

  /** A line by itself: beside walls most of its way it fills a slim rest; alone in the air it is a slim wall. */
  private single(
    path: Path,
    gaps: readonly number[],
    roots: readonly Loop[],
    inside: boolean,
    first: boolean,
  ): Role | undefined {
    const { lines } = path;
    const alone = lines.filter((l, i) => gaps[i]! > 14 * l.width).length >= 0.6 * lines.length;
    if (!inside) return alone && !first ? 'outer-wall' : undefined;
    if (!alone) return undefined;
    const length = lines.reduce((sum, l) => sum + Math.hypot(l.x - l.x0, l.y - l.y0), 0);
    const some = along(lines, length, 12);
    const held = some.filter((p) => nearAny(roots, p.x, p.y, p.on)).length;
    return held >= 0.7 * some.length ? 'inner-wall' : undefined;
  }

  private fillPath(path: Path, gaps: readonly number[], inside: boolean, cover: Coverage, first: boolean): void {
    const { lines } = path;
    let before: Role | undefined;
    const roles = lines.map((l, i): [Role, boolean] => {
      const gap = path.loop ? l.width : gaps[i]!;
      const short = Math.hypot(l.x - l.x0, l.y - l.y0) < 2.5 * l.width;
      // A joint from line to line is what its line is.
      if (gap === Infinity && short && before) return [before, true];
      const solid = gap < SOLID * l.width;
      const role = inside
        ? solid
          ? gap < 0.7 * l.width || thin(l)
            ? 'ironing'
            : this.skin(l, cover, first)
          : 'infill'
        : solid && !first
          ? 'support-interface'
          : 'support';
      before = role;
      return [role, gap < Infinity || path.loop !== undefined];
    });
    roles.forEach(([role, sure], i) => this.name([lines[i]!], role, sure));
  }

  private skin(l: Line, cover: Coverage, first: boolean): Role {
    const [x, y] = [(l.x + l.x0) / 2, (l.y + l.y0) / 2];
    const run = first ? 0 : this.below.bottomAt(x, y);
    if (first || run === 0) {
      cover.bottom(l, 1);
      return first ? 'bottom-skin' : 'bridge';
    }
    if (run < THICKEST) {
      cover.bottom(l, run + 1);
      return run >= THICKEST - 1 ? 'infill' : 'bottom-skin';
    }
    return 'top-skin';
  }

  private purgesAt(path: Path): void {
    const box = boxOf(path);
    this.purge = this.purge
      ? [
          Math.min(this.purge[0], box[0]),
          Math.min(this.purge[1], box[1]),
          Math.max(this.purge[2], box[2]),
          Math.max(this.purge[3], box[3]),
        ]
      : box;
  }

  private name(lines: readonly Line[], role: Role, sure: boolean): void {
    for (const l of lines) {
      l.role = role;
      l.chunk.moves.role[l.index] = roleNumber[role];
      const length = Math.hypot(l.x - l.x0, l.y - l.y0);
      this.sureness.length += length;
      if (sure) this.sureness.sure += length;
    }
  }
}

const thin = (l: Laid): boolean => l.width < 0.6 * l.height;

/** For each line the distance to the nearest that runs beside it among those laid shortly before and after. */
function gapsBeside(lines: readonly Laid[]): number[] {
  const lengths = lines.map((l) => Math.sqrt((l.x - l.x0) ** 2 + (l.y - l.y0) ** 2));
  return lines.map((l, i) => {
    const length = lengths[i]!;
    const [ux, uy] = [(l.x - l.x0) / length, (l.y - l.y0) / length];
    let best = Infinity;
    for (let k = Math.max(0, i - LOOK); k <= Math.min(lines.length - 1, i + LOOK); k++) {
      const o = lines[k]!;
      if (k === i) continue;
      const other = lengths[k]!;
      // Within about 4° of one direction, beside one another for a part of the way.
      if (Math.abs((ux * (o.y - o.y0) - uy * (o.x - o.x0)) / other) > 0.07) continue;
      const from = ux * (o.x0 - l.x0) + uy * (o.y0 - l.y0);
      const to = ux * (o.x - l.x0) + uy * (o.y - l.y0);
      const shared = Math.min(length, Math.max(from, to)) - Math.max(0, Math.min(from, to));
      const far = Math.abs(ux * ((o.y + o.y0) / 2 - (l.y + l.y0) / 2) - uy * ((o.x + o.x0) / 2 - (l.x + l.x0) / 2));
      if (shared > 0.3 * Math.min(length, other) && far > 0.05 && far < best) best = far;
    }
    return best;
  });
}

/** A path that closes on itself and goes on is cut there: the loop, and what follows it. */
function splitAtLoops(path: Path): Path[] {
  const { lines } = path;
  const first = lines[0]!;
  let length = 0;
  for (let i = 0; i < lines.length - 1; i++) {
    const l = lines[i]!;
    length += Math.hypot(l.x - l.x0, l.y - l.y0);
    if (i > 1 && length > 6 * l.width && Math.hypot(l.x - first.x0, l.y - first.y0) < 0.02) {
      const rest = { lines: lines.slice(i + 1), afterChange: false, loop: undefined };
      return [{ ...path, lines: lines.slice(0, i + 1) }, ...splitAtLoops(rest)];
    }
  }
  return [path];
}

function middleOf({ lines }: Path): { x: number; y: number } {
  const l = lines.reduce((a, b) => (Math.hypot(b.x - b.x0, b.y - b.y0) > Math.hypot(a.x - a.x0, a.y - a.y0) ? b : a));
  return { x: (l.x + l.x0) / 2, y: (l.y + l.y0) / 2 };
}

function boxOf({ lines }: Path): [number, number, number, number] {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const l of lines) {
    box[0] = Math.min(box[0], l.x, l.x0);
    box[1] = Math.min(box[1], l.y, l.y0);
    box[2] = Math.max(box[2], l.x, l.x0);
    box[3] = Math.max(box[3], l.y, l.y0);
  }
  return box;
}

function boxIn(path: Path, into: readonly [number, number, number, number]): boolean {
  const b = boxOf(path);
  return b[0] > into[0] - 1 && b[1] > into[1] - 1 && b[2] < into[2] + 1 && b[3] < into[3] + 1;
}

/** Whether a line runs beside one of the loops at a point of it. */
const nearAny = (loops: readonly Loop[], x: number, y: number, l: Laid): boolean =>
  loops.some((o) => {
    const far = 0.9 * (l.width + o.width);
    if (x < o.box[0] - far || y < o.box[1] - far || x > o.box[2] + far || y > o.box[3] + far) return false;
    return isNear(o, x, y, far, l) || nearAny(o.kids, x, y, l);
  });
