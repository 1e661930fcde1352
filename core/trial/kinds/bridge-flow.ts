import type { Kind } from './kind';
import { axis } from './levels';

export const bridgeFlow: Kind = {
  id: 'bridge-flow',
  label: 'Bridge flow',
  stop: 'bridges',
  about: 'combs with spans that grow, each with its own flow over air',
  specimen: 'span-comb',
  recipe: () => ({
    axes: [axis('bridge-flow', 'tile', [0.8, 0.9, 1, 1.1])],
    frozen: { brimWidth: 0, bottomLayers: 2, topLayers: 2 },
  }),
};
