import type { Kind } from './kind';
import { axis } from './levels';

export const topPattern: Kind = {
  id: 'top-pattern',
  label: 'Top pattern',
  stop: 'top-surface',
  about: 'tiles whose top runs in lines or rings',
  specimen: 'flow-tile',
  recipe: () => ({
    axes: [axis('top-pattern', 'tile', [0, 1])],
    params: { side: 24, height: 3 },
    frozen: { brimWidth: 0, infillDensity: 0.15 },
  }),
};
