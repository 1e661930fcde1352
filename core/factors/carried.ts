/**
 * Factors whose value can be changed in a finished file, whoever sliced it: what is commanded, and what stands in the
 * lines themselves. What shapes the lines (walls, infill, supports) cannot.
 */
export const carriedFactors: readonly string[] = [
  'nozzle-temperature',
  'fan',
  'pressure-advance',
  'acceleration',
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
