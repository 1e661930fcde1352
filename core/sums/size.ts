import * as z from 'zod';
import { done, rounded } from '#core/base';
import { calculator } from './calculator';

const input = z.strictObject({
  /** A long outer size and an inner size, as drawn and as measured, mm. */
  outer: z.strictObject({ drawn: z.number().positive(), measured: z.number().positive() }),
  inner: z.strictObject({ drawn: z.number().positive(), measured: z.number().positive() }),
  foot: z.number().positive().optional(),
  /** What the caliper leaves unsure, mm. */
  error: z.number().min(0).default(0.02),
});
const formula =
  'outer = drawn × (1 − s) + 2d, inner = drawn × (1 − s) − 2d: two readings give shrinkage s and growth d of the outline; foot − outer = 2 × inset';

/**
 * Compensation and shrinkage told apart: shrinkage takes from outer and inner sizes alike, a line too wide adds to the
 * outer and takes from the inner.
 */
export const size = calculator({
  id: 'size',
  label: 'compensation and shrinkage',
  formula,
  input,
  run(i: z.infer<typeof input>) {
    // Sum and difference of the two equations.
    const scale = (i.outer.measured + i.inner.measured) / (i.outer.drawn + i.inner.drawn);
    const growth = (i.outer.measured - i.outer.drawn * scale) / 2;
    const foot = i.foot === undefined ? undefined : Math.max(0, (i.foot - i.outer.measured) / 2);
    return done({
      value: -growth,
      rounded: rounded(-growth, 3),
      unit: 'mm',
      formula,
      compensation: -growth,
      shrinkage: 1 - scale,
      leaveIt: Math.abs(growth) <= i.error,
      ...(foot !== undefined && { inset: foot }),
    });
  },
});
