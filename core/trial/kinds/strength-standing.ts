import { hottest } from '#core/context';
import type { Kind } from './kind';
import { around, axis, within } from './levels';

export const strengthStanding: Kind = {
  id: 'strength-standing',
  label: 'Strength between layers',
  stop: 'strength',
  about: 'upright bars, a print for each temperature: how well layers hold together',
  specimen: 'standing-bar',
  recipe: (context, s) => ({
    axes: [
      axis(
        'nozzle-temperature',
        'print',
        within(around(s.nozzleTemperature, 10, 1), context.filament.temperature.min, hottest(context).value),
      ),
    ],
    frozen: { brimWidth: 3, infillDensity: 1, infillPattern: 'lines' },
  }),
};
