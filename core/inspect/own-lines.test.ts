import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ownLines } from './own-lines';

/** Parallel lines along X, `by` apart. */
const hatch = (n: number, by: number, shift = 0) =>
  Array.from({ length: n }, (_, i) => [0, i * by + shift, 20, i * by + shift]).flat();

describe('lines that a layer has for itself', () => {
  it('are none beside itself, however its lines are cut or turned', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: -9000, max: 9000 }), fc.integer({ min: 0, max: 9000 })), {
          minLength: 2,
          maxLength: 30,
        }),
        fc.double({ min: 0.1, max: 0.9, noNaN: true }),
        (points, cut) => {
          const whole: number[] = [];
          const parts: number[] = [];
          points.slice(1).forEach(([x, y], i) => {
            const [px, py] = points[i]!;
            if (px === x && py === y) return;
            const [a, b, c, d] = [px / 100, py / 100, x / 100, y / 100];
            whole.push(a, b, c, d);
            const [mx, my] = [a + (c - a) * cut, b + (d - b) * cut];
            parts.push(c, d, mx, my, mx, my, a, b);
          });
          expect([...ownLines(whole, parts)]).toEqual(Array(whole.length / 4).fill(0));
          expect([...ownLines(parts, whole)]).toEqual(Array(parts.length / 4).fill(0));
        },
      ),
      { numRuns: 60 },
    );
  });
  it('are none where a short line lies over the border of two squares of the grid', () => {
    const whole = [-84.87, 0, -85.29, 0];
    const parts = [-85.29, 0, -84.912, 0, -84.912, 0, -84.87, 0];
    expect([...ownLines(parts, whole)]).toEqual([0, 0]);
    expect([...ownLines(whole, parts)]).toEqual([0]);
  });
  it('are those with no line beneath: every second of a denser fill, all of one shifted or crossed', () => {
    expect([...ownLines(hatch(8, 1), hatch(4, 2))]).toEqual([0, 1, 0, 1, 0, 1, 0, 1]);
    expect([...ownLines(hatch(4, 2), hatch(8, 1))]).toEqual([0, 0, 0, 0]);
    expect([...ownLines(hatch(3, 2, 0.2), hatch(3, 2))]).toEqual([1, 1, 1]);
    expect([...ownLines([1, 0, 1, 20, 3, 0, 3, 20], hatch(10, 2))]).toEqual([1, 1]);
    expect([...ownLines(hatch(2, 1), [])]).toEqual([1, 1]);
  });
  it('a line counts as shared where half of it or more has a fellow', () => {
    expect([...ownLines([0, 0, 10, 0], [0, 0, 6, 0])]).toEqual([0]);
    expect([...ownLines([0, 0, 10, 0], [0, 0, 3, 0])]).toEqual([1]);
  });
});
