import type { Factor, Layout } from './factor';

/** A condition of the print that no file sets: each level is a print of its own. */
function condition(id: string, label: string, choices: readonly string[], qualities: readonly string[]): Factor {
  const why = 'it holds for the whole print';
  const layouts: Layout[] = ['print'];
  return {
    id,
    label,
    unit: '',
    shown: 1,
    settable: 1,
    layouts,
    refusals: { height: why, row: why, tile: why },
    qualities,
    choices,
    tolerance: () => 0,
    limits: () => ({ min: 0, max: choices.length - 1 }),
    start: () => choices.map((_, i) => i).slice(0, 3),
    sets: () => ({}),
  };
}

/** What the bed is covered with. */
export const bedAdhesive = condition(
  'bed-adhesive',
  'adhesive',
  ['bare bed', 'washed bed', 'glue stick', 'adhesive liquid', 'tape'],
  ['corner-lift', 'release'],
);

/** How the filament was dried before. */
export const drying = condition(
  'drying',
  'drying',
  ['as it was', 'dried 4 h', 'dried 8 h', 'dried over night'],
  ['stringing', 'surface', 'layer-strength'],
);
