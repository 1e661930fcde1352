import { boundsOf, cutLines, type Point } from '#core/geometry';
import type { Pattern } from './pattern';

/** Hexagonal cells, as waves side by side; walls that two waves share are two lines beside one another. */
export const honeycomb: Pattern = {
  id: 'honeycomb',
  label: 'honeycomb',
  even: true,
  solid: false,
  words: () => '',
  lines(area, spacing, { angle, line }) {
    // A wave of side a has 4 a of line on 3 a × (√3/2) a of plane.
    const side = 1.54 * spacing;
    const rise = (side * Math.sqrt(3)) / 2;
    const inset = Math.min(line / 2, rise / 4);
    const turn = (angle * Math.PI) / 180;
    const cos = Math.cos(turn);
    const sin = Math.sin(turn);
    const box = boundsOf(
      area.map((p) => ({
        outer: p.outer.map((q) => ({ x: q.x * cos + q.y * sin, y: q.y * cos - q.x * sin })),
        holes: [],
      })),
    );
    if (!box) return [];
    const waves: Point[][] = [];
    for (let row = Math.floor(box.y0 / rise) - 1; row * rise <= box.y1; row++) {
      const low = row * rise + inset;
      const high = (row + 1) * rise - inset;
      const wave: Point[] = [];
      const add = (u: number, v: number) => wave.push({ x: u * cos - v * sin, y: u * sin + v * cos });
      const shift = row % 2 === 0 ? 0 : 1.5 * side;
      for (let k = Math.floor((box.x0 - shift) / (3 * side)) - 1; k * 3 * side + shift <= box.x1; k++) {
        const u = k * 3 * side + shift;
        add(u, low);
        add(u + side, low);
        add(u + 1.5 * side, high);
        add(u + 2.5 * side, high);
      }
      waves.push(wave);
    }
    return cutLines(waves, area);
  },
};
