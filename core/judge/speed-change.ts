import type { Quality } from './quality';

export const speedChange: Quality = {
  id: 'speed-change',
  label: 'changes of speed',
  anchors: ['breaks up', 'thick and thin', 'clearly uneven', 'a trace', 'even all along'],
  look: 'Look along the line at the two marks: thin where it speeds up and thick where it slows says too low; the other way round, too high.',
  fault: { 'pressure-advance': 'either' },
  side: 'look',
};
