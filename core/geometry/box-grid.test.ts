import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BoxGrid, type Box } from '.';

const near = (a: Box, b: Box, by: number) =>
  !(a.x1 < b.x0 - by || a.x0 > b.x1 + by || a.y1 < b.y0 - by || a.y0 > b.y1 + by);

/** Boxes on a lattice, so that many share their edges. */
const box = fc
  .tuple(fc.integer({ min: -20, max: 20 }), fc.integer({ min: -20, max: 20 }), fc.nat(6), fc.nat(6))
  .map(([x0, y0, w, h]) => ({ x0, y0, x1: x0 + w, y1: y0 + h }));

describe('things by where they are', () => {
  it('are those that are found one by one, in their order, few or many', () => {
    let [found, asked] = [0, 0];
    fc.assert(
      fc.property(
        fc.array(box, { maxLength: 90 }),
        fc.array(fc.tuple(box, fc.constantFrom(0, 0.5, 1, 3)), { minLength: 1, maxLength: 8 }),
        (boxes, questions) => {
          const items = boxes.map((b, number) => ({ box: b, number }));
          const grid = new BoxGrid(items);
          for (const [q, by] of questions) {
            const want = items.filter((i) => near(i.box, q, by));
            expect(grid.near(q, by)).toEqual(want);
            found += want.length;
            asked += items.length;
          }
        },
      ),
      { numRuns: 300 },
    );
    // Not all of them, and not none.
    expect(found).toBeGreaterThan(100);
    expect(found).toBeLessThan(asked / 2);
  });
  it('touch at an edge, and not beyond; what lies outside the grid finds its border', () => {
    const row = Array.from({ length: 40 }, (_, k) => ({ box: { x0: 3 * k, y0: 0, x1: 3 * k + 2, y1: 2 }, k }));
    const grid = new BoxGrid(row);
    const at = (x: number, by = 0) => grid.near({ x0: x, y0: 1, x1: x, y1: 1 }, by).map((i) => i.k);
    expect(at(2)).toEqual([0]);
    expect(at(2 + 1e-9)).toEqual([]);
    expect(at(2.5, 0.5)).toEqual([0, 1]);
    expect(at(-7, 6.9)).toEqual([]);
    expect(at(-7, 7)).toEqual([0]);
    expect(at(500, 381)).toEqual([39]);
  });
});
