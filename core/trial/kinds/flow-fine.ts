import type { Kind } from './kind';
import { alongEdges, around, axis } from './levels';

export const flowFine: Kind = {
  id: 'flow-fine',
  label: 'Flow, fine',
  stop: 'flow',
  about: 'solid tiles 2 % under to 2 % over the pick',
  specimen: 'flow-tile',
  shorter: 'flow-wall',
  recipe: (_, s) => ({
    axes: [axis('flow', 'tile', around(s.flow, 0.01, 2))],
    frozen: { ...alongEdges, infillDensity: 1, infillPattern: 'lines' },
  }),
};
