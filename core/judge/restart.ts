import type { Quality } from './quality';

export const restart: Quality = {
  id: 'restart',
  label: 'start after travel',
  anchors: ['a notch each time', 'many notches', 'some', 'one or two', 'closed'],
  look: 'Look at the fin behind each gap: a notch or thin start says that filament is missing after the way.',
  fault: { 'retraction-distance': 'too high', 'unretract-extra': 'too low', 'retraction-speed': 'either' },
  side: 'look',
};
