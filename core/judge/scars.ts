import type { Quality } from './quality';

export const scars: Quality = {
  id: 'scars',
  label: 'scars',
  anchors: ['torn', 'deep marks', 'marks', 'faint marks', 'smooth'],
  look: 'Feel where the support stood, with a fingertip and in raking light.',
  fault: { 'support-gap-above': 'too low' },
  side: 'look',
};
