import { hatch, type Point, type Polygon } from '#core/geometry';
import type { Pattern } from './pattern';

/** One family of parallel lines. */
export const family = (area: readonly Polygon[], angle: number, spacing: number, phase = 0.5): Point[][] =>
  hatch(area, angle, spacing, phase).map((l) => [l.a, l.b]);

/** Parallel lines, crossed from layer to layer. */
export const lines: Pattern = {
  id: 'lines',
  label: 'lines',
  even: true,
  solid: true,
  words: ({ layer }) => String(layer % 2),
  lines: (area, spacing, { layer, angle }) => family(area, angle + (layer % 2) * 90, spacing),
};
