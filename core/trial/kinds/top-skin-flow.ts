import type { Kind } from './kind';
import { alongEdges, around, axis } from './levels';

export const topSkinFlow: Kind = {
  id: 'top-skin-flow',
  label: 'Flow of the top skin',
  stop: 'flow',
  about: 'solid tiles whose top skin alone gets more or less',
  specimen: 'flow-tile',
  recipe: (_, s) => ({
    axes: [axis('top-skin-flow', 'tile', around(1, 0.03, 2))],
    // Thick layers, too, lie on a bottom and some between.
    params: { height: Math.max(1.8, 7 * s.layerHeight) },
    frozen: { ...alongEdges, infillDensity: 1, infillPattern: 'lines' },
  }),
};
