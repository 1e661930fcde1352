import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Crossings } from './crossings';

const none = { cell: -1, back: 0, tool: 0, nozzle: 0 };

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
    c.travel(5, 5, 25, 5, none);
    // Along the middle of the first, from wall to wall: none.
    c.travel(0, 5, 10, 5, none);
    c.close();
    expect(c.count).toBe(2);
  });
  it('takes a way to end on a wall by how near it ends, not by how long it is', () => {
    for (const [from, count] of [
      [0.015, 0],
      [0.025, 1],
    ] as const)
      for (const length of [1, 150]) {
        const c = new Crossings();
        c.wall(0, -5, 0, 5);
        c.travel(-from, 0, length, 0, none);
        c.travel(length, 1, -from, 1, none);
        c.close();
        expect(c.count).toBe(2 * count);
      }
  });
  it('forgets a layer when it ends', () => {
    const c = new Crossings();
    square(c, 0, 0, 10);
    c.close();
    c.travel(-5, 5, 15, 5, none);
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
          for (const [a, b] of ways)
            c.travel(20 * Math.cos(a), 20 * Math.sin(a), 20 * Math.cos(b), 20 * Math.sin(b), none);
          c.close();
          expect(c.count % 2).toBe(0);
          expect(c.count).toBeLessThanOrEqual(2 * ways.length);
        },
      ),
    );
  });
  it('counts the same as every way against every wall, however they lie', () => {
    const at = fc.integer({ min: -400, max: 400 }).map((n) => n / 7);
    const way = fc.tuple(at, at, at, at);
    let met = 0;
    fc.assert(
      fc.property(fc.array(way, { maxLength: 80 }), fc.array(way, { maxLength: 30 }), (walls, all) => {
        const side = (ax: number, ay: number, bx: number, by: number, x: number, y: number) =>
          ((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / (Math.hypot(bx - ax, by - ay) || 1);
        const sides = ([ax, ay, bx, by]: number[], [cx, cy, dx, dy]: number[]) => [
          side(cx!, cy!, dx!, dy!, ax!, ay!),
          side(cx!, cy!, dx!, dy!, bx!, by!),
          side(ax!, ay!, bx!, by!, cx!, cy!),
          side(ax!, ay!, bx!, by!, dx!, dy!),
        ];
        // Near an end of either, whether they cross is a matter of rounding.
        const ways = all.filter((a) => walls.every((w) => sides(a, w).every((d) => Math.abs(d) > 0.1)));
        const c = new Crossings();
        for (const w of walls) c.wall(...w);
        for (const w of ways) c.travel(...w, none);
        c.close();
        let count = 0;
        for (const a of ways)
          for (const w of walls) {
            const [p, q, r, s] = sides(a, w) as [number, number, number, number];
            if (p > 0 !== q > 0 && r > 0 !== s > 0) count++;
          }
        expect(c.count).toBe(count);
        met += count;
      }),
      { numRuns: 1000 },
    );
    expect(met).toBeGreaterThan(1000);
  });
  it('has no end beyond which it counts nothing: 144 rings of 240 corners', () => {
    const c = new Crossings();
    const rings = Array.from({ length: 144 }, (_, i) => ({ x: 20 * (i % 12), y: 20 * Math.floor(i / 12) }));
    for (const { x, y } of rings)
      for (let k = 0; k < 240; k++) {
        const [a, b] = [k, k + 1].map((n) => (2 * Math.PI * (n + 0.5)) / 240);
        c.wall(x + 7 * Math.cos(a!), y + 7 * Math.sin(a!), x + 7 * Math.cos(b!), y + 7 * Math.sin(b!));
      }
    // From middle to middle, along each row: out of one and into the next.
    for (const [i, { x, y }] of rings.entries()) if (i % 12 < 11) c.travel(x, y, x + 20, y, none);
    c.close();
    expect(c.count).toBe(12 * 11 * 2);
  });
});
