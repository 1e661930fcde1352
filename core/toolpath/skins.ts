import { areaOf, difference, intersection, offset, opened, union, type Polygon } from '#core/geometry';
import type { Settings } from '#core/settings';
import type { Slice } from './layers';

/** What of an inner area is printed how. */
export interface SkinPlan {
  top: Polygon[];
  bottom: Polygon[];
  sparse: Polygon[];
}

/** Cross-sections of all layers, with equal sections recognised so that they are compared once. */
export class Sections {
  readonly outlines: Polygon[][];
  private readonly ids: number[];

  constructor(layers: readonly Slice[]) {
    const known = new Map<string, number>();
    this.outlines = layers.map((layer) => layer.regions.flatMap((r) => r.outline));
    this.ids = this.outlines.map((polygons) => {
      const key = polygons
        .map((p) =>
          [p.outer, ...p.holes]
            .map((r) => r.map((q) => `${Math.round(q.x * 1e3)},${Math.round(q.y * 1e3)}`).join(' '))
            .join('|'),
        )
        .join('/');
      const id = known.get(key) ?? known.size;
      known.set(key, id);
      return id;
    });
  }

  /** Whether two layers have the same section. */
  same(i: number, j: number): boolean {
    return this.ids[i] === this.ids[j] && this.ids[i] !== undefined;
  }

  /** What of `area` is not covered by every one of the layers `from` … `to`; undefined layers cover nothing. */
  uncovered(area: readonly Polygon[], from: number, to: number, like: number): Polygon[] {
    let covered: readonly Polygon[] = area;
    const seen = new Set<number>();
    for (let k = from; k <= to; k++) {
      const section = this.outlines[k];
      if (!section) return [...area];
      const id = this.ids[k]!;
      if (id === this.ids[like] || seen.has(id)) continue;
      seen.add(id);
      covered = intersection(covered, section);
      if (covered.length === 0) return [...area];
    }
    return covered === area ? [] : difference(area, covered);
  }
}

/** A sparse area smaller than this is printed solid, mm²: lines that short do not hold. */
const LEAST_SPARSE = 12;

/** Divides the inner area of an island of layer `k` into top skin, bottom skin and sparse infill. */
export function skinsOf(inner: readonly Polygon[], k: number, sections: Sections, s: Settings): SkinPlan {
  if (inner.length === 0) return { top: [], bottom: [], sparse: [] };
  const margin = s.lineWidth;
  const grow = (p: Polygon[]) =>
    p.length === 0 ? [] : intersection(offset(opened(p, s.lineWidth * 0.5), margin), inner);
  const bottom = grow(sections.uncovered(inner, k - s.bottomLayers, k - 1, k));
  let top = grow(sections.uncovered(inner, k + 1, k + s.topLayers, k));
  if (bottom.length > 0 && top.length > 0) top = difference(top, bottom);
  const solid = bottom.length + top.length === 0 ? [] : union([...top, ...bottom]);
  const rest = solid.length === 0 ? [...inner] : opened(difference(inner, solid), s.lineWidth);
  const sparse = rest.filter((p) => areaOf([p]) >= LEAST_SPARSE);
  if (s.infillDensity > 0 && sparse.length < rest.length) {
    const small = rest.filter((p) => areaOf([p]) < LEAST_SPARSE);
    top = union([...top, ...small]);
  }
  return { top, bottom, sparse };
}
