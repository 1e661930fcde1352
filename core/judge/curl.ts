import type { Quality } from './quality';

export const curl: Quality = {
  id: 'curl',
  label: 'curl',
  anchors: ['stands up', 'edges lift', 'edges lift a little', 'a trace', 'flat'],
  look: 'Stroke the overhanging edge upwards with a fingertip: it catches where it curls.',
  fault: { fan: 'too low', 'minimum-layer-time': 'too low', 'overhang-speed': 'too high' },
  side: 'look',
};
