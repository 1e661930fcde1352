import { coldest, hottest, usualTemperature } from '#core/context';
import { roleNumber } from '#core/moves';
import type { Factor } from './factor';

/** Nozzle temperature. A heater needs seconds, so it changes by height or from print to print only. */
export const nozzleTemperature: Factor = {
  id: 'nozzle-temperature',
  label: 'nozzle temperature',
  unit: '°C',
  shown: 1,
  setting: 'nozzleTemperature',
  settable: 1,
  layouts: ['height', 'tile', 'print'],
  refusals: {
    row: 'the nozzle needs seconds to reach a temperature, far longer than the way to the next cell of a row',
  },
  qualities: ['stringing', 'overhang', 'bridge', 'surface', 'layer-strength'],
  tolerance: () => 2,
  limits: (context) => ({ min: coldest(context.filament), max: hottest(context).value }),
  start(context) {
    const usual = usualTemperature[context.filament.material];
    const top = hottest(context).value;
    const low = Math.max(context.filament.temperature.min, Math.min(usual.min, top - 20));
    const high = Math.min(top, Math.max(usual.max + 5, low + 10));
    const levels: number[] = [];
    // Hot to cold: the base is printed hot, and the nozzle cools as the tower grows.
    for (let t = Math.floor(high / 5) * 5; t >= low && levels.length < 8; t -= 5) levels.push(t);
    return levels;
  },
  observe({ moves, states }, i) {
    if (!(moves.e[i]! > 0) || moves.role[i]! === roleNumber.unretract) return null;
    return { value: states[moves.state[i]!]!.nozzle, weight: moves.e[i]! };
  },
  reached: (reach) => reach.nozzle,
};
