import { nearLine, type Laid } from '#core/factors';
import { roleNumber, type Chunk, type Command, type Role } from '#core/moves';
import { Coverage } from './coverage';
import {
  along,
  beside,
  holding,
  isNear,
  joined,
  loopOf,
  nameLoops,
  nested,
  wallsFrom,
  within,
  type Box,
  type Loop,
  type Measured,
  type Sample,
} from './loops';
import { Stands, type Fill, type Outlines } from './stands';
import { towerIn, type Run } from './tower';

/** A line of a layer with where its role is to be written. */
interface Line extends Measured {
  chunk: Chunk;
  index: number;
}

interface Path extends Run {
  lines: Line[];
}

/** What the fill of a layer is told by. */
interface Ground {
  roots: readonly Loop[];
  supports: readonly Loop[];
  cover: Coverage;
  first: boolean;
  above: Layer | undefined;
  /** No outline of the part here, but in the layers below and above: one of supports alone. */
  between: boolean;
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
  /** The same of each role that was given. */
  readonly surenessOf = new Map<Role, Sureness>();
  private layers: Layer[] = [];
  private now: Layer | undefined;
  private path: Path | undefined;
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
  private below = new Coverage();
  private spare: Coverage | undefined;
  private readonly walls = new Map<number, number>();
  /** Where colours are purged in lines, and on a tower with walls of its own. */
  private purge: Box | undefined;
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
    const begins = this.path === undefined;
    if (!this.path) {
      this.path = { lines: [], change: this.changed, loop: undefined };
      this.changed = undefined;
      this.now.paths.push(this.path);
    }
    this.path.lines.push({
      x0: this.x,
      y0: this.y,
      x: moves.x[i]!,
      y: moves.y[i]!,
      length,
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
    if (this.below.empty) this.bed = layer.z;
    // Objects printed one after the other begin on the bed each.
    const first = layer.z < this.bed + 0.02;
    const above = this.layers[0] && this.layers[0].z > layer.z ? this.layers[0] : undefined;
    const higher = first ? outlinesOf(above) : undefined;
    if (first) this.apart(layer, above);
    this.tower ??= towerIn([layer, ...this.layers.slice(0, 1)]);
    if (this.tower)
      for (const p of layer.paths)
        if (p.lines[0]!.role === 'other' && boxIn(p, this.tower)) this.name(p.lines, 'purge', true);
    const left = layer.paths.filter((p) => p.lines[0]!.role === 'other');
    const loops = left.flatMap((p) => p.loop ?? []);
    const all = left.length === layer.paths.length ? layer.roots : nested(loops);
    const fills = left.filter((p) => !p.loop);
    const fill = laidIn(fills, all);
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
      else if (loop.role === 'fill') fills.push({ lines: loop.lines as Line[], change: undefined, loop });
      else if (loop.role === 'ring') this.name(loop.lines as Line[], 'infill', loop.plain === true);
      else this.name(loop.lines as Line[], loop.role, loop.lines.length > 0);
    }
    const cover = this.below.next(roots, this.spare);
    const between = roots.length === 0 && this.outlined && (above?.roots.length ?? 0) > 0;
    this.fill(fills, { roots, supports, cover, first, above, between });
    this.outlined = roots.length > 0;
    this.spare = this.below;
    this.below = cover;
    for (const chunk of layer.done) this.sink(chunk);
  }

