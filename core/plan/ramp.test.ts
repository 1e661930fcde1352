import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { rampAt, widestStep } from '.';

describe('ramps', () => {
  it('have each level in the middle of its band and run straight between', () => {
    expect([0.5, 1, 1.5, 2.25].map((at) => rampAt([10, 20, 40], at))).toEqual([10, 15, 20, 35]);
    expect(rampAt([7], 0.3)).toBe(7);
    expect(widestStep([10, 20, 40])).toBe(20);
  });
  it('never leave the levels, and never turn back where the levels rise', () => {
    fc.assert(
      fc.property(
        fc.uniqueArray(fc.integer({ min: -50, max: 400 }), { minLength: 2, maxLength: 12 }),
        fc.double({ min: -1, max: 14, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (raw, at, more) => {
          const levels = raw.sort((a, b) => a - b);
          const [a, b] = [rampAt(levels, at), rampAt(levels, at + more)];
          expect(a).toBeGreaterThanOrEqual(levels[0]! - 1e-9);
          expect(b).toBeLessThanOrEqual(levels.at(-1)! + 1e-9);
          expect(b).toBeGreaterThanOrEqual(a - 1e-9);
        },
      ),
    );
  });
});
