import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  circle,
  cutLines,
  difference,
  distanceToEdges,
  EdgeGrid,
  inPolygons,
  lengthOf,
  medialLines,
  rectangle,
  solid,
  union,
  type Point,
  type Polygon,
} from '.';

const blobs = fc
  .array(
    fc.tuple(fc.integer({ min: -12, max: 12 }), fc.integer({ min: -12, max: 12 }), fc.integer({ min: 2, max: 8 })),
    { minLength: 1, maxLength: 5 },
  )
  .map((cs): Polygon[] =>
    difference(union(cs.map(([x, y, r]) => solid(circle(x, y, r, 14)))), [solid(circle(1, -2, 1.5, 9))]),
  );
const coordinate = fc.double({ min: -22, max: 22, noNaN: true });

describe('the grid of edges', () => {
  it('says the same as looking at every edge: inside, nearest', () => {
    fc.assert(
      fc.property(blobs, coordinate, coordinate, (polygons, x, y) => {
        const grid = new EdgeGrid(polygons);
        // A point on the border itself is neither in nor out.
        if (distanceToEdges(polygons, { x, y }) > 1e-9) expect(grid.inside(x, y)).toBe(inPolygons(polygons, x, y));
        expect(grid.nearest({ x, y }).distance).toBeCloseTo(distanceToEdges(polygons, { x, y }), 9);
      }),
      { numRuns: 300 },
    );
  });
  it('finds every crossing of a way', () => {
    const grid = new EdgeGrid([solid(rectangle(0, 0, 10, 10)), solid(rectangle(20, 0, 30, 10))]);
    const cuts = grid.cuts({ x: -10, y: 5 }, { x: 40, y: 5 }).map((t) => t * 50 - 10);
    expect(cuts.map((v) => Math.round(v * 1e6) / 1e6)).toEqual([0, 10, 20, 30]);
    expect(grid.crosses({ x: 1, y: 1 }, { x: 9, y: 9 })).toBe(false);
    expect(new EdgeGrid([]).inside(0, 0)).toBe(false);
  });
});

describe('cutting open lines', () => {
  it('keeps the length inside, and nothing outside', () => {
    fc.assert(
      fc.property(
        blobs,
        fc.array(fc.tuple(coordinate, coordinate), { minLength: 2, maxLength: 12 }),
        (polygons, way) => {
          const line = way.map(([x, y]): Point => ({ x, y }));
          const parts = cutLines([line], polygons, 0);
          for (const part of parts)
            for (let i = 1; i < part.length; i++) {
              const [a, b] = [part[i - 1]!, part[i]!];
              const mid = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
              expect(inPolygons(polygons, mid.x, mid.y) || distanceToEdges(polygons, mid) < 1e-6).toBe(true);
            }
          // Against a count of small steps.
          let inside = 0;
          for (let i = 1; i < line.length; i++) {
            const [a, b] = [line[i - 1]!, line[i]!];
            const length = Math.hypot(b.x - a.x, b.y - a.y);
            for (let k = 0; k < 400; k++) {
              const t = (k + 0.5) / 400;
              if (inPolygons(polygons, a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t)) inside += length / 400;
            }
          }
          const kept = parts.reduce((sum, p) => sum + lengthOf(p), 0);
          expect(Math.abs(kept - inside)).toBeLessThan(0.02 * lengthOf(line) + 0.01);
        },
      ),
      { numRuns: 60 },
    );
  });
  it('asks again where a way begins on a corner that the one before came to too shortly to tell', () => {
    const corner = [
      [-0.2971, -1.3017],
      [0, 0],
      [-0.0114, 0.0501],
      [-3, 0.04],
    ].map(([x, y]) => ({ x: x!, y: y! }));
    const line = [-5e-324, 0, 2, 4].map((x) => ({ x, y: 0 }));
    expect(cutLines([line], [solid(corner)], 0).reduce((sum, p) => sum + lengthOf(p), 0)).toBeLessThan(1e-9);
  });
  it('leaves out what is shorter than asked', () => {
    const line = [
      { x: -5, y: 9.9 },
      { x: 5, y: 9.99 },
    ];
    expect(cutLines([line], [solid(rectangle(-0.1, 0, 0.1, 10))], 0.5)).toHaveLength(0);
    expect(cutLines([line], [], 0)).toHaveLength(0);
  });
});

describe('middle lines', () => {
  it('run along the middle of a strip, as long as it less one thickness, and tell its thickness', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.2, max: 1, noNaN: true }), fc.double({ min: 6, max: 30, noNaN: true }), (t, l) => {
        const lines = medialLines([solid(rectangle(0, 0, l, t))], t / 3);
        expect(lines).toHaveLength(1);
        const { points, widths, closed } = lines[0]!;
        expect(closed).toBe(false);
        expect(Math.abs(lengthOf(points) - (l - t))).toBeLessThan(0.4 * t);
        points.forEach((p, i) => {
          if (p.x < 1.5 * t || p.x > l - 1.5 * t) return;
          expect(Math.abs(p.y - t / 2)).toBeLessThan(0.02 * t);
          expect(Math.abs(widths[i]! / t - 1)).toBeLessThan(0.03);
        });
      }),
      { numRuns: 40 },
    );
  });
  it('close round a thin ring', () => {
    const ring = difference([solid(circle(0, 0, 8, 90))], [solid(circle(0, 0, 7.5, 90))]);
    const lines = medialLines(ring, 0.15);
    expect(lines).toHaveLength(1);
    expect(lines[0]!.closed).toBe(true);
    expect(lengthOf(lines[0]!.points)).toBeCloseTo(2 * Math.PI * 7.75, 0);
    for (const w of lines[0]!.widths) expect(w).toBeCloseTo(0.5, 1);
  });
  it('reach every arm of a fork, and run up to what they lead into', () => {
    const fork = union([
      solid(rectangle(0, 0, 12, 0.5)),
      solid(rectangle(5.75, 0, 6.25, 7)),
      solid(rectangle(5.75, -7, 6.25, 0.2)),
    ]);
    const ends = medialLines(fork, 0.15).flatMap((l) => [l.points[0]!, l.points.at(-1)!]);
    for (const [x, y] of [
      [0.25, 0.25],
      [11.75, 0.25],
      [6, 6.75],
      [6, -6.75],
    ] as const)
      expect(Math.min(...ends.map((p) => Math.hypot(p.x - x, p.y - y)))).toBeLessThan(0.2);
    const tongue = [solid(rectangle(0, 0, 5, 0.5))];
    const open = medialLines(tongue, 0.15, new EdgeGrid([solid(rectangle(5, -5, 9, 5))]))[0]!;
    expect(Math.max(...open.points.map((p) => p.x))).toBeCloseTo(5, 1);
  });
});
