import { family } from './lines';
import type { Pattern } from './pattern';

/** Three families at 60° that meet in common points. */
export const triangles: Pattern = {
  id: 'triangles',
  label: 'triangles',
  even: true,
  solid: false,
  words: () => '',
  lines: (area, spacing, { angle }) => [0, 60, 120].flatMap((turn) => family(area, angle + turn, 3 * spacing, 0)),
};
