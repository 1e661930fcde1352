import { rounded } from '#core/base';

/**
 * How a step away from the value in force is reckoned: multiplied (102 % × 0.98), or added as percentage points
 * (102 % − 2). Both agree where the value in force is 100 %.
 */
export const reckonings = ['points', 'multiplied'] as const;
/** A way in which levels are reckoned. */
export type Reckoning = (typeof reckonings)[number];

/** The step that a level (a share, 1 = 100 %) takes away from the value in force, −0.02 for two percent less. */
export const stepAway = (level: number, base: number, by: Reckoning): number =>
  by === 'multiplied' ? level / base - 1 : level - base;

/** The level that lies a step away from the value in force; full precision. */
export const levelAway = (step: number, base: number, by: Reckoning): number =>
  by === 'multiplied' ? base * (1 + step) : base + step;

/** The same steps around the value in force, reckoned the other way. Kept to 1e-9, as every level. */
export const reckonedAgain = (levels: readonly number[], base: number, from: Reckoning, to: Reckoning): number[] =>
  levels.map((level) => rounded(levelAway(rounded(stepAway(level, base, from), 9), base, to), 9));
