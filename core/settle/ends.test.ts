import { describe, expect, it } from 'vitest';
import { factorOf } from '#core/factors';
import type { Reading } from '#core/judge';
import { must } from '#core/base';
import { planned, trialOfKind } from '#core/trial';
import { heronPair } from '../testing/fixtures';
import { settle } from '.';
import { endOf, notPlainly } from './ends';
import { leastPoor, leastPoorOf } from './poor';
import type { CellScore } from './scores';
import type { Study } from './study';

const factor = factorOf('pressure-advance')!;
const scored = (level: number, score: number): CellScore => ({
  cell: level,
  level,
  byQuality: { 'speed-change': { mean: score, n: 1 } },
  together: score,
  n: 1,
  broke: false,
});
const edge = {
  code: 'at-the-edge' as const,
  message: 'the best lies at the edge',
  toward: 'lower' as const,
  cells: [0],
};

describe('the end of what can be set', () => {
  const limits = { min: 0, max: 3 };
  const from = (scores: readonly number[]) =>
    endOf(
      edge,
      'best-combined',
      limits,
      scores.map((s, i) => scored(i / 10, s)),
      factor,
    )?.value;
  it('is an answer where it falls short of the best level by three quarters of a point at most', () => {
    expect(from([3, 2, 1, 0])).toBe(0);
    expect(from([1, 1.74, 1, 0])).toBe(0);
    expect(from([1, 1.76, 1, 0])).toBeUndefined();
  });
  it('is none where the sweep does not reach it, or the rule is one by a fault', () => {
    const read = [scored(0.1, 3), scored(0.2, 2), scored(0.3, 1)];
    expect(endOf(edge, 'best-combined', limits, read, factor)).toBeUndefined();
    const begun = [scored(0, 3), ...read.slice(1)];
    expect(endOf(edge, 'less-10', limits, begun, factor)).toBeUndefined();
    expect(endOf({ ...edge, toward: 'higher' }, 'best-combined', { min: 0, max: 0.3 }, begun, factor)).toBeUndefined();
  });
});

describe('the interval of an end', () => {
  it('reaches half a step inside: between the last two levels nobody has looked', () => {
    const trial = trialOfKind('fan-level', heronPair.context, heronPair.baseline)!;
    const levels = [0, 0.2, 0.4, 0.6, 0.8, 1];
    const plan = must(planned({ ...trial, axes: [{ ...trial.axes[0]!, levels }] }));
    const rising = (values: number[]) =>
      ['overhang', 'curl', 'bridge'].flatMap((track) =>
        values.map((value, cell): Reading => ({ print: 'p', cells: [cell], track, value, judge: 'me', replicate: 1 })),
      );
    const [up] = settle(plan, rising([0, 1, 1, 2, 3, 4]), { rule: 'best-combined' }).choices;
    expect(up!.choice).toBe(1);
    expect(up!.interval95[0]).toBeLessThanOrEqual(0.9);
    expect(up!.interval95[0]).toBeGreaterThan(0.7);
    expect(up!.interval95[1]).toBe(1);
    const [down] = settle(plan, rising([4, 3, 2, 1, 1, 0]), { rule: 'best-combined' }).choices;
    expect(down!.choice).toBe(0);
    expect(down!.interval95[0]).toBe(0);
    expect(down!.interval95[1]).toBeGreaterThanOrEqual(0.1);
    expect(down!.interval95[1]).toBeLessThan(0.3);
  });
});

describe('an end that is no better than much else', () => {
  const fan = factorOf('fan')!;
  const end = { value: 1, low: 0.9, high: 1, why: 'the best lies at the edge', cells: [5] };
  /** Six levels of a fan; drawn curves as they are given, over the levels 0, 0.2 … 1. */
  const study = (draws: readonly (readonly number[])[]) =>
    ({
      grid: Float64Array.from([0, 1, 2, 3, 4, 5]),
      ranked: draws.map((d) => Float64Array.from(d)),
      span: 5,
      toX: (level: number) => 5 * level,
      toLevel: (x: number) => x / 5,
    }) as unknown as Study;
  const rising = [1, 2, 2.9, 2.95, 3, 3.05];
  const falling = [1, 2, 3.05, 3, 2.95, 2.9];
  it('gives way to the middle of them, unless it is better in four of five drawn curves', () => {
    const of = (up: number) =>
      notPlainly(end, study(Array.from({ length: 100 }, (_, i) => (i < up ? rising : falling))), fan);
    expect(of(81).value).toBe(1);
    const middle = of(79);
    // 0.4 to 1 lie within a quarter point.
    expect(middle.value).toBeCloseTo(0.7, 9);
    expect([middle.low, middle.high].map((v) => Math.round(100 * v))).toEqual([40, 100]);
    expect(middle.why).toBe(
      '40 % to 100 % are within a quarter point of one another, and none plainly the best: the middle of them',
    );
  });
  it('stays where only its neighbour is about as good', () => {
    expect(notPlainly(end, study([[1, 1, 1, 2, 3.05, 3]]), fan).value).toBe(1);
  });
  it('is the lower end just so', () => {
    const low = { ...end, value: 0, low: 0, high: 0.1 };
    expect(notPlainly(low, study([[3, 3, 3, 2, 1, 0]]), fan).value).toBeCloseTo(0.2, 9);
    expect(notPlainly(low, study([[3.2, 3, 3, 2, 1, 0]]), fan).value).toBe(0);
  });
});

describe('the best level that is read', () => {
  it('is told with its neighbours, each level once however often it was printed', () => {
    const read = [scored(0.1, 1), scored(0.2, 3), scored(0.2, 1), scored(0.3, 2.2), scored(0.4, 0)];
    expect(leastPoorOf(read)).toMatchObject({ level: 0.3, from: 0.2, to: 0.4 });
    expect(leastPoorOf(read.slice(0, 2))).toMatchObject({ level: 0.2, from: 0.1, to: 0.2 });
    expect(leastPoorOf([])).toBeUndefined();
    // Plainly so only by a point over what most get, and not at an end.
    const at = (top: number) => [0, 0.2, top, 0.1, 0].map((s, i) => scored(i, s));
    expect(leastPoor(at(1.11))?.level).toBe(2);
    expect(leastPoor(at(1.09))).toBeUndefined();
    expect(leastPoor([3, 0.2, 1, 0.1, 0].map((s, i) => scored(i, s)))).toBeUndefined();
  });
});

it('where all is poor and an end no less so, no value is made of that end, and a way on is named', () => {
  const { context, baseline } = heronPair;
  const trial = trialOfKind('surge-ribbon', context, baseline)!;
  const levels = [0, 0.1, 0.2, 0.3, 0.4, 0.5, 0.6, 0.7];
  const plan = must(planned({ ...trial, axes: [{ ...trial.axes[0]!, levels }] }));
  const looks = [
    [0, 0, 2, 1, 1, 0, 0, 0],
    [0, 1, 1, 2, 1, 1, 0, 0],
  ];
  const readings = looks.flatMap((look, k) =>
    look.map((value, cell): Reading => ({
      print: 'p',
      cells: [cell],
      track: 'speed-change',
      value,
      judge: 'me',
      replicate: k + 1,
    })),
  );
  const { choices, flags, next } = settle(plan, readings);
  expect(choices[0]?.choice).not.toBe(0);
  expect(choices.length > 0 || flags.length > 0).toBe(true);
  expect(next).not.toBeNull();
});
