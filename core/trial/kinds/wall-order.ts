import type { Kind } from './kind';
import { axis } from './levels';

export const wallOrder: Kind = {
  id: 'wall-order',
  label: 'Wall order and seam',
  stop: 'top-surface',
  about: 'little vases: inner or outer wall first, seam by choice',
  specimen: 'small-vase',
  recipe: () => ({
    axes: [axis('wall-order', 'tile', [0, 1]), axis('seam', 'tile', [0, 1, 2, 3])],
    frozen: { brimWidth: 0, bottomLayers: 3, topLayers: 0, infillDensity: 0 },
  }),
};
