import * as z from 'zod';
import { done, rounded, show } from '#core/base';
import { calculator } from './calculator';

const input = z.strictObject({
  /** Purged at each change before the multiplier, mm³. */
  volumes: z.array(z.number().min(0)).min(1).max(100_000),
  multiplier: z.number().min(0).max(5).default(1),
  density: z.number().positive(),
  copies: z.int().min(1).max(1000).default(1),
});
const formula = 'mass = Σ volume × multiplier × density; per piece = mass / copies';

/** What tool changes purge, g, and what of it falls on each of several copies printed together. */
export const purge = calculator({
  id: 'purge',
  label: 'purge at tool changes',
  formula,
  input,
  form: {
    fields: [
      { key: 'volumes', label: 'purged at each change', unit: 'mm³', list: true },
      { key: 'multiplier', label: 'times', unit: '', may: true },
      { key: 'density', label: 'density', unit: 'g/cm³' },
      { key: 'copies', label: 'copies in a run', unit: '', may: true },
    ],
    words: ({ value, perPiece }) => `${show(value, 2)} g in all, ${show(perPiece as number, 2)} g a piece`,
  },
  run(i: z.infer<typeof input>) {
    const volume = i.volumes.reduce((a, b) => a + b, 0) * i.multiplier;
    const value = (volume * i.density) / 1000;
    return done({ value, rounded: rounded(value, 2), unit: 'g', formula, volume, perPiece: value / i.copies });
  },
});
