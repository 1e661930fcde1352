import type { Quality } from './quality';

export const cornerLift: Quality = {
  id: 'corner-lift',
  label: 'corner lift',
  anchors: ['came off', 'lifted by 1 mm or more', 'lifted a little', 'a hair at one corner', 'flat'],
  look: 'Lay the bar on a flat plate and press one end: how far does the other rise?',
  fault: { 'bed-temperature': 'too low', 'first-layer-temperature': 'too low' },
  side: 'look',
};
