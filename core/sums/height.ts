import * as z from 'zod';
import { done, fault, refuse, rounded, show } from '#core/base';
import { rampAt } from '#core/plan';
import { calculator } from './calculator';

const common = {
  reading: z.number(),
  /** The upper end, where a whole stretch is good. */
  to: z.number().optional(),
  error: z.number().min(0).max(5).default(0.2),
};
const base = z.number().min(0);
const levels = z.array(z.number()).min(1).max(200);
const input = z.union([
  z.strictObject({ ...common, base, bandHeight: z.number().positive(), levels }),
  z.strictObject({ ...common, edges: z.array(z.number()).min(2).max(201), levels, ramp: z.boolean().default(false) }),
  z.strictObject({ ...common, base, start: z.number(), stepPerMm: z.number(), top: z.number().positive() }),
]);
type Input = z.infer<typeof input>;

const formula =
  'stepped: band = floor((reading − base) / band height); ramp: value = start + step per mm × (reading − base)';

/** What a specimen carries by height, mm. `bandAt` only where the value goes by steps. */
interface Carried {
  from: number;
  top: number;
  valueAt(height: number): number;
  bandAt?(height: number): number;
}

function carriedOf(i: Input): Carried | undefined {
  if ('stepPerMm' in i) {
    const clamped = (h: number) => Math.min(Math.max(h, i.base), i.top);
    return { from: i.base, top: i.top, valueAt: (h) => i.start + i.stepPerMm * (clamped(h) - i.base) };
  }
  const edges = 'edges' in i ? i.edges : [...i.levels.keys(), i.levels.length].map((n) => i.base + n * i.bandHeight);
  if (edges.length !== i.levels.length + 1 || edges.some((e, n) => n > 0 && !(e > edges[n - 1]!))) return undefined;
  const inner = edges.slice(1, -1);
  // A border belongs to the band above it, whatever rounding made of it.
  const bandAt = (h: number) => inner.filter((e) => h > e - 1e-9).length;
  const ends = { from: edges[0]!, top: edges.at(-1)! };
  if (!('ramp' in i && i.ramp)) return { ...ends, bandAt, valueAt: (h) => i.levels[bandAt(h)]! };
  return {
    ...ends,
    valueAt(h) {
      const n = bandAt(h);
      return rampAt(i.levels, n + (h - edges[n]!) / (edges[n + 1]! - edges[n]!));
    },
  };
}

/**
 * Caliper height → value, on bands or on a ramp; of a good stretch low, middle and high. A reading off the specimen is
 * refused; within the reading error of a border both bands are named.
 */
export const height = calculator({
  id: 'height',
  label: 'height on the specimen → value',
  formula,
  input,
  run(i: Input) {
    const on = carriedOf(i);
    if (!on)
      return refuse(
        fault('sums.height', 'edges', 'the borders do not rise, or are not one more than the levels', 'give them anew'),
      );
    for (const [field, h] of [['reading', i.reading] as const, ...(i.to === undefined ? [] : [['to', i.to] as const])])
      if (h < on.from - i.error || h > on.top + i.error)
        return refuse(
          fault(
            'sums.height',
            field,
            `${show(h)} mm is off the specimen, which carries levels from ${show(on.from)} to ${show(on.top)} mm`,
            'measure again from the bed side',
          ),
        );
    const off = (by: number) => Math.abs(on.valueAt(i.reading + by) - on.valueAt(i.reading));
    const plusMinus = Math.max(off(i.error), off(-i.error));
    const answer = (value: number, extra: Record<string, unknown>) =>
      done({ value, rounded: rounded(value, 3), unit: '', formula, ...extra });

    if (i.to !== undefined) {
      if (i.to < i.reading)
        return refuse(
          fault('sums.height', 'to', `${show(i.to)} mm lies below ${show(i.reading)} mm`, 'give the lower end first'),
        );
      const ends = [on.valueAt(i.reading), on.valueAt(i.to)];
      const [low, high] = [Math.min(...ends), Math.max(...ends)];
      return answer((low + high) / 2, { low, high, plusMinus: Math.max((high - low) / 2, plusMinus) });
    }
    if (!on.bandAt) return answer(on.valueAt(i.reading), { plusMinus });
    const { bandAt } = on;
    const band = bandAt(i.reading);
    const bands = [...new Set([bandAt(i.reading - i.error), band, bandAt(i.reading + i.error)])].sort((a, b) => a - b);
    return answer(on.valueAt(i.reading), { band, bands, values: bands.map((b) => levelsOf(i)[b]!) });
  },
});

const levelsOf = (i: Input): number[] => ('levels' in i ? i.levels : []);
