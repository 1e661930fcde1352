import { describe, expect, it } from 'vitest';
import { costScore, weighedCosts } from './costs';

describe('what a level costs, as a score', () => {
  it('is 4 for the cheapest and a point less for every quarter more, never below 0', () => {
    expect([100, 125, 150, 175, 200, 400].map((c) => costScore(c, 100))).toEqual([4, 3, 2, 1, 0, 0]);
    expect(costScore(110, 100)).toBeCloseTo(3.6, 9);
  });
  it('is 4 where nothing is known of costs', () => {
    expect(costScore(0, 0)).toBe(4);
  });
});

describe('the costs that are weighed', () => {
  const costs = [
    { cell: 0, time: 600, mass: 8 },
    { cell: 1, time: 900, mass: 4 },
    { cell: 2, time: 1200, mass: 5 },
  ];
  const scores = (weights: Record<string, number>) =>
    weighedCosts(costs, weights).map(({ weight, score }) => [weight, ...[0, 1, 2].map((c) => score.get(c))]);
  it('are those that the person lets count, each cell against the cheapest of its kind', () => {
    expect(scores({})).toEqual([]);
    expect(scores({ time: 2 })).toEqual([[2, 4, 2, 0]]);
    expect(scores({ filament: 0.5 })).toEqual([[0.5, 0, 4, 3]]);
    expect(scores({ time: 1, filament: 3, surface: 2 })).toEqual([
      [1, 4, 2, 0],
      [3, 0, 4, 3],
    ]);
  });
  it('are none for a weight of nought, and none of a single level', () => {
    expect(scores({ time: 0, filament: -1 })).toEqual([]);
    expect(weighedCosts(costs.slice(0, 1), { time: 1 })).toEqual([]);
  });
});
