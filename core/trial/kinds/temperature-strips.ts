import { nozzleTemperature } from '#core/factors';
import type { Kind } from './kind';
import { axis } from './levels';

export const temperatureStrips: Kind = {
  id: 'temperature-strips',
  label: 'Temperature strips',
  stop: 'temperature',
  about: 'strips of interrupted lines, one after the other, two minutes each: strings and starts only',
  specimen: 'dash-strips',
  recipe: (context) => ({
    axes: [
      axis(
        'nozzle-temperature',
        'tile',
        nozzleTemperature.start(context).filter((_, i) => i % 2 === 0),
      ),
    ],
    frozen: { brimWidth: 0, arrangement: 'one after the other', temperatureWait: 'wait' },
  }),
};
