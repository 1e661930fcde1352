import type { Measured } from './loops';

/** How many lines back and forth a neighbour is looked for. */
const LOOK = 8;

/** For each line the distance to the nearest that runs beside it among those laid shortly before and after. */
export function gapsBeside(lines: readonly Measured[]): Float64Array {
  const n = lines.length;
  // Figures side by side: each line is looked at sixteen times.
  const [x0, y0, dx, dy] = Array.from({ length: 4 }, () => new Float64Array(n)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const long = new Float64Array(n);
  lines.forEach((l, i) => {
    [x0[i], y0[i], long[i]] = [l.x0, l.y0, l.length];
    [dx[i], dy[i]] = [(l.x - l.x0) / l.length, (l.y - l.y0) / l.length];
  });
  const gaps = new Float64Array(n).fill(Infinity);
  for (let i = 0; i < n; i++) {
    const [ux, uy, length] = [dx[i]!, dy[i]!, long[i]!];
    for (let k = Math.max(0, i - LOOK); k <= Math.min(n - 1, i + LOOK); k++) {
      if (k === i) continue;
      // Within about 4° of one direction, beside one another for a part of the way.
      if (Math.abs(ux * dy[k]! - uy * dx[k]!) > 0.07) continue;
      const other = long[k]!;
      const [ox, oy] = [x0[k]! - x0[i]!, y0[k]! - y0[i]!];
      const from = ux * ox + uy * oy;
      const to = from + other * (ux * dx[k]! + uy * dy[k]!);
      const shared = Math.min(length, Math.max(from, to)) - Math.max(0, Math.min(from, to));
      if (shared <= 0.3 * Math.min(length, other)) continue;
      // Between the middles of both.
      const far = Math.abs(
        ux * (oy + (other * dy[k]! - length * uy) / 2) - uy * (ox + (other * dx[k]! - length * ux) / 2),
      );
      if (far > 0.05 && far < gaps[i]!) gaps[i] = far;
    }
  }
  return gaps;
}
