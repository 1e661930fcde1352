import type { Measured } from './loops';

/** How many lines back and forth a neighbour is looked for. */
const LOOK = 8;
/** Lines whose directions cross by more than this, about 4°, do not run beside one another. */
const ASKEW = 0.07;

/** Layers of up to so many lines share their room; one that is larger has its own, and gives it back. */
const SHARED = 1 << 14;
const shared = roomFor(SHARED);

/** For each line the distance to the nearest that runs beside it among those laid shortly before and after. */
export function gapsBeside(lines: readonly Measured[]): Float64Array {
  const n = lines.length;
  // Figures side by side, since each line is looked at sixteen times.
  const [x0, y0, dx, dy, long] = n > SHARED ? roomFor(n) : shared;
  for (let i = 0; i < n; i++) {
    const l = lines[i]!;
    const { length } = l;
    x0[i] = l.x0;
    y0[i] = l.y0;
    long[i] = length;
    dx[i] = (l.x - l.x0) / length;
    dy[i] = (l.y - l.y0) / length;
  }
  const gaps = new Float64Array(n).fill(Infinity);
  for (let i = 0; i < n; i++) {
    const ux = dx[i]!;
    const uy = dy[i]!;
    const length = long[i]!;
    const ax = x0[i]!;
    const ay = y0[i]!;
    const last = Math.min(n - 1, i + LOOK);
    let nearest = Infinity;
    for (let k = Math.max(0, i - LOOK); k <= last; k++) {
      const vx = dx[k]!;
      const vy = dy[k]!;
      if (k === i || Math.abs(ux * vy - uy * vx) > ASKEW) continue;
      // Beside one another for a part of the way.
      const other = long[k]!;
      const ox = x0[k]! - ax;
      const oy = y0[k]! - ay;
      const from = ux * ox + uy * oy;
      const to = from + other * (ux * vx + uy * vy);
      const shared = Math.min(length, Math.max(from, to)) - Math.max(0, Math.min(from, to));
      if (shared <= 0.3 * Math.min(length, other)) continue;
      // Between the middles of both.
      const far = Math.abs(ux * (oy + (other * vy - length * uy) / 2) - uy * (ox + (other * vx - length * ux) / 2));
      if (far > 0.05 && far < nearest) nearest = far;
    }
    gaps[i] = nearest;
  }
  return gaps;
}

function roomFor(n: number): [Float64Array, Float64Array, Float64Array, Float64Array, Float64Array] {
  const fresh = () => new Float64Array(n);
  return [fresh(), fresh(), fresh(), fresh(), fresh()];
}
