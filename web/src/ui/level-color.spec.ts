import { describe, expect, it } from 'vitest';
import { levelColor, levelShare } from './level-color';

const lightness = (color: string) => Number(/oklab\(([\d.]+)/.exec(color)![1]);

describe('the colour of a level', () => {
  it('grows lighter with the level, in even steps', () => {
    const steps = Array.from({ length: 21 }, (_, i) => lightness(levelColor(i / 20)));
    for (let i = 1; i < steps.length; i++) {
      expect(steps[i]! - steps[i - 1]!).toBeGreaterThan(0.01);
      expect(steps[i]! - steps[i - 1]!).toBeLessThan(0.04);
    }
  });
  it('goes by the level, not by its place in the list', () => {
    expect([230, 247.5, 265].map((l) => levelShare(l, [265, 230, 240]))).toEqual([0, 0.5, 1]);
    expect(levelShare(5, [5])).toBe(0.5);
  });
});
