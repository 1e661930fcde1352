import { describe, expect, it } from 'vitest';
import { meanOn, sdOn, surfaceOf } from '.';

const grid = (f: (x: number, y: number) => number, n = 1) =>
  Array.from({ length: 30 }, (_, i) => ({ x: i % 6, y: Math.floor(i / 6), score: f(i % 6, Math.floor(i / 6)), n }));

describe('a surface over two factors', () => {
  it('finds the hill where it stands', () => {
    const hill = surfaceOf(grid((x, y) => 4 - 0.4 * (x - 3.4) ** 2 - 0.5 * (y - 1.6) ** 2, 4));
    let best = [0, 0, -Infinity];
    for (let x = 0; x <= 5; x += 0.1)
      for (let y = 0; y <= 4; y += 0.1) if (meanOn(hill, x, y) > best[2]!) best = [x, y, meanOn(hill, x, y)];
    expect(best[0]).toBeCloseTo(3.4, 0);
    expect(best[1]).toBeCloseTo(1.6, 0);
    expect(Math.abs(best[0]! - 3.4)).toBeLessThan(0.35);
    expect(Math.abs(best[1]! - 1.6)).toBeLessThan(0.35);
  });
  it('is less sure away from readings, and surer of replicates', () => {
    const flat = () => 2;
    const one = surfaceOf(grid(flat));
    expect(sdOn(one, 12, 12)).toBeGreaterThan(2 * sdOn(one, 2, 2));
    expect(sdOn(surfaceOf(grid(flat, 9)), 2, 2)).toBeLessThan(sdOn(one, 2, 2));
  });
  it('of equal readings is flat', () => {
    const flat = surfaceOf(grid(() => 3));
    expect(meanOn(flat, 1.5, 2.5)).toBeCloseTo(3, 6);
  });
});
