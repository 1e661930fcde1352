import type { Kind } from './kind';
import { axis } from './levels';

export const topLayers: Kind = {
  id: 'top-layers',
  label: 'Top layers',
  stop: 'top-surface',
  about: 'tiles over thin infill with more and more top layers: does the infill show through',
  specimen: 'flow-tile',
  recipe: () => ({
    axes: [axis('top-layers', 'tile', [2, 3, 4, 5, 6])],
    params: { side: 24, height: 3 },
    frozen: { brimWidth: 0, infillDensity: 0.15 },
  }),
};
