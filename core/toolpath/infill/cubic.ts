import { family } from './lines';
import type { Pattern } from './pattern';

/**
 * Cubes standing on a corner: three families of planes, square to one another, cut at the height of the layer. A plane
 * leans so that its line moves by z / √2 across itself.
 */
export const cubic: Pattern = {
  id: 'cubic',
  label: 'cubic',
  even: true,
  solid: false,
  words: ({ z }) => z.toFixed(3),
  lines: (area, spacing, { angle, z }) => {
    const apart = 3 * spacing;
    const shift = z / Math.SQRT2 / apart;
    const phase = ((shift % 1) + 1) % 1;
    return [0, 120, 240].flatMap((turn) => family(area, angle + turn, apart, phase));
  },
};
