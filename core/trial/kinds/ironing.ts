import type { Kind } from './kind';
import { axis } from './levels';

export const ironing: Kind = {
  id: 'ironing',
  label: 'One-way lines × ironing',
  stop: 'top-surface',
  about: 'a full two by two: lines one way or both, with and without ironing',
  specimen: 'flow-tile',
  recipe: () => ({
    axes: [axis('skin-order', 'tile', [0, 1]), axis('ironing', 'tile', [0, 1])],
    params: { side: 24, height: 3 },
    frozen: { brimWidth: 0, infillDensity: 0.15 },
  }),
};
