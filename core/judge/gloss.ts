import type { Quality } from './quality';

export const gloss: Quality = {
  id: 'gloss',
  label: 'gloss',
  anchors: ['glossy and matt bands', 'clear change', 'a change in raking light', 'hardly a change', 'even'],
  look: 'Turn the wall in raking light and look for a change of gloss from band to band.',
  fault: {
    'volumetric-flow': 'too high',
    'outer-wall-speed': 'either',
    fan: 'too low',
    'minimum-layer-time': 'too low',
  },
  side: 'look',
};
