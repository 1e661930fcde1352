import { circle, type Polygon } from '#core/geometry';
import { box, type Body } from './body';

/** A ring with its hole, of n corners. */
export const annulus = (outer: number, inner: number, n = 96): Polygon => ({
  outer: circle(0, 0, outer, n),
  holes: [circle(0, 0, inner, n).reverse()],
});

/** Area of a regular polygon of n corners on a circle. */
export const polygonArea = (radius: number, n = 96): number => (n / 2) * radius * radius * Math.sin((2 * Math.PI) / n);

export const tube: Body = {
  id: 'check-tube',
  label: 'Check: tube',
  purpose: 'A round wall with a hole: seams, curves and travel round the hole.',
  width: 28,
  depth: 28,
  height: 10,
  breaks: [],
  volume: (polygonArea(14) - polygonArea(9)) * 10,
  at: () => [annulus(14, 9)],
  side: box(28, 10),
};
