import { boundsOf, cutLines, type Point } from '#core/geometry';
import type { Pattern } from './pattern';

/** Points of a wave over one wavelength, so that a chord strays by about 10 µm. */
const fine = (wave: number) => Math.min(48, Math.max(8, Math.ceil(Math.sqrt(82 * wave))));

/**
 * The gyroid sin x cos y + sin y cos z + sin z cos x = 0, cut at the height of the layer. The equation is linear in sine
 * and cosine of one coordinate, so each line is a closed formula in the other: of x where |cos z| ≤ 1/√2, else of y.
 */
export const gyroid: Pattern = {
  id: 'gyroid',
  label: 'gyroid',
  even: true,
  solid: false,
  words: ({ z }) => z.toFixed(3),
  lines(area, spacing, { angle, z }) {
    const wave = 2.44 * spacing;
    const turn = (angle * Math.PI) / 180;
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
    const box = boundsOf(
      area.map((p) => ({
        outer: p.outer.map((q) => ({ x: q.x * cos + q.y * sin, y: q.y * cos - q.x * sin })),
        holes: [],
      })),
    );
    if (!box) return [];
    const k = (2 * Math.PI) / wave;
    const [cz, sz] = [Math.cos(z * k), Math.sin(z * k)];
    const upright = Math.abs(cz) <= Math.SQRT1_2;
    const [t0, t1, a0, a1] = upright ? [box.y0, box.y1, box.x0, box.x1] : [box.x0, box.x1, box.y0, box.y1];
    const step = wave / fine(wave);
    const steps: number[] = [];
    for (let t = Math.floor(t0 / step) * step; t <= t1 + step; t += step) steps.push(t);
    const lines: Point[][] = [];
    for (const branch of [0, 1]) {
      // One line of this branch, measured across; the others lie whole wavelengths beside it.
      const across = steps.map((t) => {
        const [st, ct] = [Math.sin(t * k), Math.cos(t * k)];
        const [a, b, c] = upright ? [ct, sz, -cz * st] : [cz, st, -sz * ct];
        const q = Math.asin(Math.max(-1, Math.min(1, c / Math.hypot(a, b))));
        const phase = Math.atan2(b, a);
        return ((branch === 0 ? q : Math.PI - q) - phase) / k;
      });
      unwrapped(across, wave);
      const low = Math.min(...across);
      const high = Math.max(...across);
      for (let n = Math.floor((a0 - high) / wave); n <= Math.ceil((a1 - low) / wave); n++) {
        lines.push(
          steps.map((t, i) => {
            const u = upright ? across[i]! + n * wave : t;
            const v = upright ? t : across[i]! + n * wave;
            return { x: u * cos - v * sin, y: u * sin + v * cos };
          }),
        );
      }
    }
    return cutLines(lines, area);
  },
};

/** Takes out jumps of whole wavelengths. */
function unwrapped(values: number[], wave: number): void {
  for (let i = 1; i < values.length; i++) values[i]! -= Math.round((values[i]! - values[i - 1]!) / wave) * wave;
}
