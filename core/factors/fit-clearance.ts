import type { Factor } from './factor';
import { fitClearance as shown } from './seen';

/** Air between a plug and its socket on each side: a measure of the specimen, not a setting. */
export const fitClearance: Factor = {
  id: 'fit-clearance',
  label: 'clearance',
  unit: 'mm',
  shown: 1,
  settable: 0.01,
  layouts: ['tile', 'print'],
  refusals: { height: 'a plug has one width', row: 'a plug has one width' },
  qualities: ['fit'],
  read: shown,
  rounding: 0.02,
  tolerance: () => 0,
  limits: () => ({ min: -0.1, max: 1 }),
  start: () => [0.05, 0.1, 0.15, 0.2, 0.3, 0.4],
  sets: () => ({}),
};
