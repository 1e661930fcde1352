import { beside, fastest, within, type Loop } from './loops';

/** A part lies on the bed with at least so much of its outline laid full; a lattice with a wall round it is below that. */
const FULL = 0.8;
const LATTICE = 0.6;
/** Two walls by themselves leave at least so many squares of a line’s width free within. */
const FREE = 2;

/** Speeds this near one another are one, and beyond the other share they are two. */
const ONE = 0.02;
const TWO = 0.08;

/** What is laid within an outline by lines that are no loops: mm², and the lowest and highest speed, mm/s. */
export interface Fill {
  area: number;
  slowest: number;
  fastest: number;
}

/** The outlines of a layer, and what fills them. */
export interface Outlines {
  roots: readonly Loop[];
  fill: ReadonlyMap<Loop, Fill>;
}

/**
 * Follows supports that are laid in closed lines, layer by layer: columns, and lattices with a wall around. On the bed
 * they stand hollow or in lattice where parts have a solid bottom; anywhere their rings are laid at one speed where the
 * walls of parts have two; higher up they are what rests on them and on no part.
 */
export class Stands {
  private supports: Loop[] = [];
  private parts: Loop[] = [];

  /** The supports among the outlines of a layer on the bed. */
  onBed(on: Outlines, above: Outlines): Loop[] {
    const slim = atOneSpeed(above);
    const full = on.roots.some((r) => on.fill.has(r) && shareOf(r, on) >= FULL);
    return this.split(on.roots, (r) => {
      if (slim.some((s) => meet(s, r))) return true;
      if (!full || shareOf(r, on) > 0.9 || !above.roots.some((a) => meet(a, r))) return false;
      return on.fill.has(r) ? shareOf(r, on) < LATTICE && !holdsOther(r) : outline(r) - laid(r) > FREE * r.width ** 2;
    });
  }

  /** The supports among the outlines one layer higher. */
  next(on: Outlines): Loop[] {
    const { supports, parts } = this;
    const slim = atOneSpeed(on);
    return this.split(on.roots, (r) => {
      if (parts.some((p) => meet(p, r))) return false;
      if (slim.includes(r)) return true;
      return supports.some((s) => meet(s, r)) && (!on.fill.has(r) || shareOf(r, on) < LATTICE);
    });
  }

  private split(roots: readonly Loop[], is: (r: Loop) => boolean): Loop[] {
    this.supports = roots.filter(is);
    this.parts = roots.filter((r) => !this.supports.includes(r));
    return this.supports;
  }
}

/** Outlines within which all is laid at one speed, in a layer where the walls of parts have two. */
function atOneSpeed({ roots, fill }: Outlines): Loop[] {
  let [one, two] = [0, 0];
  const found: Loop[] = [];
  for (const r of roots) {
    const own = fastest(r);
    const near = (speed: number, by: number) => Math.abs(speed - own) < by * own;
    const kid = r.kids.find((k) => beside(k, r));
    const within = fill.get(r);
    if (kid && within && near(fastest(kid), TWO)) one++;
    else if (kid && within) two++;
    if (!kid && !within) continue;
    if (
      r.kids.every((k) => near(fastest(k), ONE)) &&
      (!within || (near(within.slowest, ONE) && near(within.fastest, ONE)))
    )
      found.push(r);
  }
  return two > one ? found : [];
}

/** How much of an outline is laid full. */
const shareOf = (r: Loop, { fill }: Outlines): number => (laid(r) + (fill.get(r)?.area ?? 0)) / outline(r);

/** What the loops of a root lay, mm². */
const laid = (loop: Loop): number =>
  loop.lines.reduce((sum, l) => sum + l.length * l.width, 0) + loop.kids.reduce((sum, k) => sum + laid(k), 0);

/** What a root covers, to the outer edge of its line, mm². */
const outline = (loop: Loop): number => loop.area + loop.lines.reduce((sum, l) => sum + (l.length * l.width) / 2, 0);

/** Whether something by itself stands within, as a stem in a ring of supports. */
const holdsOther = (loop: Loop): boolean => loop.kids.some((k) => k.filled || holdsOther(k));

function meet(a: Loop, b: Loop): boolean {
  if (a.box[0] > b.box[2] || a.box[2] < b.box[0] || a.box[1] > b.box[3] || a.box[3] < b.box[1]) return false;
  return b.samples.some((p) => within(a, p.x, p.y)) || a.samples.some((p) => within(b, p.x, p.y));
}
