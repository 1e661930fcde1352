import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Crossings } from './crossings';

const square = (c: Crossings, x: number, y: number, side: number) => {
  c.wall(x, y, x + side, y);
  c.wall(x + side, y, x + side, y + side);
  c.wall(x + side, y + side, x, y + side);
  c.wall(x, y + side, x, y);
};

describe('wall crossings of travel', () => {
  it('counts each wall that a way passes, not the ones it starts and ends on', () => {
    const c = new Crossings();
    square(c, 0, 0, 10);
    square(c, 20, 0, 10);
    // From inside the first to inside the second: out of one, into the other.
    c.travel(5, 5, 25, 5);
    // Along the middle of the first, from wall to wall: none.
    c.travel(0, 5, 10, 5);
    c.close();
    expect(c.count).toBe(2);
  });
  it('forgets a layer when it ends', () => {
    const c = new Crossings();
    square(c, 0, 0, 10);
    c.close();
    c.travel(-5, 5, 15, 5);
    c.close();
    expect(c.count).toBe(0);
  });
  it('counts as many ways in as ways out for ways that begin and end outside', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc.tuple(fc.double({ min: 0, max: 6.28, noNaN: true }), fc.double({ min: 0, max: 6.28, noNaN: true })),
          { maxLength: 30 },
        ),
        (ways) => {
          const c = new Crossings();
          square(c, -3, -3, 6);
          for (const [a, b] of ways) c.travel(20 * Math.cos(a), 20 * Math.sin(a), 20 * Math.cos(b), 20 * Math.sin(b));
          c.close();
          expect(c.count % 2).toBe(0);
          expect(c.count).toBeLessThanOrEqual(2 * ways.length);
        },
      ),
    );
  });
});
