import type { Kind } from './kind';
import { alongEdges, around, axis } from './levels';

export const flowCoarse: Kind = {
  id: 'flow-coarse',
  label: 'Flow, coarse',
  stop: 'flow',
  about: 'solid tiles from 12 % under to 12 % over',
  specimen: 'flow-tile',
  shorter: 'flow-fine',
  recipe: (_, s) => ({
    axes: [axis('flow', 'tile', around(s.flow, 0.04, 3))],
    frozen: { ...alongEdges, infillDensity: 1, infillPattern: 'lines' },
  }),
};
