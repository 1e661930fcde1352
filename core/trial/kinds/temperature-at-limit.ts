import { hottest } from '#core/context';
import type { Kind } from './kind';
import { axis, fastest, within } from './levels';

/** How far from the temperature in force it goes, in steps of 5 °C: what lacks strength where it is fast wants it hotter. */
const [HOTTER, COLDER, STEP] = [4, 1, 5];

/** How hot a layer must be laid to hold as fast as this pair prints: a tower tells it at a moderate speed only. */
export const temperatureAtLimit: Kind = {
  id: 'temperature-at-limit',
  label: 'Temperature at the flow limit',
  stop: 'temperature',
  about: 'the loop wall as fast as it melts, bands from hot to cold: strength and surface where it is fast',
  specimen: 'loop-wall',
  recipe: (context, s) => {
    const levels = Array.from({ length: HOTTER + COLDER + 1 }, (_, i) => s.nozzleTemperature + STEP * (HOTTER - i));
    return {
      axes: [
        axis('nozzle-temperature', 'height', within(levels, context.filament.temperature.min, hottest(context).value)),
      ],
      params: { bandHeight: 2.4 },
      frozen: { brimWidth: 0, minimumLayerTime: 0, outerWallSpeed: fastest(context, s, Infinity) },
    };
  },
};
