import type { Kind } from './kind';
import { alongEdges, axis } from './levels';

export const lineWidth: Kind = {
  id: 'line-width',
  label: 'Line width',
  stop: 'layers',
  about: 'flow tiles with narrower and wider lines',
  specimen: 'flow-tile',
  recipe: ({ printer }) => ({
    axes: [
      axis(
        'line-width',
        'tile',
        [0.9, 1, 1.12, 1.25, 1.4].map((k) => Math.round(k * printer.nozzle.diameter * 100) / 100),
      ),
    ],
    frozen: { ...alongEdges, infillDensity: 1, infillPattern: 'lines' },
  }),
};
