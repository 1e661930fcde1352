import { hottest } from '#core/context';
import type { Kind } from './kind';
import { axis, fastest, within } from './levels';

/** It begins so much hotter than what is in force, °C, since what lacks strength where it is fast wants it hotter. */
const HOTTER = 20;
const [COUNT, STEP] = [6, 5];

/** How hot a layer must be laid to hold as fast as this pair prints: a tower tells it at a moderate speed only. */
export const temperatureAtLimit: Kind = {
  id: 'temperature-at-limit',
  label: 'Temperature at the flow limit',
  stop: 'temperature',
  about: 'the loop wall as fast as it melts, bands from hot to cold: how well layers hold where it is fast',
  specimen: 'loop-wall',
  recipe: (context, s) => {
    // Where it cannot be so much hotter it reaches further down: two bands would tell nothing.
    const top = Math.min(s.nozzleTemperature + HOTTER, hottest(context).value);
    const levels = Array.from({ length: COUNT }, (_, i) => top - STEP * i);
    return {
      axes: [axis('nozzle-temperature', 'height', within(levels, context.filament.temperature.min, top))],
      params: { bandHeight: 2.4 },
      frozen: { brimWidth: 0, minimumLayerTime: 0, outerWallSpeed: fastest(context, s, Infinity) },
    };
  },
};
