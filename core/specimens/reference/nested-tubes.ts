import { box, type Body } from './body';
import { annulus, polygonArea } from './tube';

export const nestedTubes: Body = {
  id: 'check-nested-tubes',
  label: 'Check: nested tubes',
  purpose: 'A tube within a tube: nesting, order and travel across the gap between them.',
  width: 30,
  depth: 30,
  height: 6,
  breaks: [],
  volume: (polygonArea(15) - polygonArea(11.5) + polygonArea(8) - polygonArea(4.5)) * 6,
  at: () => [annulus(15, 11.5), annulus(8, 4.5)],
  side: box(30, 6),
};
