import type { Kind } from './kind';
import { amongFins, axis, retractions } from './levels';

export const retractionTower: Kind = {
  id: 'retraction-tower',
  label: 'Retraction tower',
  stop: 'retraction',
  about: 'a fence of gaps alike, its distance changing with height',
  specimen: 'fence',
  shorter: 'retraction-strips',
  recipe: (context, s) => ({
    axes: [axis('retraction-distance', 'height', retractions(context).slice(0, 8))],
    params: { gap: 9, fin: 12, bandHeight: 4, gaps: 6 },
    frozen: { ...amongFins, fan: Math.min(s.fan, 0.4) },
  }),
};
