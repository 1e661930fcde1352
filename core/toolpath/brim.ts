import { offset, union, type Point, type Polygon } from '#core/geometry';
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
