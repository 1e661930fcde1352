import type { Quality } from './quality';

export const hairs: Quality = {
  id: 'hairs',
  label: 'hairs that brush off',
  anchors: ['a web', 'many', 'some', 'one or two', 'none'],
  look: 'Count the hairs before brushing, then brush: what comes off counts here.',
  fault: { 'standby-drop': 'too low', 'tool-retraction': 'too low' },
  side: 'look',
  brush: true,
};
