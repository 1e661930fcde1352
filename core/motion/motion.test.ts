import { describe, expect, it } from 'vitest';
import * as fc from 'fast-check';
import { ChunkBuilder, type Chunk } from '#core/moves';
import type { Corner } from '#core/context';
import { HeaterModel, reachedSpeed, Timer, type MotionLimits } from '.';

const limits = (corner: Corner): MotionLimits => ({
  speed: 300,
  zSpeed: 15,
  acceleration: 2000,
  zAcceleration: 200,
  extruderSpeed: 60,
  extruderAcceleration: 1500,
  corner,
});
const jd: Corner = { kind: 'junction-deviation', value: 0.03 };

interface Step {
  x: number;
  y: number;
  z: number;
  e: number;
  speed: number;
}

function chunkOf(steps: Step[]): Chunk {
  const chunks: Chunk[] = [];
  const b = new ChunkBuilder((c) => chunks.push(c));
  b.command({ kind: 'acceleration', print: 1500, travel: 2000 });
  for (const s of steps) b.add(s.x, s.y, s.z, s.e, s.speed, 0.45, 0.2, 1, 0, 0);
  b.flush();
  return chunks[0]!;
}

const total = (steps: Step[], l: MotionLimits) => new Timer(l).run(chunkOf(steps)).time.reduce((a, b) => a + b, 0);

/**
 * The oracle: the highest speed at each place of a finely divided way, found by marching forwards and backwards in v²,
 * then ∫ ds / v. Written apart from the planner; it knows nothing of trapezoids.
 */
function integrated(steps: Step[], l: MotionLimits): number {
  const N = 4000;
  let [px, py, pz] = [0, 0, 0];
  const parts: { d: number; v: number; a: number; u: number[]; still: boolean }[] = [];
  for (const s of steps) {
    const delta = [s.x - px, s.y - py, s.z - pz];
    const d = Math.hypot(...delta);
    [px, py, pz] = [s.x, s.y, s.z];
    if (d === 0) {
      parts.push({
        d: Math.abs(s.e),
        v: Math.min(s.speed, l.extruderSpeed),
        a: l.extruderAcceleration,
        u: [0, 0, 0],
        still: true,
      });
      continue;
    }
    const u = delta.map((c) => c / d);
    const up = Math.abs(u[2]!);
    const e = Math.abs(s.e) / d;
    const v = Math.min(s.speed, l.speed, up > 0 ? l.zSpeed / up : Infinity, e > 0 ? l.extruderSpeed / e : Infinity);
    const base = Math.min(s.e > 0 || s.e < 0 ? 1500 : 2000, l.acceleration);
    const a = Math.min(base, up > 0 ? l.zAcceleration / up : Infinity, e > 0 ? l.extruderAcceleration / e : Infinity);
    parts.push({ d, v, a, u, still: false });
  }
  const caps: number[] = [];
  const ds: number[] = [];
  const as: number[] = [];
  parts.forEach((p, i) => {
    const before = parts[i - 1];
    let joint = 0;
    if (before && !before.still && !p.still) {
      const dot = p.u.reduce((sum, c, k) => sum + c * before.u[k]!, 0);
      const a = Math.min(p.a, before.a);
      const top = Math.min(p.v, before.v);
      if (dot > 0.999999) joint = top;
      else if (l.corner.kind === 'instant-change')
        joint = Math.min(top, l.corner.value / Math.max(...p.u.map((c, k) => Math.abs(c - before.u[k]!))));
      else {
        const deviation =
          l.corner.kind === 'junction-deviation' ? l.corner.value : (l.corner.value ** 2 * (Math.SQRT2 - 1)) / a;
        const half = Math.sqrt(Math.max(0, 1 + dot) / 2);
        joint = Math.min(top, Math.sqrt((a * deviation * half) / (1 - half)));
        if (l.corner.kind === 'square-corner') {
          // The circle that touches both moves, no farther from their corner than half the shorter.
          const turn = Math.acos(Math.max(-1, Math.min(1, dot)));
          const radius = Math.min(p.d, before.d) / 2 / Math.tan(turn / 2);
          joint = Math.min(joint, Math.sqrt(a * radius));
        }
      }
    }
    for (let k = 0; k < N; k++) {
      caps.push(k === 0 ? joint : p.v);
      ds.push(p.d / N);
      as.push(p.a);
    }
  });
  const q = caps.map((v) => v * v);
  q.push(0);
  for (let i = q.length - 2; i >= 0; i--) q[i] = Math.min(q[i]!, q[i + 1]! + 2 * as[i]! * ds[i]!);
  for (let i = 1; i < q.length; i++) q[i] = Math.min(q[i]!, q[i - 1]! + 2 * as[i - 1]! * ds[i - 1]!);
  let time = 0;
  for (let i = 0; i < ds.length; i++) {
    const v0 = Math.sqrt(q[i]!);
    const v1 = Math.sqrt(q[i + 1]!);
    // Over one small piece acceleration is constant, so the mean speed is exact.
    if (v0 + v1 > 0) time += (2 * ds[i]!) / (v0 + v1);
  }
  return time;
}

