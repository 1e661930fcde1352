import { numeralBand } from '#core/geometry';
import type { Kind } from './kind';
import { axis } from './levels';

export const infillBands: Kind = {
  id: 'infill-bands',
  label: 'Infill density by height',
  stop: 'infill',
  about: 'one open block whose infill grows denser band by band',
  specimen: 'infill-coupon',
  recipe: (_, s) => ({
    axes: [axis('infill-density', 'height', [0.1, 0.2, 0.3, 0.4])],
    params: { length: 30, width: 20, height: numeralBand(s.lineWidth) },
    frozen: { brimWidth: 0, topLayers: 0, wallCount: 2 },
  }),
};
