import { rounded } from '#core/base';
import type { Kind } from './kind';
import { axis } from './levels';

/** Below it, mm, heights of a nozzle’s layers lie close to one another. */
const SLIM = 0.3;
const roundedTo = (step: number, value: number): number => rounded(Math.round(value / step) * step, 6);

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
        // In steps that four levels differ by.
        [0.3, 0.45, 0.6, 0.7].map((k) =>
          roundedTo(printer.nozzle.diameter < SLIM ? 0.01 : 0.02, k * printer.nozzle.diameter),
        ),
      ),
    ],
    frozen: { brimWidth: 0 },
  }),
};
