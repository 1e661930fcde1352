import type { Point, Polygon } from '#core/geometry';

/** Where a sparse pattern is drawn. Lengths mm, angle degrees. */
export interface PatternPlace {
  /** Height of the layer's middle. */
  z: number;
  layer: number;
  angle: number;
  /** Width that a line takes, so that doubled lines lie side by side. */
  line: number;
}

/** A sparse infill pattern: centre lines inside an area. */
export interface Pattern {
  id: string;
  label: string;
  /** Whether it fills evenly, so that a density can be promised. */
  even: boolean;
  /** Whether it can fill the whole. */
  solid: boolean;
  /** Layers with equal words have equal lines. */
  words(at: PatternPlace): string;
  /**
   * @param area for centre lines, mm
   * @param spacing mean distance of lines, mm
   */
  lines(area: readonly Polygon[], spacing: number, at: PatternPlace): Point[][];
}