  /** On the bed: what lies outside the outline of the layer above is a brim, a skirt or a line to prime. */
  private apart(layer: Layer, above: Layer | undefined): void {
    if (!above || above.roots.length === 0) return;
    const { roots } = above;
    const loops = layer.paths.flatMap((p) => p.loop ?? []);
    const hollow = new Set(hollowIn(above));
    const out = ({ loop, lines }: Path) => {
      const points = loop?.samples ?? [middleOf({ lines }), { x: lines[0]!.x0, y: lines[0]!.y0 }];
      const far = 0.6 * lines[0]!.width;
      return points.every((q) => {
        const held = holding(roots, q.x, q.y);
        if (held && !(loop && hollow.has(held))) return false;
        return !roots.some((a) => isNear(a, q.x, q.y, far) || a.kids.some((k) => isNear(k, q.x, q.y, far)));
      });
    };
    for (const p of layer.paths.filter(out)) {
      const { loop } = p;
      if (loop) {
        const many = loops.some((o) => o !== loop && (beside(loop, o) || beside(o, loop)));
        this.name(p.lines, many ? 'brim' : 'skirt', true);
      } else if (p === layer.paths[0]) this.name(p.lines, 'prime', false);
    }
  }

  private fill(paths: readonly Path[], on: Ground): void {
    const { roots, supports, first, between } = on;
    const lines: Line[] = [];
    for (const p of paths) for (const l of p.lines) lines.push(l);
    const gaps = gapsBeside(lines);
    let at = 0;
    for (const path of paths) {
      const own = gaps.subarray(at, (at += path.lines.length));
      const { x, y } = middleOf(path);
      const inside = path.loop !== undefined || holding(roots, x, y) !== undefined;
      if (path.change !== undefined && !inside) this.purgesAt(path);
      if (!inside && this.purge && boxIn(path, this.purge)) {
        this.name(path.lines, 'purge', true);
        continue;
      }
      const held = !inside && (between || supports.some((s) => within(s, x, y)));
      const single = !path.loop && !held && this.single(path, own, roots, inside, first);
      if (single) this.name(path.lines, single, true);
      else this.fillPath(path, own, inside, on);
    }
  }

  /** A line by itself: beside walls most of its way it fills a slim rest; alone in the air it is a slim wall. */
  private single(
    path: Path,
    gaps: Float64Array,
    roots: readonly Loop[],
    inside: boolean,
    first: boolean,
  ): Role | undefined {
    const { lines } = path;
    const alone = lines.filter((l, i) => gaps[i]! > 14 * l.width).length >= 0.6 * lines.length;
    if (!alone || (!inside && (first || zigzag(lines)))) return undefined;
    const some = along(lines, lengthOf(lines), 12);
    // What a support stood under is one more line of it.
    if (!inside) return some.some((p) => this.below.supportAt(p.x, p.y)) ? 'support' : 'outer-wall';
    return some.filter((p) => betweenWalls(roots, p)).length >= 0.7 * some.length ? 'inner-wall' : undefined;
  }

  private fillPath(path: Path, gaps: Float64Array, inside: boolean, { cover, first, above }: Ground): void {
    const { lines } = path;
    let before: Role | undefined;
    const roles = lines.map((l, i): [Role, boolean] => {
      const gap = path.loop ? l.width : gaps[i]!;
      const short = l.length < 2.5 * l.width;
      const solid = gap < SOLID * l.width;
      // A joint from line to line is what its line is.
      if (short && before && (gap === Infinity || (!solid && joins(lines, i)))) return [before, true];
      const on = (): number => this.below.bottomAt((l.x + l.x0) / 2, (l.y + l.y0) / 2);
      let role: Role;
      if (inside) role = thin(l) && gap < l.height ? 'ironing' : solid ? this.skin(l, cover, first) : 'infill';
      // Without walls round it a patch on the bed is a skin all the same, and so is what goes on over it.
      else if (solid && (first || (on() > 0 && on() < THICKEST))) role = this.skin(l, cover, first);
      else if (solid) role = 'support-interface';
      else role = first && !(above && runsOver(above, l)) ? 'other' : 'support';
      before = role;
      return [role, path.loop ? path.loop.plain !== false : gap < Infinity];
    });
    roles.forEach(([role, sure], i) => this.name([lines[i]!], role, sure));
    for (const l of lines) if (/^support/.test(l.role)) cover.support(l);
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
    this.purge = this.purge ? joined(this.purge, box) : box;
  }

