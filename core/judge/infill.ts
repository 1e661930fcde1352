import type { Quality } from './quality';

export const infill: Quality = {
  id: 'infill',
  label: 'infill',
  anchors: ['torn', 'gaps at crossings', 'loose ends', 'nearly even', 'even and joined'],
  look: 'Look down into the block: lines must be whole, joined to the wall, and lie on one another.',
  fault: { 'infill-density': 'either', 'infill-speed': 'too high' },
  side: 'strength',
};