describe('the time planner', () => {
  it('has the time of a lone trapezoid, worked by hand', () => {
    // 30 mm at 100 mm/s and 2000 mm/s²: 0.05 s up, 0.05 s down over 5 mm, 25 mm at 100 mm/s.
    expect(total([{ x: 30, y: 0, z: 0, e: 0, speed: 100 }], limits(jd))).toBeCloseTo(0.05 + 0.05 + 0.25, 9);
    // 1 mm never reaches 100: 2 √(1/2000).
    const { time, peak } = new Timer(limits(jd)).run(chunkOf([{ x: 1, y: 0, z: 0, e: 0, speed: 100 }]));
    expect(time[0]).toBeCloseTo(2 * Math.sqrt(1 / 2000), 9);
    expect(peak[0]).toBeCloseTo(Math.sqrt(2000), 3);
  });
  it('takes a square corner at the square-corner speed', () => {
    const steps = [
      { x: 20, y: 0, z: 0, e: 0, speed: 80 },
      { x: 20, y: 20, z: 0, e: 0, speed: 80 },
    ];
    // Each leg: from 0 to 80, cruise, to 5 mm/s; by hand with v² = 2 a d.
    const leg = 80 / 2000 + 75 / 2000 + (20 - 6400 / 4000 - (6400 - 25) / 4000) / 80;
    expect(total(steps, limits({ kind: 'square-corner', value: 5 }))).toBeCloseTo(2 * leg, 6);
  });
  it('runs through no arc faster than its acceleration holds it, where square corners rule', () => {
    // A loop of 20 mm at 1500 mm/s²: √(20 × 1500) = 173.2 mm/s, however finely it is divided.
    for (const n of [60, 120, 400]) {
      const loop = Array.from({ length: 4 * n }, (_, i) => {
        const angle = (2 * Math.PI * (i + 1)) / n;
        return { x: 20 * Math.cos(angle) - 20, y: 20 * Math.sin(angle), z: 0, e: 0.01, speed: 280 };
      });
      // In the middle of a piece it may be a little faster than where two of them meet.
      const most = 1.001 * Math.sqrt(20 * 1500 + (1500 * 2 * Math.PI * 20) / n);
      const fastest = (corner: Corner) =>
        Math.max(...new Timer(limits(corner)).run(chunkOf(loop)).peak.slice(n, 3 * n));
      expect(fastest({ kind: 'square-corner', value: 20 })).toBeGreaterThan(173.2 * 0.985);
      expect(fastest({ kind: 'square-corner', value: 20 })).toBeLessThan(most);
    }
  });
  it('knows a retraction that cannot get up to speed', () => {
    expect(reachedSpeed(60, 0.5, 1000)).toBeCloseTo(22.36, 2);
    const { peak } = new Timer({ ...limits(jd), extruderAcceleration: 1000 }).run(
      chunkOf([{ x: 0, y: 0, z: 0, e: -0.5, speed: 60 }]),
    );
    expect(peak[0]).toBeCloseTo(22.36, 2);
  });
  it('agrees with a slow numerical integration within 1 % over random programs', () => {
    const step = fc.record({
      x: fc.integer({ min: -300, max: 300 }).map((v) => v / 10),
      y: fc.integer({ min: -300, max: 300 }).map((v) => v / 10),
      z: fc.constantFrom(0, 0, 0, 0, 0.4),
      e: fc.constantFrom(0, 0.5, 1, -0.8),
      speed: fc.integer({ min: 5, max: 300 }),
    });
    const corner = fc.constantFrom<Corner>(
      jd,
      { kind: 'square-corner', value: 5 },
      { kind: 'instant-change', value: 8 },
    );
    fc.assert(
      fc.property(fc.array(step, { minLength: 1, maxLength: 12 }), corner, (steps, c) => {
        const expected = integrated(steps, limits(c));
        fc.pre(expected > 0.01);
        expect(Math.abs(total(steps, limits(c)) / expected - 1)).toBeLessThan(0.01);
      }),
      { numRuns: 60 },
    );
  });
  it('never lets a speed exceed what was asked, and never makes time negative', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            x: fc.double({ min: 0, max: 50, noNaN: true }),
            y: fc.double({ min: 0, max: 50, noNaN: true }),
            z: fc.constant(0),
            e: fc.constant(0.2),
            speed: fc.integer({ min: 1, max: 200 }),
          }),
          { minLength: 2, maxLength: 60 },
        ),
        (steps) => {
          const { time, peak } = new Timer(limits(jd)).run(chunkOf(steps));
          steps.forEach((s, i) => {
            expect(peak[i]!).toBeLessThanOrEqual(s.speed * 1.0001);
            expect(time[i]!).toBeGreaterThanOrEqual(0);
          });
        },
      ),
    );
  });
});

