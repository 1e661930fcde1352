import { describe, expect, it } from 'vitest';
import { lineArea, lineSpacing, lineWidthOf } from '.';

describe('the line', () => {
  it('has the area of a rectangle with half-round edges', () => {
    // (0.45 − 0.2) × 0.2 + π × 0.04 / 4, worked by hand.
    expect(lineArea(0.45, 0.2)).toBeCloseTo(0.05 + 0.0314159, 6);
    expect(lineArea(0.45, 0.2, 'rectangle')).toBeCloseTo(0.09, 12);
    // A line as wide as high is a round strand.
    expect(lineArea(0.4, 0.4)).toBeCloseTo(Math.PI * 0.04, 12);
  });
  it('lies at area / height from its neighbour, w − h(1 − π/4)', () => {
    expect(lineSpacing(0.45, 0.2)).toBeCloseTo(0.45 - 0.2 * (1 - Math.PI / 4), 12);
  });
  it('gives its width back from its area', () => {
    for (const [w, h] of [
      [0.45, 0.2],
      [0.9, 0.3],
      [0.2, 0.3],
    ] as const)
      expect(lineWidthOf(lineArea(w, h), h)).toBeCloseTo(w, 9);
  });
});
