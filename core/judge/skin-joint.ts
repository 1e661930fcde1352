import type { Quality } from './quality';

export const skinJoint: Quality = {
  id: 'skin-joint',
  label: 'skin to wall',
  anchors: ['stands apart', 'slits on most sides', 'a slit here and there', 'closed, ridged', 'closed all round'],
  look: 'Run a fingertip along the joint of top skin and wall, outside and round the island.',
  fault: { flow: 'either', 'infill-overlap': 'either' },
  side: 'look',
};
