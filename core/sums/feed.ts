import * as z from 'zod';
import { done, fault, refuse, rounded, show } from '#core/base';
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
  form: {
    fields: [
      { key: 'commanded', label: 'asked for', unit: 'mm' },
      { key: 'mark', label: 'mark at', unit: 'mm' },
      { key: 'remainder', label: 'left to the mark', unit: 'mm' },
      { key: 'stepsPerMm', label: 'steps by now', unit: 'steps/mm', may: true },
      { key: 'rotationDistance', label: 'rotation distance by now', unit: 'mm', may: true },
    ],
    words: ({ value, deviation, leaveIt, stepsPerMm, rotationDistance }) =>
      [
        `fed ${show(value, 1)} mm, ${show(Math.abs(100 * (deviation as number)), 1)} % ${(deviation as number) < 0 ? 'too little' : 'too much'}`,
        leaveIt === true ? 'within what can be read: leave it' : '',
        typeof stepsPerMm === 'number' ? `set ${show(stepsPerMm, 2)} steps/mm` : '',
        typeof rotationDistance === 'number' ? `set a rotation distance of ${show(rotationDistance, 3)} mm` : '',
      ]
        .filter((w) => w !== '')
        .join('; '),
  },
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
