import type { Quality } from './quality';

export const underside: Quality = {
  id: 'underside',
  label: 'underside',
  anchors: ['hangs in strands', 'sags', 'wavy', 'a little wavy', 'flat'],
  look: 'Look at the face that the support carried.',
  fault: { 'support-gap-above': 'too high', 'support-density': 'too low' },
  side: 'look',
};
