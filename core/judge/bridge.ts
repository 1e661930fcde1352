import type { Quality } from './quality';

export const bridge: Quality = {
  id: 'bridge',
  label: 'bridge',
  anchors: ['fell through', 'loops hang', 'sags', 'slight sag', 'taut'],
  look: 'Look along the underside of the free span from the side.',
  fault: { 'nozzle-temperature': 'too high', fan: 'too low', 'bridge-fan': 'too low' },
  counts: { 'nozzle-temperature': { as: 0.5, since: 'cooling' } },
  side: 'look',
};
