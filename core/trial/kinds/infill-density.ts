import type { Kind } from './kind';
import { axis, wide } from './levels';

export const infillDensity: Kind = {
  id: 'infill-density',
  label: 'Infill density and pattern',
  stop: 'infill',
  about: 'open blocks: density by row, pattern by column; weigh, load, fill with water',
  specimen: 'infill-coupon',
  shorter: 'infill-bands',
  recipe: (_, s) => ({
    axes: [axis('infill-density', 'tile', [0.1, 0.2, 0.4]), axis('infill-pattern', 'tile', [0, 1, 5])],
    // Wide lines of a thin infill lie far apart.
    params: { length: wide(24, s), width: wide(18, s), height: 4 },
    frozen: { brimWidth: 0, topLayers: 0, wallCount: 2 },
  }),
};
