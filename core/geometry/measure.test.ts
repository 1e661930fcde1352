import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  areaOf,
  boundsOf,
  boxesMeet,
  boxOf,
  distanceToEdges,
  distanceToSegment,
  EdgeGrid,
  inPolygons,
  inRing,
  lengthOf,
  ringArea,
  type Point,
  type Polygon,
} from '.';

const coordinate = fc.integer({ min: -50, max: 50 });
const point = fc.record({ x: coordinate, y: coordinate });
const frame: Polygon = {
  outer: [
    { x: 0, y: 0 },
    { x: 10, y: 0 },
    { x: 10, y: 10 },
    { x: 0, y: 10 },
  ],
  holes: [
    [
      { x: 4, y: 4 },
      { x: 4, y: 6 },
      { x: 6, y: 6 },
      { x: 6, y: 4 },
    ],
  ],
};

/** How often a ring turns around a point, by the sum of angles: another way than by crossings. */
function turns(ring: readonly Point[], x: number, y: number): number {
  let sum = 0;
  ring.forEach((a, i) => {
    const b = ring[(i + 1) % ring.length]!;
    const angle = Math.atan2(b.y - y, b.x - x) - Math.atan2(a.y - y, a.x - x);
    sum += angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI));
  });
  return Math.round(sum / (2 * Math.PI));
}

describe('areas and lengths', () => {
  it('are those of figures worked by hand', () => {
    expect(ringArea(frame.outer)).toBe(100);
    expect(ringArea([...frame.outer].reverse())).toBe(-100);
    expect(areaOf([frame])).toBe(96);
    expect(areaOf([])).toBe(0);
    expect(lengthOf(frame.outer)).toBe(30);
    expect(lengthOf([{ x: 1, y: 1 }])).toBe(0);
  });
  it('of a triangle are half the product of its sides, wherever it stands', () => {
    fc.assert(
      fc.property(point, point, point, (a, b, c) => {
        const expected = Math.abs((b.x - a.x) * (c.y - a.y) - (c.x - a.x) * (b.y - a.y)) / 2;
        expect(Math.abs(ringArea([a, b, c]))).toBeCloseTo(expected, 9);
      }),
    );
  });
  it('of boxes hold every point, and touch one on each side', () => {
    expect(boxOf([])).toBeUndefined();
    expect(boundsOf([])).toBeUndefined();
    fc.assert(
      fc.property(fc.array(point, { minLength: 1, maxLength: 20 }), (points) => {
        const xs = points.map((p) => p.x).sort((a, b) => a - b);
        const ys = points.map((p) => p.y).sort((a, b) => a - b);
        expect(boxOf(points)).toEqual({ x0: xs[0], x1: xs.at(-1), y0: ys[0], y1: ys.at(-1) });
      }),
    );
  });
});

describe('inside and outside', () => {
  it('agree with the turns of a ring around a point, also where it crosses itself', () => {
    fc.assert(
      fc.property(fc.array(point, { minLength: 3, maxLength: 9 }), point, (ring, p) => {
        // Off the whole numbers no point lies on an edge by chance, but for long slants.
        const [x, y] = [p.x + 0.137, p.y + 0.291];
        fc.pre(distanceToEdges([{ outer: ring, holes: [] }], { x, y }) > 1e-6);
        expect(inRing(ring, x, y)).toBe(turns(ring, x, y) % 2 !== 0);
      }),
      { numRuns: 400 },
    );
  });
  it('leave the holes out', () => {
    expect(inPolygons([frame], 2, 2)).toBe(true);
    expect(inPolygons([frame], 5, 5)).toBe(false);
    expect(inPolygons([frame], 12, 5)).toBe(false);
    expect(inPolygons([], 5, 5)).toBe(false);
  });
});

