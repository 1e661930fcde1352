import type { Quality } from './quality';

export const wallFullness: Quality = {
  id: 'wall-fullness',
  label: 'fullness of the wall',
  anchors: ['torn open', 'holes', 'thin or wavy', 'a little thin', 'full and even'],
  look: 'Hold the wall against the light and look along it: thin, matt and torn places show where too little melts.',
  fault: { 'volumetric-flow': 'too high', flow: 'too low' },
  side: 'look',
};
