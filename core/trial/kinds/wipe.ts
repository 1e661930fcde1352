import type { Kind } from './kind';
import { amongFins, axis } from './levels';

export const wipe: Kind = {
  id: 'wipe',
  label: 'Wipe',
  stop: 'retraction',
  about: 'running back over the last line before travel, from none to 3 mm',
  specimen: 'fence',
  recipe: () => ({
    axes: [axis('wipe', 'row', [0, 0.5, 1, 1.5, 2, 3])],
    params: { gap: 7, fin: 14, bandHeight: 8, gaps: 4 },
    frozen: amongFins,
  }),
};
