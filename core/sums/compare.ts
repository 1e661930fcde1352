import * as z from 'zod';
import { done, rounded } from '#core/base';
import { calculator } from './calculator';

const input = z.strictObject({
  baseline: z.number(),
  variants: z.array(z.number()).min(1).max(50),
  /** The factor's value of each variant, for whether the change is steady. */
  levels: z.array(z.number()).max(50).optional(),
});
const formula = 'Δ = variant − baseline; % = 100 × Δ / baseline';

/** Variants against a baseline; a quantity that goes both up and down as the factor rises is flagged. */
export const compare = calculator({
  id: 'compare',
  label: 'variants against a baseline',
  formula,
  input,
  run(i: z.infer<typeof input>) {
    const rows = i.variants.map((v) => ({
      value: v,
      delta: v - i.baseline,
      percent: (100 * (v - i.baseline)) / i.baseline,
    }));
    const order = i.levels?.map((level, k) => ({ level, v: i.variants[k]! })).sort((a, b) => a.level - b.level);
    const steps = (order ?? []).slice(1).map((p, k) => Math.sign(p.v - order![k]!.v));
    const last = rows[rows.length - 1]!;
    return done({
      value: last.delta,
      rounded: rounded(last.delta, 3),
      unit: '',
      formula,
      rows,
      monotone: !(steps.includes(1) && steps.includes(-1)),
    });
  },
});
