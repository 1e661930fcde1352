import { nozzleTemperature } from '#core/factors';
import type { Kind } from './kind';
import { axis } from './levels';

export const temperatureTower: Kind = {
  id: 'temperature-tower',
  label: 'Temperature tower',
  stop: 'temperature',
  about: 'bands from hot to cold: strings, overhang, bridge, surface and strength',
  specimen: 'temperature-tower',
  shorter: 'temperature-strips',
  recipe: (context) => ({ axes: [axis('nozzle-temperature', 'height', nozzleTemperature.start(context))] }),
};
