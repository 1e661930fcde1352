import type { Kind } from './kind';
import { axis } from './levels';

export const bridgeFan: Kind = {
  id: 'bridge-fan',
  label: 'Bridge fan',
  stop: 'bridges',
  about: 'spans one over the other, each with its own fan',
  specimen: 'span-comb',
  recipe: () => ({
    axes: [axis('bridge-fan', 'height', [0.2, 0.5, 0.8, 1])],
    frozen: { brimWidth: 0, bottomLayers: 2, topLayers: 2 },
  }),
};
