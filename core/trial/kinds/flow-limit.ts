import { volumetricFlow } from '#core/factors';
import type { Kind } from './kind';
import { axis } from './levels';

export const flowLimit: Kind = {
  id: 'flow-limit',
  label: 'Flow limit',
  stop: 'flow-limit',
  about: 'one long loop that gets faster with height until it no longer melts',
  specimen: 'loop-wall',
  recipe: (context) => ({
    axes: [axis('volumetric-flow', 'height', volumetricFlow.start(context), 'ramp')],
    frozen: { brimWidth: 0 },
  }),
};
