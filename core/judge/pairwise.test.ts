import { describe, expect, it } from 'vitest';
import { seeded, shuffled } from '#core/base';
import { kendall, Pairing } from '.';

/** A judge who errs in one answer of ten, asked what the pairing wants to know. */
function asked(truth: readonly number[], answers: number, ordered: boolean, random: () => number): Pairing {
  const pairing = new Pairing(truth.length, { ordered });
  for (let k = 0; k < answers; k++) {
    const pair = pairing.next();
    if (!pair) break;
    const [a, b] = pair;
    const right = truth[a]! > truth[b]!;
    pairing.add({ a, b, result: right !== random() < 0.1 ? 'a' : 'b' });
  }
  return pairing;
}

describe('which is better', () => {
  it('of eight levels finds the best or its neighbour, and their order, with 14 answers', () => {
    const random = seeded(9);
    const runs = 30;
    let best = 0;
    let alike = 0;
    for (let k = 0; k < runs; k++) {
      const top = 7 * random();
      const [left, right] = [0.5 + random(), 0.5 + random()];
      const truth = Array.from({ length: 8 }, (_, i) => -Math.abs(i - top) * (i < top ? left : right));
      const { order, strength } = asked(truth, 14, true, random).order();
      if (Math.abs(order[0]! - truth.indexOf(Math.max(...truth))) <= 1) best++;
      if (kendall(truth, strength) >= 0.9) alike++;
    }
    expect(best / runs).toBeGreaterThanOrEqual(0.95);
    expect(alike / runs).toBeGreaterThanOrEqual(0.85);
  }, 60_000);
  it('of eight loose pieces finds the order with 26 answers', () => {
    const random = seeded(10);
    const runs = 5;
    let sum = 0;
    for (let k = 0; k < runs; k++) {
      const truth = shuffled(8, random);
      sum += kendall(truth, asked(truth, 26, false, random).order().strength);
    }
    expect(sum / runs).toBeGreaterThan(0.82);
  }, 60_000);
  it('is sure where answers agree and unsure where they are few', () => {
    const few = new Pairing(3).add({ a: 0, b: 1, result: 'a' }).order();
    expect(few.order[0]).toBe(0);
    const more = new Pairing(3);
    for (let k = 0; k < 4; k++) more.add({ a: 0, b: 1, result: 'a' }).add({ a: 1, b: 2, result: 'a' });
    const { order, best, error } = more.order();
    expect(order).toEqual([0, 1, 2]);
    expect(best[0]).toBeGreaterThan(0.9);
    expect(error[0]!).toBeLessThan(few.error[0]!);
  });
  it('takes a tie as equal', () => {
    const p = new Pairing(2);
    for (let k = 0; k < 5; k++) p.add({ a: 0, b: 1, result: 'tie' });
    const { strength } = p.order();
    expect(Math.abs(strength[0]! - strength[1]!)).toBeLessThan(1.5);
  });
});
