import type { Kind } from './kind';
import { axis } from './levels';

export const travelInside: Kind = {
  id: 'travel-inside',
  label: 'Travel inside walls',
  stop: 'top-surface',
  about: 'tiles whose travel keeps inside the walls or goes straight: marks and strings',
  specimen: 'flow-tile',
  recipe: () => ({
    axes: [axis('travel-detour', 'tile', [0, 2, 5])],
    params: { side: 24, height: 3 },
    frozen: { brimWidth: 0, infillDensity: 0.15 },
  }),
};
