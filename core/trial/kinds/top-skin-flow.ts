import type { Kind } from './kind';
import { alongEdges, around, axis } from './levels';

export const topSkinFlow: Kind = {
  id: 'top-skin-flow',
  label: 'Flow of the top skin',
  stop: 'flow',
  about: 'solid tiles whose top skin alone gets more or less',
  specimen: 'flow-tile',
  recipe: () => ({
    axes: [axis('top-skin-flow', 'tile', around(1, 0.03, 2))],
    frozen: { ...alongEdges, infillDensity: 1, infillPattern: 'lines' },
  }),
};
