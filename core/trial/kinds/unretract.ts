import type { Kind } from './kind';
import { amongFins, axis } from './levels';

export const unretract: Kind = {
  id: 'unretract',
  label: 'Extra on un-retract',
  stop: 'retraction',
  about: 'a little more or less filament after each way: notch against blob',
  specimen: 'fence',
  recipe: () => ({
    axes: [axis('unretract-extra', 'row', [-0.04, -0.02, 0, 0.02, 0.04, 0.08])],
    params: { gap: 7, fin: 14, bandHeight: 8, gaps: 4 },
    frozen: amongFins,
  }),
};
