import type { Quality } from './quality';

export const release: Quality = {
  id: 'release',
  label: 'release',
  anchors: ['damages bed or part', 'needs force and a tool', 'hard', 'by hand', 'comes off by itself when cool'],
  look: 'Let the bed cool, then take the part off by hand: too strong a hold is a fault too.',
  fault: { 'bed-temperature': 'too high', 'bed-adhesive': 'either' },
  side: 'look',
};
