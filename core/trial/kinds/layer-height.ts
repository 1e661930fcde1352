import type { Kind } from './kind';
import { axis } from './levels';

export const layerHeight: Kind = {
  id: 'layer-height',
  label: 'Layer height',
  stop: 'layers',
  about: 'rungs with thinner and thicker layers',
  specimen: 'cooling-ladder',
  recipe: ({ printer }) => ({
    axes: [
      axis(
        'layer-height',
        'height',
        [0.3, 0.45, 0.6, 0.7].map((k) => Math.round(k * printer.nozzle.diameter * 50) / 50),
      ),
    ],
    frozen: { brimWidth: 0 },
  }),
};
