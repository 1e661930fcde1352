import type { Chunk, Moves } from '#core/moves';
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

/** What of moves does not depend on how fast they are asked to go, and room for the rest. */
interface Scratch extends Timing {
  length: Float64Array;
  /** The highest speed that machine and extruder allow on each move, mm/s, and the share of what is asked in force. */
  most: Float64Array;
  share: Float64Array;
  /** Square of the highest speed through the corner before each move, 0 where the machine stands still. */
  corner: Float64Array;
  still: Uint8Array;
}

const scratchFor = (n: number): Scratch => ({
  time: new Float64Array(n),
  peak: new Float32Array(n),
  length: new Float64Array(n),
  accel: new Float64Array(n),
  most: new Float64Array(n),
  share: new Float64Array(n),
  corner: new Float64Array(n),
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
  private moves: Pick<Moves, 'n' | 'speed'> = { n: 0, speed: new Float32Array(0) };

  constructor(private readonly limits: MotionLimits) {}

  /** Sets where the head stands before the next chunk, mm. */
  startAt(x: number, y: number, z: number): void {
    this.x = x;
    this.y = y;
    this.z = z;
  }

  /** Times of all moves of a chunk. */
  run(chunk: Chunk): Timing {
    this.lay(chunk);
    return this.again();
  }

  /** What of the moves of a chunk does not depend on how fast they are asked to go. */
  private lay({ moves, states, commands }: Chunk): void {
    const n = moves.n;
    const limits = this.limits;
    const unsaid = limits.unsaid ?? limits.acceleration;
    const deviates = limits.corner.kind === 'junction-deviation';
    const { length, accel, most, share, corner, still } = this.room(n);
    this.moves = moves;
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
      if (d < 1e-9) {
        length[i] = e;
        most[i] = limits.extruderSpeed;
        share[i] = 1;
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
      let v = limits.speed;
      let a = (e > 0 ? state.acceleration : state.travelAcceleration) || unsaid;
      if (a > limits.acceleration) a = limits.acceleration;
      if (vz !== 0) {
        const rise = Math.abs(vz);
        v = Math.min(v, limits.zSpeed / rise);
        a = Math.min(a, limits.zAcceleration / rise);
      }
      if (e > 0) {
        const fed = e / d;
        v = Math.min(v, limits.extruderSpeed / fed);
        a = Math.min(a, limits.extruderAcceleration / fed);
      }
      length[i] = d;
      most[i] = v;
      share[i] = state.speedShare;
      accel[i] = a;
      if (still[i] === 0 && i > 0) {
        corner[i] = this.corner(
          (deviates ? state.deviation : state.corner) || limits.corner.value,
          ux * vx + uy * vy + uz * vz,
          Math.min(a, accel[i - 1]!),
          vx - ux,
          vy - uy,
          vz - uz,
          Math.min(d, length[i - 1]!),
        );
      }
      ux = vx;
      uy = vy;
      uz = vz;
    }
    // Where the machine stands still is known only now: a move of the extruder alone stops the one before it.
    for (let i = 0; i < n; i++) if (still[i]) corner[i] = 0;
    this.x = x;
    this.y = y;
    this.z = z;
  }

  /** Times of the moves of the last chunk once more, at the speeds that they are asked to go by now. */
  again(): Timing {
    const { moves } = this;
    const { n, speed } = moves;
    const { time, peak, length, accel, most, share, corner, entry, still } = this.scratch;
    entry[n] = 0;
    let v = n > 0 ? Math.min(speed[n - 1]! * share[n - 1]!, most[n - 1]!) : 0;
    for (let i = n - 1; i >= 0; i--) {
      const before = i > 0 ? Math.min(speed[i - 1]! * share[i - 1]!, most[i - 1]!) : 0;
      const bound = Math.min(v, before);
      entry[i] = Math.min(bound * bound, corner[i]!, entry[i + 1]! + 2 * accel[i]! * length[i]!);
      v = before;
    }
    for (let i = 0; i < n; i++) {
      const d = length[i]!;
      if (d < 1e-12) {
        entry[i + 1] = still[i + 1] ? 0 : Math.min(entry[i + 1]!, entry[i]!);
        time[i] = peak[i] = 0;
        continue;
      }
      const a = accel[i]!;
      const v0s = entry[i]!;
      const reachable = v0s + 2 * a * d;
      if (entry[i + 1]! > reachable) entry[i + 1] = reachable;
      const v1s = entry[i + 1]!;
      const v0 = Math.sqrt(v0s);
      const v1 = Math.sqrt(v1s);
      const top = Math.min(speed[i]! * share[i]!, most[i]!);
      const highest = (v0s + v1s) / 2 + a * d;
      if (highest <= top * top) {
        const p = Math.sqrt(highest);
        peak[i] = p;
        time[i] = (2 * p - v0 - v1) / a;
      } else {
        peak[i] = top;
        time[i] = (2 * top - v0 - v1) / a + (d - (top * top - v0s + top * top - v1s) / (2 * a)) / top;
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
    this.scratch.still.fill(0, 0, n + 1);
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
