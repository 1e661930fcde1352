import type { Quality } from './quality';

export const overhang: Quality = {
  id: 'overhang',
  label: 'overhang',
  anchors: ['hangs down', 'droops from 45°', 'rough from 60°', 'a little at the lip', 'even to the lip'],
  look: 'Turn the lip up and look along it: how far up does it stay even?',
  fault: { 'nozzle-temperature': 'too high', fan: 'too low', 'overhang-speed': 'too high' },
  counts: { 'nozzle-temperature': { as: 0.5, since: 'cooling' } },
  side: 'look',
};
