import { distance, type Point } from '#core/geometry';
import type { Band } from '../bands';

/** A nub stands out so far, is so wide at its foot, and so far from the next, mm. */
const [OUT, WIDE, PITCH] = [0.8, 1.6, 3];

/** What a person has to know to read the nubs. */
export const nubWords = (where: string): string =>
  `nubs ${where} count the bands in binary: the first stands for 1, the next for 2, then 4, 8 and 16`;

/**
 * Nubs on an edge that tell one band from another where no figure has room: one place for each binary digit of its
 * number, from `from` on, a nub where the digit is 1. They grow and shrink with the height, no steeper than 45°.
 *
 * @param from,to the edge, mm; nubs stand out to its right
 * @param number of the band, from 1
 * @param z height of the layer, mm
 * @returns points between the ends of the edge
 */
export function nubs(from: Point, to: Point, number: number, z: number, band: Pick<Band, 'from' | 'to'>): Point[] {
  const out = Math.min(OUT, z - band.from, band.to - z);
  const length = distance(from, to);
  if (out <= 0.05) return [];
  const [ux, uy] = [(to.x - from.x) / length, (to.y - from.y) / length];
  const at = (along: number, off: number): Point => ({
    x: from.x + along * ux + off * uy,
    y: from.y + along * uy - off * ux,
  });
  const points: Point[] = [];
  for (let digit = 0; number >> digit > 0; digit++) {
    const foot = PITCH * digit + 1;
    if (!((number >> digit) & 1) || foot + WIDE > length) continue;
    points.push(at(foot, 0), at(foot + 0.5, out), at(foot + WIDE - 0.5, out), at(foot + WIDE, 0));
  }
  return points;
}
