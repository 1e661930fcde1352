import type { Quality } from './quality';

export const removal: Quality = {
  id: 'removal',
  label: 'removal of supports',
  anchors: ['will not come off', 'with a tool, breaks', 'with a tool', 'by hand, in parts', 'by hand, in one'],
  look: 'Take the support off with the fingers first; count the pieces.',
  fault: { 'support-gap-above': 'too low', 'support-density': 'too high', 'support-interface-density': 'too high' },
  side: 'look',
};
