import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  beside,
  holding,
  isNear,
  loopOf,
  nameLoops,
  nested,
  wallsFrom,
  within,
  type Loop,
  type Measured,
} from './loops';

const WIDTH = 0.45;

/** A closed line through points, mm. */
function through(points: readonly (readonly [number, number])[], width = WIDTH): Loop {
  const lines = points.map(([x0, y0], i): Measured => {
    const [x, y] = points[(i + 1) % points.length]!;
    return { x0, y0, x, y, length: Math.hypot(x - x0, y - y0), width, speed: 40 };
  });
  const loop = loopOf(lines);
  if (!loop) throw new Error('no loop');
  return loop;
}

/** A square around a place, by half its side. */
const square = (x: number, y: number, half: number): Loop =>
  through([
    [x - half, y - half],
    [x + half, y - half],
    [x + half, y + half],
    [x - half, y + half],
  ]);

/** A star of many corners, so that its lines stand in many rows. */
const star = (x: number, y: number, corners: number, radii: readonly [number, number]): Loop =>
  through(
    Array.from({ length: corners }, (_, i) => {
      const a = (2 * Math.PI * i) / corners;
      const r = radii[i % 2]!;
      return [x + r * Math.cos(a), y + r * Math.sin(a)] as const;
    }),
  );

describe('closed lines of a layer', () => {
  it('are told from open, tiny and flat ones', () => {
    expect(square(0, 0, 10).area).toBeCloseTo(400, 9);
    const { lines } = square(0, 0, 10);
    // Three sides: it does not come back to its start.
    expect(loopOf(lines.slice(0, 3))).toBeUndefined();
    expect(loopOf(lines.slice(0, 2))).toBeUndefined();
    expect(() => square(0, 0, 0.1)).toThrow('no loop');
    // There and back again covers nothing.
    expect(() =>
      through([
        [0, 0],
        [20, 0],
        [20, 0.001],
        [0, 0.001],
      ]),
    ).toThrow('no loop');
  });
  it('have points at even distances along them', () => {
    const { samples } = square(0, 0, 10);
    // Twenty on 80 mm: 2 mm from the first corner, then every 4.
    expect(samples).toHaveLength(20);
    expect([samples[0]!.x, samples[0]!.y]).toEqual([-8, -10]);
    expect([samples[5]!.x, samples[5]!.y]).toEqual([10, -8]);
  });
  it('hold a point where a ray from it crosses their lines an odd number of times', () => {
    const corners = fc.integer({ min: 5, max: 240 });
    const place = fc.double({ min: -14, max: 14, noNaN: true });
    fc.assert(
      fc.property(corners, fc.double({ min: 1, max: 12, noNaN: true }), place, place, (n, r, x, y) => {
        const loop = star(0, 0, 2 * n, [12, r]);
        // By winding, written another way: the angles under which the lines are seen sum up to a whole turn.
        const turn = loop.lines.reduce((sum, l) => {
          const [a, b] = [Math.atan2(l.y0 - y, l.x0 - x), Math.atan2(l.y - y, l.x - x)];
          return sum + Math.atan2(Math.sin(b - a), Math.cos(b - a));
        }, 0);
        fc.pre(loop.lines.every((l) => distance(l, x, y) > 1e-6));
        expect(within(loop, x, y)).toBe(Math.abs(turn) > Math.PI);
      }),
      { numRuns: 120 },
    );
  });
  it('are near a point where any of their lines is, whatever rows are looked at', () => {
    const place = fc.double({ min: -15, max: 15, noNaN: true });
    const far = fc.double({ min: 0.01, max: 6, noNaN: true });
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 200 }), place, place, far, (n, x, y, reach) => {
        const loop = star(0, 0, 2 * n, [12, 8]);
        const nearest = Math.min(...loop.lines.map((l) => distance(l, x, y)));
        fc.pre(Math.abs(nearest - reach) > 1e-6);
        expect(isNear(loop, x, y, reach)).toBe(nearest < reach);
      }),
      { numRuns: 120 },
    );
  });
  it('near in a direction are only those that run about that way', () => {
    const loop = square(0, 0, 10);
    const [lower, right] = loop.lines as [Measured, Measured];
    expect(isNear(loop, 0, -9.5, 1, lower)).toBe(true);
    expect(isNear(loop, 0, -9.5, 1, right)).toBe(false);
  });
});

