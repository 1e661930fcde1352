import { describe, expect, it } from 'vitest';
import * as fc from 'fast-check';
import {
  areaOf,
  circle,
  difference,
  distance,
  distanceToEdges,
  hatch,
  inPolygons,
  intersection,
  numerals,
  numeralWidth,
  offset,
  opened,
  rectangle,
  ringArea,
  solid,
  union,
} from '.';

const square = (x0: number, y0: number, side: number) => solid(rectangle(x0, y0, x0 + side, y0 + side));

describe('clipping', () => {
  it('has the areas of hand-worked squares', () => {
    const a = square(0, 0, 10);
    const b = square(5, 5, 10);
    expect(areaOf(union([a, b]))).toBeCloseTo(175, 6);
    expect(areaOf(intersection([a], [b]))).toBeCloseTo(25, 6);
    expect(areaOf(difference([a], [b]))).toBeCloseTo(75, 6);
  });
  it('keeps holes as holes', () => {
    const ring = difference([square(0, 0, 10)], [square(3, 3, 4)]);
    expect(ring).toHaveLength(1);
    expect(ring[0]!.holes).toHaveLength(1);
    expect(areaOf(ring)).toBeCloseTo(84, 6);
    expect(inPolygons(ring, 5, 5)).toBe(false);
    expect(areaOf(offset(ring, -1))).toBeCloseTo(8 * 8 - 6 * 6, 6);
  });
  it('offsets a square by mitre and by round corners', () => {
    expect(areaOf(offset([square(0, 0, 10)], 1))).toBeCloseTo(144, 6);
    expect(areaOf(offset([square(0, 0, 10)], 1, 'round'))).toBeCloseTo(100 + 40 + Math.PI, 1);
    expect(offset([square(0, 0, 1)], -0.6)).toEqual([]);
  });
  it('drops what is thinner than asked', () => {
    const handle = union([square(0, 0, 10), solid(rectangle(10, 4.9, 20, 5.1))]);
    expect(areaOf(opened(handle, 0.5))).toBeCloseTo(100, 1);
  });
  it('refuses what is no number, as a mistake of ours', () => {
    expect(() =>
      union([
        solid([
          { x: NaN, y: 0 },
          { x: 1, y: 0 },
          { x: 0, y: 1 },
        ]),
      ]),
    ).toThrow(/outside/);
  });
  it('holds the sum rule |A| + |B| = |A∪B| + |A∩B| over random rectangles and circles', () => {
    const shape = fc.oneof(
      fc
        .tuple(
          fc.double({ min: -20, max: 20, noNaN: true }),
          fc.double({ min: -20, max: 20, noNaN: true }),
          fc.double({ min: 0.5, max: 15, noNaN: true }),
        )
        .map(([x, y, r]) => solid(circle(x, y, r, 24))),
      fc
        .tuple(fc.integer({ min: -20, max: 20 }), fc.integer({ min: -20, max: 20 }), fc.integer({ min: 1, max: 15 }))
        .map(([x, y, s]) => square(x, y, s)),
    );
    fc.assert(
      fc.property(shape, shape, (a, b) => {
        const both = areaOf(union([a, b])) + areaOf(intersection([a], [b]));
        expect(both).toBeCloseTo(areaOf([a]) + areaOf([b]), 1);
      }),
    );
  });
});

describe('hatching', () => {
  it('covers a region: total length × spacing is its area', () => {
    const region = difference([solid(circle(3, -2, 20, 90))], [square(0, 0, 9)]);
    for (const angle of [0, 30, 45, 90, 137]) {
      const lines = hatch(region, angle, 0.05);
      const length = lines.reduce((s, l) => s + distance(l.a, l.b), 0);
      expect(length * 0.05).toBeCloseTo(areaOf(region), -0.5);
      expect(Math.abs((length * 0.05) / areaOf(region) - 1)).toBeLessThan(0.003);
    }
  });
  it('puts every line inside, at its own angle', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 179 }), fc.double({ min: 0.2, max: 3, noNaN: true }), (angle, spacing) => {
        const region = [solid(circle(0, 0, 10, 40))];
        for (const { a, b } of hatch(region, angle, spacing)) {
          expect(inPolygons(region, (a.x + b.x) / 2, (a.y + b.y) / 2)).toBe(true);
          expect(
            Math.abs((b.x - a.x) * Math.sin((angle * Math.PI) / 180) - (b.y - a.y) * Math.cos((angle * Math.PI) / 180)),
          ).toBeLessThan(1e-6);
          expect(distanceToEdges(region, a)).toBeLessThan(1e-6);
        }
      }),
      { numRuns: 40 },
    );
  });
});

describe('measures', () => {
  it('turns outer rings left', () => expect(ringArea(rectangle(0, 0, 2, 3))).toBe(6));
  it('draws numerals of the height and width it tells', () => {
    const rings = numerals('250', 5, 0.9).flat();
    const width = Math.max(...rings.map((p) => p.x)) - Math.min(...rings.map((p) => p.x));
    expect(width).toBeCloseTo(numeralWidth('250', 5, 0.9), 9);
    expect(Math.max(...rings.map((p) => p.y))).toBe(5);
    // Every figure differs from every other.
    const shapes = [...'0123456789'].map((d) => JSON.stringify(numerals(d, 5, 0.9)));
    expect(new Set(shapes).size).toBe(10);
  });
});
