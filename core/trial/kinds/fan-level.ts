import type { Kind } from './kind';
import { axis } from './levels';

export const fanLevel: Kind = {
  id: 'fan-level',
  label: 'Fan level',
  stop: 'cooling',
  about: 'rungs from no fan to full: overhang, span, curl, gloss and strength',
  specimen: 'cooling-ladder',
  recipe: ({ printer }) => ({
    axes: [
      axis(
        'fan',
        'height',
        [0, 0.2, 0.4, 0.6, 0.8, 1].filter((v) => v === 0 || v >= printer.fanLeast),
      ),
    ],
    frozen: { brimWidth: 0 },
  }),
};
