import type { Kind } from './kind';
import { axis, retractions } from './levels';

export const retractionStrips: Kind = {
  id: 'retraction-strips',
  label: 'Retraction strips',
  stop: 'retraction',
  about: 'strips of dashes, one for each distance, a few layers high',
  specimen: 'dash-strips',
  recipe: (context, s) => ({
    axes: [
      axis(
        'retraction-distance',
        'tile',
        retractions(context).filter((_, i) => i % 2 === 0),
      ),
    ],
    params: { dashes: 6, gap: 6, dash: 10, layers: 4 },
    frozen: { brimWidth: 0, fan: Math.min(s.fan, 0.4), retractionLeastTravel: 0 },
  }),
};
