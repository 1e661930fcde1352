import * as z from 'zod';
import { done, rounded, show } from '#core/base';
import { calculator } from './calculator';

const input = z.strictObject({
  first: z.number().min(0).max(1),
  full: z.number().min(0).max(1),
  from: z.int().min(1),
  layer: z.int().min(0),
  fullRpm: z.number().positive().optional(),
});
const formula = 'layer k: f₁ + (full − f₁) × k / n; full from layer n';

/** Fan share of a layer while the fan ramps up over the first layers. */
export const fanRamp = calculator({
  id: 'fan-ramp',
  label: 'fan over the first layers',
  formula,
  input,
  form: {
    fields: [
      { key: 'first', label: 'fan on the first layer', unit: '%', shown: 100 },
      { key: 'full', label: 'full fan', unit: '%', shown: 100 },
      { key: 'from', label: 'full from layer', unit: '' },
      { key: 'layer', label: 'layer', unit: '' },
      { key: 'fullRpm', label: 'speed of the full fan', unit: 'rpm', may: true },
    ],
    words: ({ value, rpm }) => `${show(100 * value, 1)} %${typeof rpm === 'number' ? `, ${show(rpm, 0)} rpm` : ''}`,
  },
  run(i: z.infer<typeof input>) {
    const value = i.first + (i.full - i.first) * Math.min(1, i.layer / i.from);
    return done({
      value,
      rounded: rounded(value, 4),
      unit: '',
      formula,
      ...(i.fullRpm !== undefined && { rpm: value * i.fullRpm }),
    });
  },
});
