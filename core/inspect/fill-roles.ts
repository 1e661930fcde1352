import { nearLine } from '#core/factors';
import type { Role } from '#core/moves';
import { Coverage } from './coverage';
import { holding, isNear, within, joined, along, type Measured, type Box, type Loop, type Sample } from './loops';
import { boxIn, middleOf, boxOf, lengthOf, type Layer, type Path } from './layer-paths';
import type { Line } from './line';
import { gapsBeside } from './gaps';

/** What the fill of a layer is told by. */
interface FillSurroundings {
  roots: readonly Loop[];
  supports: readonly Loop[];
  cover: Coverage;
  first: boolean;
  above: Layer | undefined;
  /** No outline of the part here, but in the layers below and above: one of supports alone. */
  between: boolean;
}

/** Lines whose distance is below so many widths fill the plane. */
const SOLID = 1.45;

/** A bottom of more layers than this is taken for a solid inside. */
const THICKEST = 10;

/** Gives lines a role; `sure` where the signs are plain. */
export type Namer = (lines: readonly Line[], role: Role, sure: boolean) => void;

/** Tells infill, skins, bridges, supports and what is purged in lines, by how lines lie beside and over one another. */
export class FillRoles {
  /** What the layer below covers. */
  below = new Coverage();
  /** Where colours are purged in lines. */
  private purge: Box | undefined;

  constructor(private readonly name: Namer) {}

  /** Names what is laid within outlines, between them and in the air. */
  fill(paths: readonly Path[], on: FillSurroundings): void {
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

  private fillPath(path: Path, gaps: Float64Array, inside: boolean, { cover, first, above }: FillSurroundings): void {
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

const thin = (l: Line): boolean => l.width < 0.6 * l.height;

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
