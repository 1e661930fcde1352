import { describe, expect, it } from 'vitest';
import { edgeCalls, first, flatCalls, readBy, rounds } from '../testing/choosing';
import { hiddenOf, seeded } from '../testing/hidden-judge';
import { combined, crossingsOf, nextPositions, quantile, respond, settle, topsOf } from '.';
import { cellsOf } from '#core/plan';

// A small part of the optima of the report in docs/choosing.md; bounds leave room for so few (two standard errors).
const OPTIMA = 60;

describe('settling against a hidden judge', () => {
  it('finds smooth peaks, closer after the proposed second trial', () => {
    const [one, two] = rounds('smooth', OPTIMA);
    expect(one.error.median).toBeLessThan(0.4);
    expect(two.error.median).toBeLessThan(0.28);
    expect(one.loss.median).toBeLessThan(0.05);
    expect(two.loss.median).toBeLessThan(0.025);
    expect(one.coverage).toBeGreaterThan(0.88);
    expect(two.answered).toBeGreaterThan(0.95);
  }, 60_000);
  it('finds where a fault begins, far closer after the second', () => {
    const [one, two] = rounds('threshold', OPTIMA);
    expect(one.error.median).toBeLessThan(0.28);
    expect(two.error.median).toBeLessThan(0.14);
    expect(one.loss.median).toBeLessThan(0.05);
    expect(two.coverage).toBeGreaterThan(0.85);
  }, 60_000);
  it('calls the edge outside, and not inside', () => {
    expect(edgeCalls('smooth', -3, -2, OPTIMA)).toBeGreaterThan(0.85);
    expect(edgeCalls('smooth', 1.5, 5.5, OPTIMA)).toBeLessThan(0.1);
  }, 60_000);
  it('calls no visible difference where there is none, and not where there is', () => {
    const { flat, differing } = flatCalls(OPTIMA);
    expect(flat).toBeGreaterThan(0.88);
    expect(differing).toBeLessThan(0.15);
  }, 60_000);
});

describe('a response', () => {
  const at = (scores: number[]) => scores.map((score, x) => ({ x, score }));
  it('of many exact readings runs through them', () => {
    const many = Array.from({ length: 6 }, () => at([0, 1, 3, 4, 4, 3, 1, 0])).flat();
    const r = respond(many, 'peak', 7);
    const middle = quantile(topsOf(r.grid, r.draws), 0.5);
    // Symmetrical about 3.5.
    expect(middle).toBeGreaterThan(3.2);
    expect(middle).toBeLessThan(3.8);
  });
  it('of a step lies between the last good and the first bad level', () => {
    const r = respond([...at([4, 4, 4, 4, 0, 0, 0, 0]), ...at([4, 4, 4, 4, 0, 0, 0, 0])], 'falling', 7);
    const steps = crossingsOf(r.grid, r.draws, 2.5);
    expect(quantile(steps, 0.025)).toBeGreaterThan(2.8);
    expect(quantile(steps, 0.975)).toBeLessThan(4.2);
  });
  it('is the same for the same readings, whatever their order', () => {
    const scores = at([0, 1, 2, 3, 4, 4, 3, 1]);
    expect(respond(scores, 'peak', 7).draws[5]).toEqual(respond([...scores].reverse(), 'peak', 7).draws[5]);
  });
  it('follows the weights where two qualities pull apart', () => {
    const falls = respond(at([4, 4, 4, 3, 2, 1, 0, 0]), 'falling', 7);
    const rises = respond(at([0, 0, 1, 2, 3, 4, 4, 4]), 'rising', 7, 8);
    const top = (a: number, b: number) => {
      const draws = combined([
        { response: falls, weight: a },
        { response: rises, weight: b },
      ]);
      return quantile(topsOf(falls.grid, draws), 0.5);
    };
    expect(top(1, 3)).toBeGreaterThan(top(3, 1));
  });
});

describe('the next trial', () => {
  it('reads near a step, and on the flanks of a peak', () => {
    const step = respond(
      [4, 4, 4, 4, 1, 1, 1, 1].map((score, x) => ({ x, score })),
      'falling',
      7,
    );
    const near = nextPositions(
      [{ response: step, weight: 1 }],
      crossingsOf(step.grid, step.draws, 2.5),
      Array.from({ length: 57 }, (_, i) => ({ x: i / 8, cost: 1 })),
      6,
    );
    expect(near.filter((x) => x > 2.5 && x < 4.8).length).toBeGreaterThanOrEqual(4);
    const peak = respond(
      [0, 1, 3, 4, 4, 3, 1, 0].map((score, x) => ({ x, score })),
      'peak',
      7,
    );
    const flanks = nextPositions(
      [{ response: peak, weight: 1 }],
      topsOf(peak.grid, peak.draws),
      Array.from({ length: 57 }, (_, i) => ({ x: i / 8, cost: 1 })),
      6,
    );
    expect(flanks.some((x) => x < 2.8)).toBe(true);
    expect(flanks.some((x) => x > 4.2)).toBe(true);
    // Nothing is learnt on the top itself.
    expect(flanks.filter((x) => Math.abs(x - 3.5) < 0.4)).toEqual([]);
  });
  it('shuns levels that cost much', () => {
    const peak = respond(
      [0, 1, 3, 4, 4, 3, 1, 0].map((score, x) => ({ x, score })),
      'peak',
      7,
    );
    const chosen = (cost: (x: number) => number) =>
      nextPositions(
        [{ response: peak, weight: 1 }],
        topsOf(peak.grid, peak.draws),
        Array.from({ length: 57 }, (_, i) => ({ x: i / 8, cost: cost(i / 8) })),
        4,
      );
    expect(chosen((x) => (x > 3.5 ? 40 : 1)).every((x) => x <= 3.5)).toBe(true);
  });
  it('goes on from what earlier readings said', () => {
    const random = seeded(3);
    const hidden = hiddenOf('smooth', random, 3, 4);
    const readings = readBy(hidden, first, random);
    const plan = { trial: first, cells: cellsOf(first.axes) };
    const alone = settle(plan, readings).choices[0]!;
    const more = settle(plan, readBy(hidden, first, random), { earlier: [{ cells: plan.cells, readings }] })
      .choices[0]!;
    const width = (c: typeof alone) => c.interval95[1] - c.interval95[0];
    expect(width(more)).toBeLessThan(width(alone));
  });
});
