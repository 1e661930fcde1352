import * as z from 'zod';
import { done, fault, refuse, rounded } from '#core/base';
import { calculator } from './calculator';

const input = z.strictObject({
  commanded: z.number().positive(),
  mark: z.number().positive(),
  remainder: z.number().min(0),
  stepsPerMm: z.number().positive().optional(),
  rotationDistance: z.number().positive().optional(),
  error: z.number().min(0).default(1),
});
const formula = 'fed = mark − remainder; steps/mm × commanded / fed; rotation distance × fed / commanded';

/** Extruder feed: steps/mm and rotation distance go opposite ways; within the reading error it says leave it. */
export const feed = calculator({
  id: 'feed',
  label: 'extruder feed',
  formula,
  input,
  run(i: z.infer<typeof input>) {
    const fed = i.mark - i.remainder;
    if (!(fed > 0))
      return refuse(
        fault('sums.feed', 'remainder', 'nothing was fed: the remainder is not less than the mark', 'measure again'),
      );
    const deviation = fed / i.commanded - 1;
    const leaveIt = Math.abs(fed - i.commanded) <= i.error;
    return done({
      value: fed,
      rounded: rounded(fed, 2),
      unit: 'mm',
      formula,
      deviation,
      leaveIt,
      ...(i.stepsPerMm !== undefined && { stepsPerMm: (i.stepsPerMm * i.commanded) / fed }),
      ...(i.rotationDistance !== undefined && { rotationDistance: (i.rotationDistance * fed) / i.commanded }),
    });
  },
});
