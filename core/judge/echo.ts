import type { Quality } from './quality';

export const echo: Quality = {
  id: 'echo',
  label: 'echo after corners',
  anchors: ['many waves', 'three or four', 'two', 'one faint', 'none'],
  look: 'In raking light, look along the wall behind each corner for waves that die out.',
  fault: { acceleration: 'too high', 'outer-wall-speed': 'too high' },
  side: 'look',
};
