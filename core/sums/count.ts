import * as z from 'zod';
import { done, fault, refuse, rounded, show } from '#core/base';
import { calculator } from './calculator';

const input = z.strictObject({ n: z.int(), start: z.number(), step: z.number(), count: z.int().min(1) });
const formula = 'value = start + (n − 1) × step';

/** The nth of a row → value. */
export const count = calculator({
  id: 'count',
  label: 'nth of a row → value',
  formula,
  input,
  run(i: z.infer<typeof input>) {
    if (i.n < 1 || i.n > i.count)
      return refuse(
        fault(
          'sums.count',
          'n',
          `there is no number ${show(i.n)} in a row of ${i.count}`,
          `count from 1 to ${i.count}`,
        ),
      );
    const value = i.start + (i.n - 1) * i.step;
    return done({ value, rounded: rounded(value, 4), unit: '', formula });
  },
});
