import * as z from 'zod';
import { done, fault, refuse, rounded } from '#core/base';
import { calculator } from './calculator';

const input = z.strictObject({
  /** Loads at which specimens broke, N; left out specimens carry a reason. */
  loads: z
    .array(z.strictObject({ load: z.number().positive(), excluded: z.string().max(200).optional() }))
    .min(1)
    .max(100),
  /** Width and thickness of the narrow part, mm. */
  width: z.number().positive(),
  thickness: z.number().positive(),
});
const formula = 'stress = load / (width × thickness); mean and sd (n − 1) over the specimens that count';

/** Strength from breaking loads, MPa (N/mm²). */
export const stress = calculator({
  id: 'stress',
  label: 'strength from loads',
  formula,
  input,
  run(i: z.infer<typeof input>) {
    const area = i.width * i.thickness;
    const own = i.loads.filter((l) => l.excluded === undefined).map((l) => l.load / area);
    if (own.length === 0)
      return refuse(fault('sums.stress', 'loads', 'every specimen is left out', 'let at least one count'));
    const value = own.reduce((a, b) => a + b, 0) / own.length;
    const sd = own.length > 1 ? Math.sqrt(own.reduce((s, v) => s + (v - value) ** 2, 0) / (own.length - 1)) : 0;
    return done({
      value,
      rounded: rounded(value, 2),
      unit: 'MPa',
      formula,
      sd,
      n: own.length,
      excluded: i.loads.length - own.length,
    });
  },
});