  private name(lines: readonly Line[], role: Role, sure: boolean): void {
    let own = this.surenessOf.get(role);
    if (!own) this.surenessOf.set(role, (own = { length: 0, sure: 0 }));
    for (const l of lines) {
      l.role = role;
      l.chunk.moves.role[l.index] = roleNumber[role];
      own.length += l.length;
      this.sureness.length += l.length;
      if (!sure) continue;
      own.sure += l.length;
      this.sureness.sure += l.length;
    }
  }
}

function rootOf(loop: Loop): Loop {
  let root = loop;
  while (root.parent) root = root.parent;
  return root;
}

/** What open paths lay within each outline; marks the loops that hold them. */
function laidIn(paths: readonly Path[], roots: readonly Loop[]): Map<Loop, Fill> {
  const laid = new Map<Loop, Fill>();
  for (const p of paths) {
    const { x, y } = middleOf(p);
    const home = holding(roots, x, y);
    if (!home) continue;
    home.filled = true;
    const root = rootOf(home);
    let own = laid.get(root);
    if (!own) laid.set(root, (own = { area: 0, slowest: Infinity, fastest: 0 }));
    for (const l of p.lines) {
      own.area += l.length * l.width;
      own.slowest = Math.min(own.slowest, l.speed);
      own.fastest = Math.max(own.fastest, l.speed);
    }
  }
  return laid;
}

const outlinesOf = (layer: Layer | undefined): Outlines =>
  layer
    ? {
        roots: layer.roots,
        fill: laidIn(
          layer.paths.filter((p) => !p.loop),
          layer.roots,
        ),
      }
    : { roots: [], fill: new Map() };

/** Loops of a layer within which nothing is laid, though there is room. */
function hollowIn({ paths }: Layer): Loop[] {
  return paths.flatMap(({ loop }) =>
    loop && loop.kids.length === 0 && !loop.filled && loop.area > 100 * loop.width ** 2 ? [loop] : [],
  );
}

/** Whether a path of many short lines turns sharply, beyond 40°, at half of its corners: no wall does. */
function zigzag(lines: readonly Measured[]): boolean {
  let sharp = 0;
  for (let i = 1; i < lines.length; i++) {
    const [a, b] = [lines[i - 1]!, lines[i]!];
    const dot = (a.x - a.x0) * (b.x - b.x0) + (a.y - a.y0) * (b.y - b.y0);
    if (dot < 0.766 * a.length * b.length) sharp++;
  }
  return lines.length > 5 && sharp >= 0.5 * (lines.length - 1) && lines.every((l) => l.length < 4 * l.width);
}

/** Whether a line is much shorter than one it joins. */
const joins = (lines: readonly Measured[], i: number): boolean =>
  lines[i]!.length < 0.75 * Math.max(lines[i - 1]?.length ?? 0, lines[i + 1]?.length ?? 0);

/** Whether anything is laid over a line, within a line’s reach of its middle. */
function runsOver(above: Layer, l: Measured): boolean {
  const [x, y, far] = [(l.x + l.x0) / 2, (l.y + l.y0) / 2, 2 * l.width];
  return above.paths.some(({ lines }) => lines.some((o) => nearLine(o, x, y) < far));
}

const thin = (l: Laid): boolean => l.width < 0.6 * l.height;

const lengthOf = (lines: readonly Measured[]): number => lines.reduce((sum, l) => sum + l.length, 0);

