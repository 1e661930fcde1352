import { solid, union } from '#core/geometry';
import { box, type Body } from './body';

const section = union([
  solid([
    { x: -10, y: -10 },
    { x: 10, y: -10 },
    { x: 0, y: 0 },
    { x: 10, y: 10 },
    { x: -10, y: 10 },
    { x: 0, y: 0 },
  ]),
]);

export const selfTouching: Body = {
  id: 'check-self-touching',
  label: 'Check: outline that touches itself',
  purpose: 'One outline that runs through the same point twice: no wall may run across the waist.',
  width: 20,
  depth: 20,
  height: 4,
  breaks: [],
  volume: 800,
  at: () => section,
  side: box(20, 4),
};
