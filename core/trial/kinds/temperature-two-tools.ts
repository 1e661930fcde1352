import { nozzleTemperature } from '#core/factors';
import type { Kind } from './kind';
import { axis } from './levels';

export const temperatureTwoTools: Kind = {
  id: 'temperature-two-tools',
  label: 'Temperature with tool changes',
  stop: 'temperature',
  about: 'a tower whose tool changes every few layers: each level with a nozzle that has just waited',
  specimen: 'tool-tower',
  lacks: ({ printer }) => (printer.tools < 2 ? 'the printer has one tool' : undefined),
  recipe: (context) => ({
    axes: [
      axis(
        'nozzle-temperature',
        'height',
        nozzleTemperature.start(context).filter((_, i) => i % 2 === 0),
      ),
    ],
    frozen: { brimWidth: 0 },
  }),
};
