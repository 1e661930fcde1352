import type { Kind } from './kind';
import { axis } from './levels';

export const angleSequence: Kind = {
  id: 'angle-sequence',
  label: 'Angle sequence',
  stop: 'top-surface',
  about: 'tiles whose skins turn from layer to layer in different sequences',
  specimen: 'flow-tile',
  recipe: () => ({
    axes: [axis('angle-sequence', 'tile', [0, 1, 2, 3])],
    params: { side: 21, height: 2.4 },
    frozen: { brimWidth: 0, infillDensity: 0.15 },
  }),
};