/** Distance of a point from a line, by trying places along it and the ends of the best stretch. */
function distance(l: Measured, x: number, y: number): number {
  const at = (t: number) => Math.hypot(l.x0 + t * (l.x - l.x0) - x, l.y0 + t * (l.y - l.y0) - y);
  let [low, high] = [0, 1];
  // The distance along a straight line has one valley: thirds find it.
  for (let k = 0; k < 120; k++) {
    const [a, b] = [low + (high - low) / 3, high - (high - low) / 3];
    if (at(a) < at(b)) high = b;
    else low = a;
  }
  return at((low + high) / 2);
}

describe('how loops nest', () => {
  it('finds for each the smallest that holds it', () => {
    const [outer, inner, hole, apart] = [square(0, 0, 20), square(0, 0, 10), square(5, 5, 2), square(60, 0, 5)];
    const roots = nested([hole, apart, outer, inner]);
    expect(new Set(roots)).toEqual(new Set([outer, apart]));
    expect(inner.parent).toBe(outer);
    expect(hole.parent).toBe(inner);
    expect(holding(roots, 5, 5)).toBe(hole);
    expect(holding(roots, -15, 0)).toBe(outer);
    expect(holding(roots, 40, 0)).toBeUndefined();
  });
  it('forgets an old nest when it is asked anew', () => {
    const [outer, inner] = [square(0, 0, 20), square(0, 0, 10)];
    nested([outer, inner]);
    expect(nested([inner])).toEqual([inner]);
    expect(inner.parent).toBeUndefined();
    expect(outer.kids).toEqual([inner]);
    nested([outer]);
    expect(outer.kids).toEqual([]);
  });
  it('calls lines side by side walls: the first is the outer one, the rest inner', () => {
    const walls = [0, 1, 2].map((k) => square(0, 0, 20 - k * WIDTH));
    const roots = nested(walls);
    expect(beside(walls[1]!, walls[0]!)).toBe(true);
    expect(wallsFrom(roots[0]!)).toBe(3);
    walls[2]!.filled = true;
    nameLoops(roots, 3);
    expect(walls.map((w) => w.role)).toEqual(['outer-wall', 'inner-wall', 'inner-wall']);
  });
  it('knows the outer wall of a hole as the innermost of the loops around it', () => {
    const outside = [0, 1].map((k) => square(0, 0, 20 - k * WIDTH));
    const around = [0, 1].map((k) => square(0, 0, 6 + k * WIDTH));
    const roots = nested([...outside, ...around]);
    outside[1]!.filled = true;
    nameLoops(roots, 2);
    expect(outside.map((l) => l.role)).toEqual(['outer-wall', 'inner-wall']);
    expect(around.map((l) => l.role)).toEqual(['outer-wall', 'inner-wall']);
  });
  it('takes more loops side by side than the file has walls for a fill of rings', () => {
    const rings = [0, 1, 2, 3, 4].map((k) => square(0, 0, 10 - k * WIDTH));
    const roots = nested(rings);
    rings[4]!.filled = true;
    nameLoops(roots, 2);
    expect(rings.map((l) => l.role)).toEqual(['outer-wall', 'inner-wall', 'fill', 'fill', 'fill']);
  });
  it('sees a thin part as two faces', () => {
    // A tube with a wall of two lines and nothing within.
    const faces = [square(0, 0, 10), square(0, 0, 10 - WIDTH)];
    nameLoops(nested(faces), 2);
    expect(faces.map((l) => l.role)).toEqual(['outer-wall', 'outer-wall']);
  });
});
