import type { Kind } from './kind';
import { axis, within } from './levels';

export const bridgeSpeed: Kind = {
  id: 'bridge-speed',
  label: 'Bridge speed',
  stop: 'bridges',
  about: 'combs with spans that grow, each at its own speed over air',
  specimen: 'span-comb',
  recipe: ({ printer }) => ({
    axes: [axis('bridge-speed', 'tile', within([15, 25, 40, 60], 5, printer.maximum.speed))],
    frozen: { brimWidth: 0, bottomLayers: 2, topLayers: 2 },
  }),
};
