import { rectangle, solid, union, type Point, type Polygon } from '#core/geometry';
import { box, type Body } from './body';
import { annulus, polygonArea } from './tube';

/** Thicknesses of the fins, mm, from slimmer than any line to two lines. */
export const finThicknesses = [0.3, 0.4, 0.5, 0.6, 0.7, 0.8, 0.9, 1, 1.1, 1.2];
const [FROM, TO] = [8, 18];

const turned = (ring: Point[], turn: number): Point[] =>
  ring.map(({ x, y }) => ({ x: x * Math.cos(turn) - y * Math.sin(turn), y: x * Math.sin(turn) + y * Math.cos(turn) }));

const section: Polygon[] = union([
  annulus(FROM + 0.2, 6),
  ...finThicknesses.map((t, i) =>
    solid(turned(rectangle(FROM, -t / 2, TO, t / 2), (2 * Math.PI * i) / finThicknesses.length)),
  ),
]);

export const fins: Body = {
  id: 'check-fins',
  label: 'Check: slim fins',
  purpose: 'A hub with ten fins of 0.3 to 1.2 mm: none may be lost, none overfilled.',
  width: 36,
  depth: 36,
  height: 4,
  breaks: [],
  volume:
    (polygonArea(FROM + 0.2) - polygonArea(6) + finThicknesses.reduce((s, t) => s + t * (TO - FROM - 0.2), 0)) * 4,
  at: () => section,
  side: box(36, 4),
};
