import type { Kind } from './kind';
import { axis } from './levels';

const LAYERS = [2, 3, 4, 5, 6];

export const topLayers: Kind = {
  id: 'top-layers',
  label: 'Top layers',
  stop: 'top-surface',
  about: 'tiles over thin infill with more and more top layers: does the infill show through',
  specimen: 'flow-tile',
  recipe: (_, s) => ({
    axes: [axis('top-layers', 'tile', LAYERS)],
    // Under the most of them some layers of infill are left.
    params: { side: 24, height: Math.max(3, Math.ceil((Math.max(...LAYERS) + s.bottomLayers + 4) * s.layerHeight)) },
    frozen: { brimWidth: 0, infillDensity: 0.15 },
  }),
};
