import type { Point, Polygon } from '#core/geometry';

/** A sparse infill pattern: centre lines inside an area. */
export interface Pattern {
  id: string;
  label: string;
  /**
   * @param area for centre lines, mm
   * @param spacing mean distance of lines, mm
   * @param layer index of the layer
   */
  lines(area: readonly Polygon[], spacing: number, layer: number): Point[][];
}
