import { offset, type Point, type Polygon } from '#core/geometry';

/** Closed ways along the edge of the free bed, by loop from the outermost, mm; a bed in parts gives several a loop. */
export function edgeRings(bed: readonly Polygon[], count: number, distance: number, pitch: number): Point[][][] {
  return Array.from({ length: count }, (_, k) =>
    offset(bed, -(distance + k * pitch)).map((p) => [...p.outer, p.outer[0]!]),
  );
}
