import * as z from 'zod';
import { circle, difference, rectangle, solid } from '#core/geometry';
import { formed } from '../form';
import { boxPath } from '../paths';

const params = z.strictObject({
  length: z.number().min(20).max(200),
  width: z.number().min(14).max(100),
  hole: z.number().min(4).max(60),
  height: z.number().min(3).max(30),
});

/** A plate of known length and width with a round hole of known diameter. */
export const sizeGauge = formed({
  id: 'size-gauge',
  label: 'Size gauge',
  purpose:
    'A plate of known length and width with a round hole: outer and inner sizes, and the foot against the middle, tell compensation, first-layer inset and shrinkage.',
  params,
  fields: [
    { key: 'length', label: 'length', unit: 'mm', least: 20, most: 200, step: 1 },
    { key: 'width', label: 'width', unit: 'mm', least: 14, most: 100, step: 1 },
    { key: 'hole', label: 'hole', unit: 'mm', least: 4, most: 60, step: 0.5 },
    { key: 'height', label: 'height', unit: 'mm', least: 3, most: 30, step: 0.5 },
  ],
  layouts: ['tile'],
  judges: ['surface'],
  measures: ['outer-size', 'inner-size', 'foot-size'],
  start: () => ({ length: 40, width: 20, hole: 12, height: 5 }),
  form: ({ length, width, hole, height }) => {
    const at = (length - hole) / 2 - (width - hole) / 2;
    const section = difference(
      [solid(rectangle(-length / 2, -width / 2, length / 2, width / 2))],
      [solid(circle(at, 0, hole / 2, 96))],
    );
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
