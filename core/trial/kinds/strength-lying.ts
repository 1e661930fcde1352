import { hottest } from '#core/context';
import type { Kind } from './kind';
import { around, axis, within } from './levels';

/** More than fit into half of the broadest bar. */
const ALL_WALLS = 20;

export const strengthLying: Kind = {
  id: 'strength-lying',
  label: 'Strength along the lines',
  stop: 'strength',
  about: 'small tensile bars lying on the bed, one after the other at their temperatures',
  specimen: 'lying-bar',
  recipe: (context, s) => ({
    axes: [
      axis(
        'nozzle-temperature',
        'tile',
        within(around(s.nozzleTemperature, 10, 1), context.filament.temperature.min, hottest(context).value),
      ),
    ],
    frozen: {
      brimWidth: 0,
      infillDensity: 1,
      infillPattern: 'lines',
      // Walls all through: every line runs along the bar.
      wallCount: ALL_WALLS,
      arrangement: 'one after the other',
      temperatureWait: 'wait',
    },
  }),
};
