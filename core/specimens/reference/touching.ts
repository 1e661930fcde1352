import { rectangle, solid, union } from '#core/geometry';
import { box, type Body } from './body';

const section = union([solid(rectangle(-10, -10, 0, 0)), solid(rectangle(0, 0, 10, 10))]);

export const touching: Body = {
  id: 'check-touching',
  label: 'Check: touching islands',
  purpose: 'Two squares that meet in one point: each keeps its own walls.',
  width: 20,
  depth: 20,
  height: 4,
  breaks: [],
  volume: 800,
  at: () => section,
  side: box(20, 4),
};
