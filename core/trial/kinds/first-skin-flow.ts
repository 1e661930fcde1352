import type { Kind } from './kind';
import { alongEdges, around, axis } from './levels';

export const firstSkinFlow: Kind = {
  id: 'first-skin-flow',
  label: 'Flow of the first skin over infill',
  stop: 'flow',
  about: 'tiles over thin infill: does the first skin close',
  specimen: 'flow-tile',
  recipe: (_, s) => ({
    axes: [axis('first-skin-flow', 'tile', around(1, 0.05, 1, 3))],
    params: { side: 24, height: 3 },
    frozen: { ...alongEdges, topLayers: 2, infillDensity: Math.min(0.2, s.infillDensity || 0.15) },
  }),
};
