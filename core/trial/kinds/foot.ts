import type { Kind } from './kind';
import { axis } from './levels';

export const foot: Kind = {
  id: 'foot',
  label: 'Elephant’s foot',
  stop: 'size',
  about: 'gauge plates whose first layer is drawn in more and more',
  specimen: 'size-gauge',
  recipe: () => ({
    axes: [axis('first-layer-inset', 'tile', [0, 0.1, 0.2, 0.3])],
    params: { length: 25, width: 14, hole: 6, height: 3 },
    frozen: { brimWidth: 0 },
  }),
};