describe('distances', () => {
  it('to a segment are the least over its points', () => {
    fc.assert(
      fc.property(point, point, point, (p, a, b) => {
        const along = Array.from({ length: 2001 }, (_, i) => i / 2000);
        const least = Math.min(
          ...along.map((t) => Math.hypot(p.x - a.x - t * (b.x - a.x), p.y - a.y - t * (b.y - a.y))),
        );
        const told = distanceToSegment(p, a, b);
        expect(told).toBeLessThanOrEqual(least + 1e-9);
        // Points 1/2000 of it apart miss the nearest by at most half of that.
        expect(told).toBeGreaterThanOrEqual(least - Math.hypot(b.x - a.x, b.y - a.y) / 4000 - 1e-9);
      }),
    );
  });
  it('to edges count holes too, and are without end where there are none', () => {
    expect(distanceToEdges([frame], { x: 5, y: 5 })).toBe(1);
    expect(distanceToEdges([frame], { x: 5, y: 1 })).toBe(1);
    expect(distanceToEdges([frame], { x: 13, y: 14 })).toBe(5);
    expect(distanceToEdges([], { x: 0, y: 0 })).toBe(Infinity);
  });
});

it('boxes meet where they touch, or lie no further apart than is said', () => {
  const a = { x0: 0, y0: 0, x1: 2, y1: 2 };
  const at = (x0: number, y0: number) => ({ x0, y0, x1: x0 + 1, y1: y0 + 1 });
  expect([boxesMeet(a, at(2, 2)), boxesMeet(a, at(2.01, 0)), boxesMeet(a, at(0, -1.01))]).toEqual([true, false, false]);
  expect([boxesMeet(a, at(2.9, 0), 1), boxesMeet(a, at(3.1, 0), 1)]).toEqual([true, false]);
});

describe('the nearest edge', () => {
  const ring: Point[] = Array.from({ length: 90 }, (_, k) => {
    const r = k % 2 === 0 ? 6 : 4 + (k % 7) / 5;
    return { x: 5 + r * Math.cos(k / 14.3), y: 5 + r * Math.sin(k / 14.3) };
  });
  const grid = new EdgeGrid([frame, { outer: ring, holes: [] }]);
  const all = [frame, { outer: ring, holes: [] }];
  it('counts only within the distance that is asked: at 99 % of it no edge is found, at 101 % the nearest', () => {
    fc.assert(
      fc.property(point, (p) => {
        const far = distanceToEdges(all, p);
        fc.pre(far > 1e-3);
        expect(grid.nearest(p, 0.99 * far)).toMatchObject({ edge: -1, distance: 0.99 * far });
        expect(grid.nearest(p, 1.01 * far)).toEqual(grid.nearest(p));
      }),
      { numRuns: 300 },
    );
  });
});

describe('ways across edges', () => {
  it('cross a frame four times, ascending', () => {
    const grid = new EdgeGrid([frame]);
    expect(grid.cuts({ x: -5, y: 5 }, { x: 15, y: 5 })).toEqual([0.25, 0.45, 0.55, 0.75]);
    expect(grid.cuts({ x: 1, y: 2 }, { x: 9, y: 2 })).toEqual([]);
    expect(grid.crosses({ x: -5, y: 5 }, { x: 15, y: 5 })).toBe(true);
    expect(grid.crosses({ x: 1, y: 2 }, { x: 9, y: 2 })).toBe(false);
    // It begins on one edge and ends on another.
    expect(grid.crosses({ x: 0, y: 2 }, { x: 10, y: 3 })).toBe(false);
  });
  it('leave a part where they cross it, but not by beginning or ending on its edge', () => {
    const grid = new EdgeGrid([frame]);
    expect(grid.crosses({ x: 1, y: 5 }, { x: 9, y: 5 })).toBe(true);
    expect(grid.crosses({ x: 2, y: 2 }, { x: 2, y: 12 })).toBe(true);
    // Along an edge is not across it.
    expect(grid.crosses({ x: 1, y: 0 }, { x: 9, y: 0 })).toBe(false);
  });
  it('change between inside and outside at each crossing', () => {
    fc.assert(
      fc.property(point, point, (a, b) => {
        const [from, to] = [
          { x: a.x / 4 + 0.0137, y: a.y / 4 + 0.0291 },
          { x: b.x / 4 + 0.0171, y: b.y / 4 + 0.0313 },
        ];
        fc.pre(Math.min(distanceToEdges([frame], from), distanceToEdges([frame], to)) > 1e-6);
        // An edge that lies in two rows may be named twice.
        const odd = new Set(new EdgeGrid([frame]).cuts(from, to)).size % 2 === 1;
        expect(inPolygons([frame], from.x, from.y) !== inPolygons([frame], to.x, to.y)).toBe(odd);
      }),
      { numRuns: 400 },
    );
  });
});
