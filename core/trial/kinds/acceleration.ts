import type { Kind } from './kind';
import { axis, within } from './levels';

export const acceleration: Kind = {
  id: 'acceleration',
  label: 'Acceleration',
  stop: 'speed',
  about: 'a wall with corners, acceleration rising band by band: echo after corners',
  specimen: 'star-wall',
  recipe: ({ printer }) => ({
    axes: [
      axis('acceleration', 'height', within([500, 1000, 1500, 2500, 4000, 6000], 200, printer.maximum.acceleration)),
    ],
    frozen: { brimWidth: 0 },
  }),
};
