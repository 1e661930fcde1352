import { rectangle, solid } from '#core/geometry';
import { box, type Body } from './body';

export const cube: Body = {
  id: 'check-cube',
  label: 'Check: cube',
  purpose: 'A plain block: walls, skins and infill have volumes that can be worked out by hand.',
  width: 20,
  depth: 20,
  height: 8,
  breaks: [],
  volume: 3200,
  at: () => [solid(rectangle(-10, -10, 10, 10))],
  side: box(20, 8),
};
