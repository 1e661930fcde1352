import * as fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Point } from '#core/geometry';
import { Nearest } from './nearest';

/** By looking at all: the first of the nearest ones. */
function byLooking(ends: readonly (readonly Point[])[], start: Point): number[] {
  const left = ends.map((_, i) => i);
  const order: number[] = [];
  let here = start;
  while (left.length > 0) {
    const far = (i: number) => Math.min(...ends[i]!.map((p) => Math.hypot(p.x - here.x, p.y - here.y)));
    let best = 0;
    for (let k = 1; k < left.length; k++) if (far(left[k]!) < far(left[best]!)) best = k;
    const [next] = left.splice(best, 1) as [number];
    order.push(next);
    here = ends[next]!.at(-1)!;
  }
  return order;
}

function inOrder(ends: readonly (readonly Point[])[], start: Point): number[] {
  const nearest = new Nearest(ends);
  const order: number[] = [];
  for (let i = nearest.take(start); i >= 0; i = nearest.take(ends[i]!.at(-1)!)) order.push(i);
  return order;
}

// Whole millimetres, so that many lie equally far; also all on one line, and in two heaps far apart.
const place = (across: number) =>
  fc.record({ x: fc.integer({ min: 0, max: 40 }), y: fc.integer({ min: 0, max: across }) });
const heaps = fc
  .tuple(place(40), fc.boolean())
  .map(([{ x, y }, far]): Point => (far ? { x: x / 9 + 900, y: y / 7 - 300 } : { x: x / 11, y }));

it.each([
  ['anywhere', place(40)],
  ['on a line', place(0)],
  ['in two heaps', heaps],
])('gives the nearest that is left as looking at all does, of equals the first: %s', (_, point) => {
  fc.assert(
    fc.property(
      fc.array(fc.array(point, { minLength: 1, maxLength: 2 }), { minLength: 0, maxLength: 120 }),
      fc.record({ x: fc.integer({ min: -50, max: 90 }), y: fc.integer({ min: -50, max: 90 }) }),
      (ends, start) => {
        expect(inOrder(ends, start)).toEqual(byLooking(ends, start));
      },
    ),
    { numRuns: 150, seed: 7 },
  );
});

it('takes them in their order where nobody knows from where, and says when none is left', () => {
  const nearest = new Nearest([[{ x: 5, y: 0 }], [{ x: 1, y: 0 }]]);
  expect([0, 1, 2].map(() => nearest.take({ x: NaN, y: NaN }))).toEqual([0, 1, -1]);
  expect(new Nearest([]).take({ x: 0, y: 0 })).toBe(-1);
});
