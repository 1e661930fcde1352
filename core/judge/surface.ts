import type { Quality } from './quality';

export const surface: Quality = {
  id: 'surface',
  label: 'surface',
  anchors: ['torn, gaps', 'rough', 'lines show', 'even', 'glass-smooth'],
  look: 'In raking light, run the eye and then a fingertip over the broadest wall.',
  fault: { 'nozzle-temperature': 'either' },
  side: 'look',
};
