import * as z from 'zod';
import { done, fault, refuse, rounded } from '#core/base';
import { calculator } from './calculator';

const input = z.strictObject({
  /** Readings under load: seconds since the load was put on, and the value. */
  readings: z
    .array(z.strictObject({ after: z.number().min(0), value: z.number() }))
    .min(2)
    .max(500),
  /** What the instrument leaves unsure, ±, in the unit of the value. */
  error: z.number().min(0),
});
const formula = 'change = last − first; creep is called only where |change| > 2 × error';

/** Whether a value drifts with time beyond what the instrument leaves unsure. */
export const creep = calculator({
  id: 'creep',
  label: 'change with time',
  formula,
  input,
  run(i: z.infer<typeof input>) {
    const sorted = [...i.readings].sort((a, b) => a.after - b.after);
    const [first, last] = [sorted[0]!, sorted[sorted.length - 1]!];
    if (last.after <= first.after)
      return refuse(fault('sums.creep', 'readings', 'all readings are of one moment', 'read again after some time'));
    const value = last.value - first.value;
    return done({
      value,
      rounded: rounded(value, 4),
      unit: '',
      formula,
      creeps: Math.abs(value) > 2 * i.error,
      perDecade: first.after > 0 ? value / Math.log10(last.after / first.after) : value,
    });
  },
});
