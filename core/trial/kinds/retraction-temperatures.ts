import { hottest } from '#core/context';
import type { Kind } from './kind';
import { amongFins, around, axis, retractions, within } from './levels';

export const retractionTemperatures: Kind = {
  id: 'retraction-temperatures',
  label: 'Retraction at several temperatures',
  stop: 'retraction',
  about: 'low fences one after the other, each at its own temperature',
  specimen: 'fence',
  recipe: (context, s) => ({
    axes: [
      axis(
        'nozzle-temperature',
        'tile',
        within(around(s.nozzleTemperature, 10, 1), context.filament.temperature.min, hottest(context).value),
      ),
      axis(
        'retraction-distance',
        'row',
        retractions(context).filter((_, i) => i % 2 === 0),
      ),
    ],
    params: { gap: 7, fin: 12, bandHeight: 4, gaps: 4 },
    frozen: {
      ...amongFins,
      fan: Math.min(s.fan, 0.4),
      arrangement: 'one after the other',
      temperatureWait: 'wait',
    },
  }),
};
