import { difference, offset, union, type Point, type Polygon } from '#core/geometry';
import { lineSpacing, type Settings } from '#core/settings';

/** Closed loops around the first layer, outermost first, so that the nozzle is primed far from the part. */
export function brimLoops(first: readonly Polygon[], s: Settings): Point[][] {
  const spacing = lineSpacing(s.lineWidth, s.firstLayerHeight, s.lineVolume);
  const count = Math.floor(s.brimWidth / spacing + 1e-9);
  const outlines = union(first.map((p) => ({ outer: p.outer, holes: [] })));
  const loops: Point[][] = [];
  for (let k = count - 1; k >= 0; k--) {
    for (const p of offset(outlines, spacing / 2 + k * spacing, 'round')) loops.push([...p.outer, p.outer[0]!]);
  }
  return loops;
}

/** More loops than any bed holds. */
const MOST_LOOPS = 5000;

/** Loops that fill a flat disc at every corner sharper than the angle asked, outside the part and its brim. */
export function earLoops(first: readonly Polygon[], s: Settings): Point[][] {
  if (s.earRadius <= 0) return [];
  const spacing = lineSpacing(s.lineWidth, s.firstLayerHeight, s.lineVolume);
  const discs = sharpCorners(first, s.earAngle).map(({ x, y }) => ({
    outer: Array.from({ length: 32 }, (_, i) => ({
      x: x + s.earRadius * Math.cos((i * Math.PI) / 16),
      y: y + s.earRadius * Math.sin((i * Math.PI) / 16),
    })),
    holes: [],
  }));
  if (discs.length === 0) return [];
  const taken = offset(first, s.brimWidth > 0 ? s.brimWidth : 0, 'round');
  const loops: Point[][] = [];
  // One ear after another, each from its edge inward.
  for (const ear of difference(union(discs), taken)) {
    let area = [ear];
    for (let rings = offset(area, -spacing / 2); rings.length > 0; rings = offset(area, -spacing / 2)) {
      for (const p of rings) for (const ring of [p.outer, ...p.holes]) loops.push([...ring, ring[0]!]);
      area = offset(area, -spacing);
      if (loops.length > MOST_LOOPS) return loops;
    }
  }
  return loops;
}

/** Convex corners of outlines that enclose less than `angle` degrees of material. */
export function sharpCorners(polygons: readonly Polygon[], angle: number): Point[] {
  return polygons.flatMap(({ outer }) =>
    outer.filter((b, i) => {
      const a = outer[(i + outer.length - 1) % outer.length]!;
      const c = outer[(i + 1) % outer.length]!;
      const [ux, uy, vx, vy] = [a.x - b.x, a.y - b.y, c.x - b.x, c.y - b.y];
      const left = (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x) > 0;
      const inner =
        (Math.acos(Math.max(-1, Math.min(1, (ux * vx + uy * vy) / (Math.hypot(ux, uy) * Math.hypot(vx, vy) || 1)))) *
          180) /
        Math.PI;
      return left && inner < angle;
    }),
  );
}