describe('the heater model', () => {
  it('rises and falls at its rates and holds its target', () => {
    const h = new HeaterModel(2, 0.5, 200);
    h.aim(210);
    expect(h.pass(3)).toBe(206);
    expect(h.wait()).toBe(2);
    h.aim(205);
    expect(h.pass(4)).toBe(208);
    expect(h.left).toBe(6);
    expect(h.pass(100)).toBe(205);
  });
});

describe('a limit in corners that the file tells', () => {
  const bend = [
    { x: 40, y: 0, z: 0, e: 1, speed: 100 },
    { x: 40, y: 40, z: 0, e: 1, speed: 100 },
  ];
  const timed = (own: Corner, told?: { of: 'corner' | 'junction-deviation'; value: number }) => {
    const chunks: Chunk[] = [];
    const b = new ChunkBuilder((c) => chunks.push(c));
    b.command({ kind: 'acceleration', print: 1500, travel: 2000 });
    if (told) b.command({ kind: 'limit', of: told.of, axes: { x: told.value } });
    for (const s of bend) b.add(s.x, s.y, s.z, s.e, s.speed, 0.45, 0.2, 1, 0, 0);
    b.flush();
    return new Timer(limits(own)).run(chunks[0]!).time.reduce((a, c) => a + c, 0);
  };
  it('holds as if the printer had it of its own, whichever way it is reckoned', () => {
    for (const value of [2, 20]) {
      const speed = { kind: 'instant-change', value: 8 } as const;
      expect(timed(speed, { of: 'corner', value })).toBeCloseTo(timed({ ...speed, value }), 9);
      expect(timed(speed, { of: 'corner', value })).not.toBeCloseTo(timed(speed), 3);
    }
    expect(timed(jd, { of: 'junction-deviation', value: 0.2 })).toBeCloseTo(timed({ ...jd, value: 0.2 }), 9);
  });
  it('of another kind than the printer goes by changes nothing', () => {
    expect(timed(jd, { of: 'corner', value: 2 })).toBe(timed(jd));
  });
});
