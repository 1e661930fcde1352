import * as z from 'zod';
import { done, rounded, show } from '#core/base';
import { calculator } from './calculator';

const input = z.strictObject({
  time: z.number().positive(),
  speed: z.number().positive(),
  threshold: z.number().min(0),
  floor: z.number().positive(),
});
const formula = 'speed × time / threshold, at least the floor; wait = threshold − time at the floor speed';

/** The layer-time rule at one speed and without travel. */
export const layerTime = calculator({
  id: 'layer-time',
  label: 'shortest layer time',
  formula,
  input,
  form: {
    fields: [
      { key: 'time', label: 'the layer takes', unit: 's' },
      { key: 'speed', label: 'at', unit: 'mm/s' },
      { key: 'threshold', label: 'shortest layer time', unit: 's' },
      { key: 'floor', label: 'slowest speed', unit: 'mm/s' },
    ],
    words: ({ value, lasts, wait }) =>
      `printed at ${show(value, 1)} mm/s it lasts ${show(lasts as number, 1)} s${(wait as number) > 0 ? `, and waits ${show(wait as number, 1)} s` : ''}`,
  },
  run(i: z.infer<typeof input>) {
    const asked = i.time >= i.threshold ? i.speed : (i.speed * i.time) / i.threshold;
    const value = Math.min(i.speed, Math.max(asked, i.floor));
    const lasts = (i.time * i.speed) / value;
    const wait = Math.max(0, i.threshold - lasts);
    return done({ value, rounded: rounded(value, 2), unit: 'mm/s', formula, lasts, wait: wait < 1e-9 ? 0 : wait });
  },
});
