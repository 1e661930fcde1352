import { offset, union, type Point, type Polygon } from '#core/geometry';
import { lineSpacing, type Settings } from '#core/settings';
import { edgeRings } from '#core/specimens';

/** Loops around everything on the first layer, a gap away, outermost first. */
export function skirtLoops(first: readonly Polygon[], s: Settings): Point[][] {
  if (s.skirtLoops < 1) return [];
  const spacing = lineSpacing(s.lineWidth, s.firstLayerHeight, s.lineVolume);
  const around = Math.max(s.skirtGap, s.brimWidth + 2);
  const outlines = union(first.map((p) => ({ outer: p.outer, holes: [] })));
  const loops: Point[][] = [];
  for (let k = s.skirtLoops - 1; k >= 0; k--) {
    for (const p of offset(outlines, around + spacing * (k + 0.5), 'round')) loops.push([...p.outer, p.outer[0]!]);
  }
  return loops;
}

/** Loops along the edge of the free bed, the outermost at the distance asked, each as far from the next as is asked. */
export function edgeLoops(bed: readonly Polygon[], s: Settings): Point[][] {
  const pitch = Math.max(s.edgePitch, lineSpacing(s.lineWidth, s.firstLayerHeight, s.lineVolume));
  return edgeRings(bed, s.edgeLoops, s.edgeDistance, pitch).flat();
}
