import type { Kind } from './kind';

export const flowWall: Kind = {
  id: 'flow-wall',
  label: 'Flow by caliper',
  stop: 'flow',
  about: 'a single-wall box: measured thickness against the line width gives the flow',
  specimen: 'gauge-box',
  recipe: () => ({ axes: [], frozen: { brimWidth: 0 } }),
};
