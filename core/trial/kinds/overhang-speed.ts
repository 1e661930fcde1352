import type { Kind } from './kind';
import { axis, within } from './levels';

export const overhangSpeed: Kind = {
  id: 'overhang-speed',
  label: 'Overhang speed',
  stop: 'cooling',
  about: 'rungs whose lips are printed slower and slower',
  specimen: 'cooling-ladder',
  recipe: (_, s) => ({
    axes: [axis('overhang-speed', 'height', within([10, 15, 20, 30, 40], 5, s.outerWallSpeed))],
    frozen: { brimWidth: 0 },
  }),
};
