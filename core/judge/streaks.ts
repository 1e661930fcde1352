import type { Quality } from './quality';

export const streaks: Quality = {
  id: 'streaks',
  label: 'fused streaks',
  anchors: ['many', 'some broad', 'some fine', 'one or two', 'none'],
  look: 'Rub the pale field: what stays is fused in. Hairs that brush off count elsewhere.',
  fault: { 'purge-strength': 'too low' },
  side: 'look',
};
