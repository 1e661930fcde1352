import * as z from 'zod';
import { circle, difference, rectangle, solid } from '#core/geometry';
import { formed } from '../form';
import { plate, plateFields, plateParams } from './plate';

const params = z.strictObject({ ...plateParams.shape, hole: z.number().min(4).max(60) });

/** A plate of known length and width with a round hole of known diameter. */
export const sizeGauge = formed({
  id: 'size-gauge',
  label: 'Size gauge',
  purpose:
    'A plate of known length and width with a round hole: outer and inner sizes, and the foot against the middle, tell compensation, first-layer inset and shrinkage.',
  guide: {
    look: 'By caliper: outer sizes at half height, the bore, and the foot just over the bed.',
    why: 'Outer and inner sizes err in opposite ways, so shrinkage and line width are told apart.',
    weak: 'A caliper in a small hole reads low: take the widest of three.',
  },
  params,
  fields: [...plateFields, { key: 'hole', label: 'hole', unit: 'mm', least: 4, most: 60, step: 0.5 }],
  layouts: ['tile'],
  judges: ['surface'],
  measures: ['outer-size', 'inner-size', 'foot-size'],
  start: () => ({ length: 40, width: 20, hole: 12, height: 5 }),
  form: (p) => {
    const { length, width, hole } = p;
    // The hole stands near one end, so that the plate has a plain half to measure.
    const at = (length - hole) / 2 - (width - hole) / 2;
    return plate(
      p,
      difference(
        [solid(rectangle(-length / 2, -width / 2, length / 2, width / 2))],
        [solid(circle(at, 0, hole / 2, 96))],
      ),
    );
  },
});
