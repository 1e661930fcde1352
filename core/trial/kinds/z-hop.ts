import type { Kind } from './kind';
import { amongFins, axis } from './levels';

export const zHop: Kind = {
  id: 'z-hop',
  label: 'Z-hop',
  stop: 'retraction',
  about: 'lift on travel, from none to 0.6 mm: strings against scratches',
  specimen: 'fence',
  recipe: () => ({
    axes: [axis('z-hop', 'row', [0, 0.1, 0.2, 0.3, 0.4, 0.6])],
    params: { gap: 7, fin: 12, bandHeight: 8, gaps: 4 },
    frozen: amongFins,
  }),
};
