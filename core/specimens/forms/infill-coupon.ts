import * as z from 'zod';
import { rectangle, solid } from '#core/geometry';
import { formed } from '../form';
import { boxPath } from '../paths';

const params = z.strictObject({
  length: z.number().min(20).max(200),
  width: z.number().min(10).max(100),
  height: z.number().min(2).max(40),
});

/** A block without a lid: its infill is seen, weighed, loaded and filled with water. */
export const infillCoupon = formed({
  id: 'infill-coupon',
  label: 'Infill coupon',
  purpose:
    'A block printed without a lid: the infill is seen from above; weigh it, load it across its middle, fill it with water to learn how much air is inside.',
  params,
  fields: [
    { key: 'length', label: 'length', unit: 'mm', least: 20, most: 200, step: 5 },
    { key: 'width', label: 'width', unit: 'mm', least: 10, most: 100, step: 5 },
    { key: 'height', label: 'height', unit: 'mm', least: 2, most: 40, step: 1 },
  ],
  layouts: ['tile', 'height'],
  judges: ['infill', 'surface'],
  measures: ['mass', 'load', 'water'],
  start: () => ({ length: 40, width: 20, height: 8 }),
  form: ({ length, width, height }) => {
    const section = [solid(rectangle(-length / 2, -width / 2, length / 2, width / 2))];
    return {
      width: length,
      depth: width,
      height,
      breaks: [],
      at: () => [{ outline: section }],
      above: section,
      side: boxPath(-length / 2, 0, length / 2, height),
    };
  },
});
