import type { Quality } from './quality';

export const firstLayer: Quality = {
  id: 'first-layer',
  label: 'first layer',
  anchors: ['scraped or loose', 'rough or apart', 'uneven', 'nearly closed', 'closed and smooth'],
  look: 'Look against the light and rub with a finger: rough and transparent is too low, lines apart that lift are too high.',
  fault: { 'z-offset': 'either' },
  side: 'look',
};
