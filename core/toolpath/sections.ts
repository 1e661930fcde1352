import {
  boundsOf,
  BoxGrid,
  boxesMeet,
  difference,
  MITRE,
  offset,
  opened,
  union,
  type Box,
  type Polygon,
} from '#core/geometry';
import type { Slice } from './layers';

interface Island {
  polygon: Polygon;
  id: number;
  box: Box;
}

/** Something found in a layer, and the box around it. */
interface Found {
  polygon: Polygon;
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
  /** The same by where they are; layers of the same islands share one. */
  private readonly grids: BoxGrid<Island>[];
  private readonly bands = new Map<string, Polygon[]>();
  private readonly begun = new Map<string, Found[]>();
  private readonly hung = new Map<string, Found[]>();

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
    this.grids = [];
    this.islands.forEach((layer, k) =>
      this.grids.push(k > 0 && this.sameAll(k - 1, k) ? this.grids[k - 1]! : new BoxGrid(layer)),
    );
  }

  /** The one object that stands for all equal islands. */
  likeness(k: number, i: number): Polygon {
    return this.islands[k]![i]!.polygon;
  }

  /** The numbers of the islands near a box, layer by layer from `from` to `to`: equal words mean equal surroundings. */
  surroundings(box: Box, from: number, to: number): string {
    let words = '';
    for (let k = from; k <= to; k++) {
      const grid = this.grids[k];
      words += grid ? '/' : '-';
      for (const i of grid?.near(box, NEAR) ?? []) words += `${i.id},`;
    }
    return words;
  }

  /** The islands of a layer near a box. */
  nearby(k: number, box: Box): Polygon[] {
    return (this.grids[k]?.near(box, NEAR) ?? []).map((i) => i.polygon);
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

  /** The islands of a layer that the layer beneath has not: all others stand on themselves. */
  private changed(k: number): Island[] {
    const beneath = this.islands[k - 1];
    return beneath ? (this.islands[k] ?? []).filter((i) => !beneath.includes(i)) : [];
  }

  /** The islands of the layer beneath that are near any of these. */
  private under(k: number, islands: readonly Island[]): Island[] {
    return this.islands[k - 1]!.filter((b) => islands.some((i) => near(b.box, i.box)));
  }

  /** What the walls of an island cover. */
  private walled({ id, polygon }: Island, walls: number): Polygon[] {
    const key = `${id} ${walls}`;
    let found = this.bands.get(key);
    if (!found) this.bands.set(key, (found = difference([polygon], offset([polygon], -walls))));
    return found;
  }

  /**
   * Where walls begin in a layer: they stand beside the walls of the layer beneath by more than half a line.
   *
   * @param walls width of all walls of an outline together, mm
   * @param line width of a line, mm
   */
  private beginnings(k: number, walls: number, line: number): Found[] {
    return remembered(this.begun, `${k} ${walls} ${line}`, () => {
      const changed = this.changed(k);
      if (changed.length === 0) return [];
      const of = (islands: readonly Island[]) => islands.flatMap((i) => this.walled(i, walls));
      return opened(difference(of(changed), offset(of(this.under(k, changed)), line / 2)), line / 2);
    });
  }

  /** What of a layer hangs over air by two lines and more. */
  private hanging(k: number, line: number): Found[] {
    return remembered(this.hung, `${k} ${line}`, () => {
      const changed = this.changed(k);
      if (changed.length === 0) return [];
      const of = (islands: readonly Island[]) => islands.map((i) => i.polygon);
      return opened(difference(of(changed), of(this.under(k, changed))), line);
    });
  }

  /**
   * Where walls begin in any of the layers `from` … `to` and `around` beside them, and where what hangs over air is
   * anchored, `anchor` beside it, mm; of all this, what is near a box.
   */
  footings(
    from: number,
    to: number,
    walls: number,
    line: number,
    { around, anchor, box }: { around: number; anchor: number; box: Box },
  ): Polygon[] {
    const all: Polygon[] = [];
    const hung: Polygon[] = [];
    const beside = (found: readonly Found[], by: number) =>
      found.filter((f) => near(f.box, box, by)).map((f) => f.polygon);
    for (let k = from; k <= to; k++) {
      all.push(...beside(this.beginnings(k, walls, line), MITRE * around));
      hung.push(...beside(this.hanging(k, line), MITRE * anchor));
    }
    return all.length + hung.length === 0 ? [] : union([...offset(all, around), ...offset(hung, anchor)]);
  }

  /** What of `area` is not covered by every one of the layers `from` … `to`; layers that are not there cover nothing. */
  uncovered(area: readonly Polygon[], from: number, to: number, like: number, box: Box): Polygon[] {
    const open: Polygon[][] = [];
    const seen = new Set([this.surroundings(box, like, like)]);
    for (let k = from; k <= to; k++) {
      if (!this.islands[k]) return [...area];
      const words = this.surroundings(box, k, k);
      if (seen.has(words)) continue;
      seen.add(words);
      const bare = difference(area, this.nearby(k, box));
      if (bare.length > 0) open.push(bare);
    }
    return open.length > 1 ? union(open.flat()) : (open[0] ?? []);
  }
}

const near = (a: Box, b: Box, by = NEAR): boolean => boxesMeet(a, b, by);

function remembered(known: Map<string, Found[]>, key: string, find: () => Polygon[]): Found[] {
  let found = known.get(key);
  if (!found) known.set(key, (found = find().map((polygon) => ({ polygon, box: boundsOf([polygon])! }))));
  return found;
}
