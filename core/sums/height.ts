import * as z from 'zod';
import { done, fault, floorOf, refuse, rounded, show } from '#core/base';
import { calculator } from './calculator';

const common = { reading: z.number(), base: z.number().min(0), error: z.number().min(0).max(5).default(0.2) };
const input = z.union([
  z.strictObject({ ...common, bandHeight: z.number().positive(), levels: z.array(z.number()).min(1).max(200) }),
  z.strictObject({ ...common, start: z.number(), stepPerMm: z.number(), top: z.number().positive() }),
]);

const formula =
  'stepped: band = floor((reading − base) / band height); ramp: value = start + step per mm × (reading − base)';

/**
 * Caliper height → value, on bands or on a ramp. A reading off the specimen is refused; within the reading error of a
 * border both bands are named.
 */
export const height = calculator({
  id: 'height',
  label: 'height on the specimen → value',
  formula,
  input,
  run(i: z.infer<typeof input>) {
    const up = i.reading - i.base;
    const top = 'top' in i ? i.top : i.base + i.levels.length * i.bandHeight;
    if (up < -i.error || i.reading > top + i.error) {
      return refuse(
        fault(
          'sums.height',
          'reading',
          `${show(i.reading)} mm is off the specimen, which carries levels from ${show(i.base)} to ${show(top)} mm`,
          'measure again from the bed side',
        ),
      );
    }
    if ('top' in i) {
      const value = i.start + i.stepPerMm * Math.min(Math.max(up, 0), i.top - i.base);
      return done({ value, rounded: rounded(value, 3), unit: '', formula, plusMinus: Math.abs(i.stepPerMm) * i.error });
    }
    const last = i.levels.length - 1;
    const bandAt = (h: number) => Math.min(last, Math.max(0, floorOf(h / i.bandHeight)));
    const index = bandAt(up);
    const bands = [...new Set([bandAt(up - i.error), index, bandAt(up + i.error)])].sort((a, b) => a - b);
    const value = i.levels[index]!;
    return done({
      value,
      rounded: rounded(value, 3),
      unit: '',
      formula,
      band: index,
      bands,
      values: bands.map((b) => i.levels[b]!),
    });
  },
});
