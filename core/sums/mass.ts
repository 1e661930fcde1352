import * as z from 'zod';
import { done, rounded, show } from '#core/base';
import { costOf, massOf } from '#core/context';
import { calculator } from './calculator';

const figures = { length: z.number().min(0), diameter: z.number().positive(), density: z.number().positive() };
const massInput = z.strictObject({ ...figures, weighed: z.number().positive().optional() });
const massFormula = 'π/4 × diameter² × length × density';

/** Length of filament → mass; a weighed mass against it as an error, positive where more was weighed; flagged beyond 5 %. */
export const mass = calculator({
  id: 'mass',
  label: 'length → mass',
  formula: massFormula,
  input: massInput,
  form: {
    fields: [
      { key: 'length', label: 'length', unit: 'mm' },
      { key: 'diameter', label: 'filament', unit: 'mm' },
      { key: 'density', label: 'density', unit: 'g/cm³' },
      { key: 'weighed', label: 'weighed', unit: 'g', may: true },
    ],
    words: ({ value, error, flagged }) =>
      `${show(value, 2)} g${typeof error === 'number' ? `; the scale says ${show(Math.abs(100 * error), 1)} % ${error < 0 ? 'less' : 'more'}${flagged === true ? ': check diameter, density and feed' : ''}` : ''}`,
  },
  run(i: z.infer<typeof massInput>) {
    const value = massOf(i, i.length);
    const error = i.weighed === undefined ? undefined : i.weighed / value - 1;
    return done({
      value,
      rounded: rounded(value, 2),
      unit: 'g',
      formula: massFormula,
      ...(error !== undefined && { error, flagged: Math.abs(error) > 0.05 }),
    });
  },
});

const costInput = z.strictObject({ ...figures, pricePerKg: z.number().min(0) });
const costFormula = `${massFormula} × price / 1000`;

/** Length of filament → price. */
export const cost = calculator({
  id: 'cost',
  label: 'length → price',
  formula: costFormula,
  input: costInput,
  form: {
    fields: [
      { key: 'length', label: 'length', unit: 'mm' },
      { key: 'diameter', label: 'filament', unit: 'mm' },
      { key: 'density', label: 'density', unit: 'g/cm³' },
      { key: 'pricePerKg', label: 'price of a kilogram', unit: '' },
    ],
    words: ({ value }) => show(value, 2),
  },
  run(i: z.infer<typeof costInput>) {
    const value = costOf(i, i.length);
    return done({ value, rounded: rounded(value, 2), unit: '', formula: costFormula });
  },
});
