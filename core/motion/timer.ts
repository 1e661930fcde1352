import type { Chunk } from '#core/moves';
import type { MotionLimits } from './limits';

/**
 * Time and speed of each move of a chunk: s and mm/s (mm of filament per second for extruder-only moves). They hold
 * until the next chunk is run.
 */
export interface Timing {
  time: Float64Array;
  /** Highest speed reached on the move. */
  peak: Float32Array;
  /** Square of the speed at the start of each move, mm²/s²; one more for the end of the last. */
  entry: Float64Array;
  /** Acceleration of each move, mm/s². */
  accel: Float64Array;
}

const STRAIGHT = 0.999999;

interface Scratch extends Timing {
  length: Float64Array;
  top: Float64Array;
  still: Uint8Array;
}

const scratchFor = (n: number): Scratch => ({
  time: new Float64Array(n),
  peak: new Float32Array(n),
  length: new Float64Array(n),
  accel: new Float64Array(n),
  top: new Float64Array(n),
  entry: new Float64Array(n + 1),
  still: new Uint8Array(n + 1),
});

/**
 * How long moves take: trapezoids of constant acceleration with look-ahead over the whole chunk.
 *
 * Entry speeds are bounded by the corner rule: junction deviation δ gives v² = a·δ·s/(1 − s) with s the sine of half
 * the angle between the moves; a square-corner speed c is a junction deviation of c²(√2 − 1)/a, and no arc is run through beyond a; an instant speed
 * change bounds the jump of each axis. The machine stands still where the extruder alone moves, at dwells, waits and
 * homing, and at the border of a chunk (65,536 moves), which costs less than 0.1 s in a chunk.
 */
export class Timer {
  private x = 0;
  private y = 0;
  private z = 0;
  private scratch = scratchFor(64);

  constructor(private readonly limits: MotionLimits) {}

  /** Sets where the head stands before the next chunk, mm. */
  startAt(x: number, y: number, z: number): void {
    this.x = x;
    this.y = y;
    this.z = z;
  }

  /** Times of all moves of a chunk. */
  run({ moves, states, commands }: Chunk): Timing {
    const n = moves.n;
    const limits = this.limits;
    const unsaid = limits.unsaid ?? limits.acceleration;
    const deviates = limits.corner.kind === 'junction-deviation';
    const { time, peak, length, accel, top, entry, still } = this.room(n);
    still[0] = 1;
    still[n] = 1;
    for (const c of commands) {
      if (c.kind === 'dwell' || c.kind === 'home' || ((c.kind === 'heat' || c.kind === 'bed') && c.wait))
        still[c.before] = 1;
    }
    let { x, y, z } = this;
    let ux = 0;
    let uy = 0;
    let uz = 0;
    for (let i = 0; i < n; i++) {
      const dx = moves.x[i]! - x;
      const dy = moves.y[i]! - y;
      const dz = moves.z[i]! - z;
      x += dx;
      y += dy;
      z += dz;
      const e = Math.abs(moves.e[i]!);
      const d = Math.sqrt(dx * dx + dy * dy + dz * dz);
      const asked = moves.speed[i]!;
      if (d < 1e-9) {
        length[i] = e;
        top[i] = Math.min(asked, limits.extruderSpeed);
        accel[i] = limits.extruderAcceleration;
        still[i] = 1;
        still[i + 1] = 1;
        ux = uy = uz = 0;
        continue;
      }
      const vx = dx / d;
      const vy = dy / d;
      const vz = dz / d;
      const state = states[moves.state[i]!]!;
      let v = Math.min(asked * state.speedShare, limits.speed);
      let a = (e > 0 ? state.acceleration : state.travelAcceleration) || unsaid;
      if (a > limits.acceleration) a = limits.acceleration;
      if (vz !== 0) {
        const share = Math.abs(vz);
        v = Math.min(v, limits.zSpeed / share);
        a = Math.min(a, limits.zAcceleration / share);
      }
      if (e > 0) {
        const share = e / d;
        v = Math.min(v, limits.extruderSpeed / share);
        a = Math.min(a, limits.extruderAcceleration / share);
      }
      length[i] = d;
      top[i] = v;
      accel[i] = a;
      if (still[i] === 0 && i > 0) {
        const bound = Math.min(v, top[i - 1]!);
        const square = this.corner(
          (deviates ? state.deviation : state.corner) || limits.corner.value,
          ux * vx + uy * vy + uz * vz,
          Math.min(a, accel[i - 1]!),
          vx - ux,
          vy - uy,
          vz - uz,
          Math.min(d, length[i - 1]!),
        );
        entry[i] = Math.min(bound * bound, square);
      }
      ux = vx;
      uy = vy;
      uz = vz;
    }
    this.x = x;
    this.y = y;
    this.z = z;

    for (let i = n - 1; i >= 0; i--) {
      if (still[i]) entry[i] = 0;
      else entry[i] = Math.min(entry[i]!, entry[i + 1]! + 2 * accel[i]! * length[i]!);
    }
    for (let i = 0; i < n; i++) {
      const d = length[i]!;
      if (d < 1e-12) {
        entry[i + 1] = still[i + 1] ? 0 : Math.min(entry[i + 1]!, entry[i]!);
        continue;
      }
      const a = accel[i]!;
      const v0s = entry[i]!;
      const reachable = v0s + 2 * a * d;
      if (entry[i + 1]! > reachable) entry[i + 1] = reachable;
      const v1s = entry[i + 1]!;
      const v0 = Math.sqrt(v0s);
      const v1 = Math.sqrt(v1s);
      const v = top[i]!;
      const highest = (v0s + v1s) / 2 + a * d;
      if (highest <= v * v) {
        const p = Math.sqrt(highest);
        peak[i] = p;
        time[i] = (2 * p - v0 - v1) / a;
      } else {
        peak[i] = v;
        time[i] = (2 * v - v0 - v1) / a + (d - (v * v - v0s + v * v - v1s) / (2 * a)) / v;
      }
    }
    return {
      time: time.subarray(0, n),
      peak: peak.subarray(0, n),
      entry: entry.subarray(0, n + 1),
      accel: accel.subarray(0, n),
    };
  }

  /** Arrays for so many moves, the same for every chunk: fresh ones for each cost as much as the sums. */
  private room(n: number): Scratch {
    if (this.scratch.time.length < n) this.scratch = scratchFor(2 * n);
    const { time, peak, entry, still } = this.scratch;
    for (const array of [time, peak, entry, still]) array.fill(0, 0, n + 1);
    return this.scratch;
  }

  /** @param near the shorter of the two moves that meet there, mm */
  private corner(value: number, cosine: number, a: number, jx: number, jy: number, jz: number, near: number): number {
    const { kind } = this.limits.corner;
    if (cosine > STRAIGHT) return Infinity;
    if (kind === 'instant-change') {
      const jump = Math.max(Math.abs(jx), Math.abs(jy), Math.abs(jz));
      const v = value / jump;
      return v * v;
    }
    const deviation = kind === 'junction-deviation' ? value : (value * value * (Math.SQRT2 - 1)) / a;
    // Half the angle between reversed directions: sin²(θ/2) = (1 − cos θ)/2 with cos θ = −cosine.
    const s = Math.sqrt(Math.max(0, 1 + cosine) / 2);
    if (s > 0.999999) return Infinity;
    const square = (a * deviation * s) / (1 - s);
    if (kind === 'junction-deviation') return square;
    // Many short moves are an arc: through the middles of both, its radius is near / 2 · tan(θ/2), and v² = a · r.
    return Math.min(square, (0.5 * near * s * a) / Math.sqrt(1 - s * s));
  }
}
