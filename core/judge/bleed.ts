import type { Quality } from './quality';

export const bleed: Quality = {
  id: 'bleed',
  label: 'colour bleed',
  anchors: ['the other colour', 'clearly tinted', 'tinted', 'a trace', 'pure'],
  look: 'Compare the pale field with a field printed in that colour alone, in daylight.',
  fault: { 'purge-strength': 'too low' },
  side: 'look',
};
