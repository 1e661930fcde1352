import type { Kind } from './kind';
import { axis, retractions } from './levels';

export const retractionTower: Kind = {
  id: 'retraction-tower',
  label: 'Retraction tower',
  stop: 'retraction',
  about: 'a fence of few gaps, its distance changing with height',
  specimen: 'fence',
  shorter: 'retraction-strips',
  recipe: (context, s) => ({
    axes: [axis('retraction-distance', 'height', retractions(context).slice(0, 8))],
    params: { gap: 9, fin: 12, bandHeight: 5, gaps: 3 },
    frozen: { brimWidth: 0, fan: Math.min(s.fan, 0.4), retractionLeastTravel: 0 },
  }),
};
