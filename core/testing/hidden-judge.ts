import { normal, seeded, type Random } from '#core/base';

/**
 * A simulated judge, frozen: what a person would say of cells whose true response is known. Written apart from the code
 * that settles and of other formulas, so that the settling is not tried on its own assumptions. Positions in level
 * steps, responses in score points (4 is faultless).
 */
export interface Hidden {
  family: Family;
  /** The best position, or the place where the fault begins. */
  optimum: number;
  response(x: number): number;
}

export const families = ['smooth', 'asymmetric', 'threshold'] as const;
export type Family = (typeof families)[number];

export const NOISE = 0.5;

/** A hidden response of a family with its optimum in a range. Half-widths of the good region 1.5 to 4 steps. */
export function hiddenOf(family: Family, random: Random, from: number, to: number): Hidden {
  const optimum = from + (to - from) * random();
  const half = 1.5 + 2.5 * random();
  if (family === 'threshold') {
    // Faultless up to the threshold, then down by three points within a fraction of a step.
    const soft = 0.05 + 0.25 * random();
    return { family, optimum, response: (x) => 4 - 1.5 * (1 + Math.tanh((x - optimum) / (2 * soft))) };
  }
  const other = family === 'smooth' ? half : 1.5 + 2.5 * random();
  // The good region is where a person says 3 or 4: at its half-width the response is 2.5. A parabola near the top, a
  // straight fall further out.
  return {
    family,
    optimum,
    response: (x) => {
      const u = Math.abs(x - optimum) / (x < optimum ? half : other);
      return Math.max(0, 4 - 1.5 * (u <= 1 ? u * u : 2 * u - 1));
    },
  };
}

/** A whole score from 0 to 4. */
export const said = (response: number, random: Random): number =>
  Math.min(4, Math.max(0, Math.round(response + NOISE * normal(random))));

export { seeded };
