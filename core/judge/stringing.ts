import type { Quality } from './quality';

export const stringing: Quality = {
  id: 'stringing',
  label: 'stringing',
  anchors: ['webbed', 'many hairs', 'some hairs', 'one or two', 'clean'],
  look: 'Hold the air between the parts before a dark ground; do not brush it yet.',
  fault: { 'nozzle-temperature': 'too high', 'retraction-distance': 'too low', 'retraction-speed': 'too low' },
  counts: { 'nozzle-temperature': { as: 0.5, since: 'retraction' } },
  side: 'look',
  brush: true,
};
