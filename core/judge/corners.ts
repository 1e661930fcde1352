import type { Quality } from './quality';

export const corners: Quality = {
  id: 'corners',
  label: 'corners',
  anchors: ['bulge or gap at all', 'clear bulge or thin', 'at the sharpest only', 'a trace', 'crisp at every angle'],
  look: 'Look down on each corner and feel it: a bulge says too little pressure advance, a thin or open corner too much.',
  fault: { 'pressure-advance': 'either', acceleration: 'either' },
  side: 'look',
};
