import * as z from 'zod';
import { done, rounded } from '#core/base';
import { calculator } from './calculator';

const input = z.strictObject({
  flow: z.number().positive(),
  expected: z.number().positive(),
  readings: z.array(z.number().positive()).min(1).max(50),
});
const formula = 'flow × expected / mean of the readings';

/** Flow from the measured thickness of a single wall. */
export const wallFlow = calculator({
  id: 'wall-flow',
  label: 'flow from a measured wall',
  formula,
  input,
  run(i: z.infer<typeof input>) {
    const mean = i.readings.reduce((a, b) => a + b, 0) / i.readings.length;
    const value = (i.flow * i.expected) / mean;
    return done({ value, rounded: rounded(value, 4), unit: '', formula, mean });
  },
});
