import { areaOf, difference, intersection, offset, opened, union, type Box, type Polygon } from '#core/geometry';
import { SOLID_FROM, type Settings } from '#core/settings';
import { ANCHOR } from './bridge';
import type { Sections } from './sections';

/** What of an inner area is printed how. `first` lies over sparse infill, `upper` has nothing above it. */
export interface SkinPlan {
  top: Polygon[];
  first: Polygon[];
  upper: Polygon[];
  bottom: Polygon[];
  sparse: Polygon[];
}

/** A sparse area smaller than this is printed solid, mm²: lines that short do not hold. */
const LEAST_SPARSE = 12;
/** Under walls that begin above, the skin reaches so far beyond them, mm. */
const FOOTING = 0.5;
const FOOTING_LAYERS = 2;

/** So many layers above decide how a layer is filled: what stands on it wants two of skin beneath, a lid its own. */
export const layersAbove = (s: Settings): number => Math.max(s.topLayers, FOOTING_LAYERS);

/** Divides the inner area of an island of layer `k` into top skin, bottom skin and sparse infill. */
export function skinsOf(inner: readonly Polygon[], k: number, sections: Sections, box: Box, s: Settings): SkinPlan {
  if (inner.length === 0) return { top: [], first: [], upper: [], bottom: [], sparse: [] };
  const margin = s.lineWidth;
  const grow = (p: Polygon[]) =>
    p.length === 0 ? [] : intersection(offset(opened(p, s.lineWidth * 0.5), margin), inner);
  const open = (to: number) => (to > k ? grow(sections.uncovered(inner, k + 1, to, k, box)) : []);
  // Walls and bridges hold on skin, not on the threads of an infill.
  const footings =
    s.infillDensity < SOLID_FROM
      ? intersection(
          sections.footings(k + 1, k + layersAbove(s), s.lineWidth * s.wallCount, s.lineWidth, {
            around: FOOTING,
            anchor: ANCHOR + s.lineWidth / 2,
            box,
          }),
          inner,
        )
      : [];
  const bottom = grow(sections.uncovered(inner, k - s.bottomLayers, k - 1, k, box));
  const bare = open(k + s.topLayers);
  let top = footings.length === 0 ? bare : union([...bare, ...footings]);
  if (bottom.length > 0 && top.length > 0) top = difference(top, bottom);
  const solid = bottom.length + top.length === 0 ? [] : union([...top, ...bottom]);
  const rest = solid.length === 0 ? [...inner] : opened(difference(inner, solid), s.lineWidth);
  const sparse = rest.filter((p) => areaOf([p]) >= LEAST_SPARSE);
  if (s.infillDensity > 0 && sparse.length < rest.length) {
    const small = rest.filter((p) => areaOf([p]) < LEAST_SPARSE);
    top = union([...top, ...small]);
  }
  // The skin is parted only where its parts are printed differently.
  const parts = top.length > 0 && (s.topSkinFlow !== 1 || s.firstSkinFlow !== 1 || s.topPattern !== 'lines');
  const upper = parts || s.ironing !== 'none' ? intersection(open(k + 1), top) : [];
  const first = parts && s.topLayers > 1 ? difference(bare, open(k + s.topLayers - 1)) : [];
  return { top, first, upper, bottom, sparse };
}
