import type { Quality } from './quality';

export const fit: Quality = {
  id: 'fit',
  label: 'fit',
  anchors: ['will not enter', 'with force', 'tight', 'turns', 'turns freely'],
  look: 'Push the plug into its socket by hand, then turn it by its head; loose plugs are called so in the note.',
  fault: { 'fit-clearance': 'too low' },
  side: 'look',
};
