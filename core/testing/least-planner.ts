import type { Moves } from '#core/moves';

/**
 * The least that plans motion: three coordinates, one corner rule, two passes, three roots a move. It is a floor for
 * the bench, and knows neither extruder nor axes nor firmware.
 */
export class LeastPlanner {
  private length = new Float64Array(0);
  private entry = new Float64Array(0);

  /**
   * @param acceleration mm/s²
   * @param corner speed through a square corner, mm/s
   */
  constructor(
    private readonly acceleration: number,
    private readonly corner: number,
  ) {}

  /** Seconds that all moves take. */
  run({ n, x, y, z, speed }: Pick<Moves, 'n' | 'x' | 'y' | 'z' | 'speed'>): number {
    if (this.length.length < n) {
      this.length = new Float64Array(n);
      this.entry = new Float64Array(n + 1);
    }
    const { length, entry, acceleration: a } = this;
    const square = this.corner * this.corner;
    let [ux, uy, uz] = [0, 0, 0];
    for (let i = 1; i < n; i++) {
      const [dx, dy, dz] = [x[i]! - x[i - 1]!, y[i]! - y[i - 1]!, z[i]! - z[i - 1]!];
      const d = Math.sqrt(dx * dx + dy * dy + dz * dz) || 1e-9;
      const [vx, vy, vz] = [dx / d, dy / d, dz / d];
      length[i] = d;
      const v = Math.min(speed[i]!, speed[i - 1]!);
      entry[i] = Math.min(v * v, square / Math.max(1e-6, 1 - (ux * vx + uy * vy + uz * vz)));
      [ux, uy, uz] = [vx, vy, vz];
    }
    entry[n] = 0;
    for (let i = n - 1; i > 0; i--) entry[i] = Math.min(entry[i]!, entry[i + 1]! + 2 * a * length[i]!);
    let time = 0;
    for (let i = 1; i < n; i++) {
      const d = length[i]!;
      const [from, to] = [entry[i]!, Math.min(entry[i + 1]!, entry[i]! + 2 * a * d)];
      entry[i + 1] = to;
      const v = speed[i]!;
      const peak = Math.min(v * v, (from + to) / 2 + a * d);
      const [p, v0, v1] = [Math.sqrt(peak), Math.sqrt(from), Math.sqrt(to)];
      time += (2 * p - v0 - v1) / a + Math.max(0, d - (2 * peak - from - to) / (2 * a)) / (p || 1);
    }
    return time;
  }
}