/** For each line the distance to the nearest that runs beside it among those laid shortly before and after. */
function gapsBeside(lines: readonly Measured[]): Float64Array {
  const n = lines.length;
  // Figures side by side: each line is looked at sixteen times.
  const [x0, y0, dx, dy] = Array.from({ length: 4 }, () => new Float64Array(n)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const long = new Float64Array(n);
  lines.forEach((l, i) => {
    [x0[i], y0[i], long[i]] = [l.x0, l.y0, l.length];
    [dx[i], dy[i]] = [(l.x - l.x0) / l.length, (l.y - l.y0) / l.length];
  });
  const gaps = new Float64Array(n).fill(Infinity);
  for (let i = 0; i < n; i++) {
    const [ux, uy, length] = [dx[i]!, dy[i]!, long[i]!];
    for (let k = Math.max(0, i - LOOK); k <= Math.min(n - 1, i + LOOK); k++) {
      if (k === i) continue;
      // Within about 4° of one direction, beside one another for a part of the way.
      if (Math.abs(ux * dy[k]! - uy * dx[k]!) > 0.07) continue;
      const other = long[k]!;
      const [ox, oy] = [x0[k]! - x0[i]!, y0[k]! - y0[i]!];
      const from = ux * ox + uy * oy;
      const to = from + other * (ux * dx[k]! + uy * dy[k]!);
      const shared = Math.min(length, Math.max(from, to)) - Math.max(0, Math.min(from, to));
      if (shared <= 0.3 * Math.min(length, other)) continue;
      // Between the middles of both.
      const far = Math.abs(
        ux * (oy + (other * dy[k]! - length * uy) / 2) - uy * (ox + (other * dx[k]! - length * ux) / 2),
      );
      if (far > 0.05 && far < gaps[i]!) gaps[i] = far;
    }
  }
  return gaps;
}

/** A path that closes on itself and goes on is cut there: the loop, and what follows it. */
function splitAtLoops(path: Path): Path[] {
  const { lines } = path;
  const parts: Path[] = [];
  let from = 0;
  let length = 0;
  for (let i = 0; i < lines.length - 1; i++) {
    const l = lines[i]!;
    const first = lines[from]!;
    length += l.length;
    if (i > from + 1 && Math.abs(l.x - first.x0) < 0.02 && length > 6 * l.width && near(l, first)) {
      parts.push({ ...path, change: from === 0 ? path.change : undefined, lines: lines.slice(from, i + 1) });
      from = i + 1;
      length = 0;
    }
  }
  if (from === 0) return [path];
  return [...parts, { lines: lines.slice(from), change: undefined, loop: undefined }];
}

const near = (end: Laid, start: Laid): boolean => Math.hypot(end.x - start.x0, end.y - start.y0) < 0.02;

function middleOf({ lines }: Pick<Path, 'lines'>): { x: number; y: number } {
  const l = lines.reduce((a, b) => (b.length > a.length ? b : a));
  return { x: (l.x + l.x0) / 2, y: (l.y + l.y0) / 2 };
}

function boxOf({ lines }: Path): Box {
  const box: Box = [Infinity, Infinity, -Infinity, -Infinity];
  for (const l of lines) {
    box[0] = Math.min(box[0], l.x, l.x0);
    box[1] = Math.min(box[1], l.y, l.y0);
    box[2] = Math.max(box[2], l.x, l.x0);
    box[3] = Math.max(box[3], l.y, l.y0);
  }
  return box;
}

function boxIn(path: Path, into: Box): boolean {
  const b = boxOf(path);
  return b[0] > into[0] - 1 && b[1] > into[1] - 1 && b[2] < into[2] + 1 && b[3] < into[3] + 1;
}

/** Whether walls run beside a line on both sides at a point of it. */
function betweenWalls(roots: readonly Loop[], { x, y, on: l }: Sample): boolean {
  const [ax, ay] = [(-(l.y - l.y0) / l.length) * 0.5 * l.width, ((l.x - l.x0) / l.length) * 0.5 * l.width];
  return nearAny(roots, x + ax, y + ay, l) && nearAny(roots, x - ax, y - ay, l);
}

/** Whether a loop runs at half its width, or a little more, beside a point, about in the direction of a line. */
const nearAny = (loops: readonly Loop[], x: number, y: number, l: Measured): boolean =>
  loops.some((o) => {
    const far = 0.5 * o.width + 0.3 * l.width;
    if (x < o.box[0] - far || y < o.box[1] - far || x > o.box[2] + far || y > o.box[3] + far) return false;
    return isNear(o, x, y, far, l) || nearAny(o.kids, x, y, l);
  });
