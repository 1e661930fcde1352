import type { Kind } from './kind';
import { advances, axis, drawnBriefly } from './levels';

export const surgeRibbon: Kind = {
  id: 'surge-ribbon',
  label: 'Surge ribbon',
  stop: 'pressure-advance',
  about: 'slow, fast, slow lines over three base layers, a line for each value',
  specimen: 'surge-ribbon',
  recipe: (context, s) => ({
    axes: [axis('pressure-advance', 'row', advances(context, 10))],
    params: {
      slow: 18,
      fast: 36,
      slowSpeed: 20,
      fastSpeed: Math.min(100, context.printer.maximum.speed),
      pitch: Math.ceil(2 * (Math.max(5, 5.5 * s.lineWidth) + 0.6)) / 2,
    },
    frozen: { brimWidth: 0, ...drawnBriefly(context, s) },
  }),
};
