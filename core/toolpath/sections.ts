import { boundsOf, difference, intersection, offset, opened, union, type Box, type Polygon } from '#core/geometry';
import type { Slice } from './layers';

interface Island {
  polygon: Polygon;
  id: number;
  box: Box;
}

const NEAR = 2;

/**
 * Cross-sections of all layers. Equal islands share a number, so that equal work is done once: a tower repeats most of
 * its sections in every band.
 */
export class Sections {
  readonly outlines: Polygon[][];
  private readonly islands: Island[][];
  private readonly begun = new Map<string, Polygon[]>();
  private readonly hung = new Map<number, Polygon[]>();

  constructor(layers: readonly Slice[]) {
    const known = new Map<string, Island>();
    this.islands = layers.map((layer) =>
      layer.regions
        .flatMap((r) => r.outline)
        .map((polygon) => {
          let key = '';
          for (const ring of [polygon.outer, ...polygon.holes]) {
            for (const p of ring) key += `${Math.round(p.x * 1e3)},${Math.round(p.y * 1e3)} `;
            key += '|';
          }
          let island = known.get(key);
          if (!island) known.set(key, (island = { polygon, id: known.size, box: boundsOf([polygon])! }));
          return island;
        }),
    );
    this.outlines = this.islands.map((layer) => layer.map((i) => i.polygon));
  }

  /** The one object that stands for all equal islands. */
  likeness(k: number, i: number): Polygon {
    return this.islands[k]![i]!.polygon;
  }

  /** The numbers of the islands near a box, layer by layer from `from` to `to`: equal words mean equal surroundings. */
  surroundings(box: Box, from: number, to: number): string {
    let words = '';
    for (let k = from; k <= to; k++) {
      const layer = this.islands[k];
      words += layer ? '/' : '-';
      for (const i of layer ?? []) if (near(i.box, box)) words += `${i.id},`;
    }
    return words;
  }

  /** The islands of a layer near a box. */
  nearby(k: number, box: Box): Polygon[] {
    return (this.islands[k] ?? []).filter((i) => near(i.box, box)).map((i) => i.polygon);
  }

  /** Whether the surroundings of a box are the same in two layers. */
  same(i: number, j: number, box: Box): boolean {
    return this.surroundings(box, i, i) === this.surroundings(box, j, j);
  }

  /** Whether two layers have the same islands everywhere; a layer that is not there is like none. */
  sameAll(i: number, j: number): boolean {
    const [a, b] = [this.islands[i], this.islands[j]];
    return a !== undefined && b !== undefined && a.length === b.length && a.every((x, n) => x.id === b[n]!.id);
  }

  /**
   * Where walls begin in a layer: they stand beside the walls of the layer beneath by more than half a line.
   *
   * @param walls width of all walls of an outline together, mm
   * @param line width of a line, mm
   */
  beginnings(k: number, walls: number, line: number): Polygon[] {
    if (!this.islands[k] || k === 0 || this.sameAll(k, k - 1)) return [];
    const key = `${k} ${walls} ${line}`;
    let begun = this.begun.get(key);
    if (!begun) {
      const wallsOf = (j: number) => difference(this.outlines[j]!, offset(this.outlines[j]!, -walls));
      begun = opened(difference(wallsOf(k), offset(wallsOf(k - 1), line / 2)), line / 2);
      this.begun.set(key, begun);
    }
    return begun;
  }

  /** What of a layer hangs over air by two lines and more. */
  private hanging(k: number, line: number): Polygon[] {
    if (!this.islands[k] || k === 0 || this.sameAll(k, k - 1)) return [];
    let hung = this.hung.get(k);
    if (!hung) {
      hung = opened(difference(this.outlines[k]!, this.outlines[k - 1]!), line);
      this.hung.set(k, hung);
    }
    return hung;
  }

  /**
   * Where walls begin in any of the layers `from` … `to` and `around` beside them, and where what hangs over air is
   * anchored, `anchor` beside it, mm.
   */
  footings(
    from: number,
    to: number,
    walls: number,
    line: number,
    { around, anchor }: { around: number; anchor: number },
  ): Polygon[] {
    const all: Polygon[] = [];
    const hung: Polygon[] = [];
    for (let k = from; k <= to; k++) {
      all.push(...this.beginnings(k, walls, line));
      hung.push(...this.hanging(k, line));
    }
    return all.length + hung.length === 0 ? [] : union([...offset(all, around), ...offset(hung, anchor)]);
  }

  /** What of `area` is not covered by every one of the layers `from` … `to`; layers that are not there cover nothing. */
  uncovered(area: readonly Polygon[], from: number, to: number, like: number, box: Box): Polygon[] {
    let covered: readonly Polygon[] = area;
    const seen = new Set([this.surroundings(box, like, like)]);
    for (let k = from; k <= to; k++) {
      if (!this.islands[k]) return [...area];
      const words = this.surroundings(box, k, k);
      if (seen.has(words)) continue;
      seen.add(words);
      covered = intersection(covered, this.nearby(k, box));
      if (covered.length === 0) return [...area];
    }
    return covered === area ? [] : difference(area, covered);
  }
}

const near = (a: Box, b: Box): boolean =>
  a.x0 <= b.x1 + NEAR && a.x1 >= b.x0 - NEAR && a.y0 <= b.y1 + NEAR && a.y1 >= b.y0 - NEAR;
