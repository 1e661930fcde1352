import * as z from 'zod';
import { done, rounded, show } from '#core/base';
import { calculator } from './calculator';

const input = z.strictObject({ factors: z.array(z.number().positive()).min(1).max(10) });
const formula = 'multiplied: f₁ × f₂ × …; points: 100 + Σ (100 fᵢ − 100)';

/** Coarse and fine passes of flow, as shares: multiplied and as added percentage points. Never rounded between passes. */
export const flow = calculator({
  id: 'flow',
  label: 'flow from several passes',
  formula,
  input,
  form: {
    fields: [{ key: 'factors', label: 'passes', unit: '%', shown: 100, list: true }],
    words: ({ multiplied, points }) =>
      `multiplied ${show(100 * (multiplied as number), 2)} %; as added points ${show(100 * (points as number), 2)} %`,
  },
  run(i: z.infer<typeof input>) {
    const value = i.factors.reduce((a, b) => a * b, 1);
    const points = 1 + i.factors.reduce((sum, f) => sum + (f - 1), 0);
    return done({ value, rounded: rounded(value, 4), unit: '', formula, multiplied: value, points });
  },
});
