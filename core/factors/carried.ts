import type { Action } from '#core/firmware';
import type { Role } from '#core/moves';

/** What a line tells the machine once for all that follows it. */
export type Told = Extract<Action['kind'], 'heat' | 'bed' | 'fan' | 'advance' | 'acceleration' | 'limit'>;

/** Factors that are told once and hold until they are told anew, by what tells them. */
export const toldBy: Readonly<Record<string, Told>> = {
  'nozzle-temperature': 'heat',
  'bed-temperature': 'bed',
  fan: 'fan',
  'pressure-advance': 'advance',
  acceleration: 'acceleration',
  'corner-speed': 'limit',
  'junction-deviation': 'limit',
};

/** Factors that stand in the feed of the lines of some roles. */
export const rolesOf: Readonly<Record<string, readonly Role[]>> = {
  'outer-wall-speed': ['outer-wall'],
  'inner-wall-speed': ['inner-wall'],
  'infill-speed': ['infill'],
  'skin-speed': ['top-skin', 'bottom-skin'],
  'bridge-speed': ['bridge'],
  'overhang-speed': ['overhang'],
  'support-speed': ['support', 'support-interface'],
};

/**
 * Factors whose value can be changed in a finished file, whoever sliced it: what is commanded, and what stands in the
 * lines themselves. What shapes the lines (walls, infill, supports) cannot.
 */
export const carriedFactors: readonly string[] = [
  ...Object.keys(toldBy),
  'flow',
  ...Object.keys(rolesOf),
  'travel-speed',
  'retraction-distance',
  'retraction-speed',
  'z-hop',
  'z-offset',
];
