import { hatch } from '#core/geometry';
import { zigzags } from '../chain';
import type { Pattern } from './pattern';

/** Parallel lines, crossed from layer to layer, joined along the walls. */
export const lines: Pattern = {
  id: 'lines',
  label: 'lines',
  lines: (area, spacing, layer) => zigzags(hatch(area, layer % 2 === 0 ? 45 : 135, spacing), area, spacing * 3),
};
