import type { Action } from '#core/firmware';

/** What a line tells the machine once for all that follows it. */
export type Told = Extract<Action['kind'], 'heat' | 'fan' | 'advance' | 'acceleration'>;

/** Factors that are told once and hold until they are told anew, by what tells them. */
export const toldBy: Readonly<Record<string, Told>> = {
  'nozzle-temperature': 'heat',
  fan: 'fan',
  'pressure-advance': 'advance',
  acceleration: 'acceleration',
};

/**
 * Factors whose value can be changed in a finished file, whoever sliced it: what is commanded, and what stands in the
 * lines themselves. What shapes the lines (walls, infill, supports) cannot.
 */
export const carriedFactors: readonly string[] = [
  ...Object.keys(toldBy),
  'flow',
  'outer-wall-speed',
  'inner-wall-speed',
  'infill-speed',
  'skin-speed',
  'retraction-distance',
  'retraction-speed',
  'z-hop',
  'z-offset',
];
