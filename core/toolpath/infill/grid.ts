import { family } from './lines';
import type { Pattern } from './pattern';

/** Two crossing families in every layer. */
export const grid: Pattern = {
  id: 'grid',
  label: 'grid',
  even: true,
  solid: false,
  words: () => '',
  lines: (area, spacing, { angle }) => [...family(area, angle, 2 * spacing), ...family(area, angle + 90, 2 * spacing)],
};
