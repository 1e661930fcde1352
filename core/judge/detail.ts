import type { Quality } from './quality';

export const detail: Quality = {
  id: 'detail',
  label: 'fine detail',
  anchors: ['missing', 'broken', 'legible in part', 'legible', 'crisp'],
  look: 'Read the figures and count the fins; hold them against the light.',
  fault: { 'line-width': 'too high' },
  side: 'look',
};
