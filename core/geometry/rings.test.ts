import { describe, expect, it } from 'vitest';
import { compareWithLibrary } from '../testing/random-rings';
import { areaOf, circle, difference, intersection, offset, opened, rectangle, solid, union, type Point } from '.';
import { bordering, standApart } from './apart';
import { mitred } from './mitre';
import { cleaned, wholeRings } from './whole';

const square = (x: number, y: number, side: number) => solid(rectangle(x, y, x + side, y + side));
const shifted = (points: Point[], by: number) => mitred(wholeRings([solid(points)]), by);
const area = (points: Point[], by: number) => areaOf(offset([solid(points)], by));

describe('rings shifted without the library', () => {
  it('are those of the library within a tenth of a micrometre, wherever they answer', () => {
    const { offsets, pairs, stray, between } = compareWithLibrary(4000, 19);
    expect(stray).toBeLessThan(2);
    // The library may leave out an edge of two of its own units.
    expect(between).toBeLessThan(2e-5);
    expect(offsets.own / offsets.asked).toBeGreaterThan(0.6);
    expect(pairs.own / pairs.asked).toBeGreaterThan(0.3);
  });
  it('lose the edges that turn over, and vanish where nothing is left', () => {
    // A corner of 1 mm cut off a square of 10: gone after 1/(2 − √2) = 1.707 mm, and a square is left.
    const cut = [...rectangle(0, 0, 10, 10)];
    cut.splice(2, 1, { x: 10, y: 9 }, { x: 9, y: 10 });
    expect(shifted(cut, -1.6)![0]).toHaveLength(5);
    expect(shifted(cut, -1.8)![0]).toHaveLength(4);
    expect(area(cut, -1.8)).toBeCloseTo(6.4 * 6.4, 3);
    expect(shifted(rectangle(0, 0, 1, 20), -0.49)).toHaveLength(1);
    expect(shifted(rectangle(0, 0, 1, 20), -0.51)).toEqual([]);
  });
  it('keep a mitre of twice the offset and cut a longer one square', () => {
    const wedge = (degrees: number): Point[] => {
      const half = (degrees * Math.PI) / 360;
      return [
        { x: 0, y: 0 },
        { x: 40, y: -40 * Math.tan(half) },
        { x: 40, y: 40 * Math.tan(half) },
      ];
    };
    const tip = (degrees: number) => Math.min(...offset([solid(wedge(degrees))], 1)[0]!.outer.map((p) => p.x));
    // A wedge of 61° has its mitre at 1 / sin 30.5°; one of 59° is cut 1 mm before its tip.
    expect(tip(61)).toBeCloseTo(-1 / Math.sin((30.5 * Math.PI) / 180), 3);
    expect(tip(59)).toBeCloseTo(-1, 3);
    expect(shifted(wedge(59), 1)).toHaveLength(1);
  });
  it('do not answer where a neck parts or rings run into one another', () => {
    const neck = union([square(0, 0, 10), solid(rectangle(10, 4.5, 20, 5.5)), square(20, 0, 10)]);
    expect(mitred(wholeRings(neck), -0.49)).toHaveLength(1);
    expect(mitred(wholeRings(neck), -0.51)).toBeUndefined();
    expect(offset(neck, -0.51)).toHaveLength(2);
    const two = [square(0, 0, 10), square(11, 0, 10)];
    expect(mitred(wholeRings(two), 0.49)).toHaveLength(2);
    expect(mitred(wholeRings(two), 0.51)).toBeUndefined();
    expect(areaOf(offset(two, 0.51))).toBeCloseTo(22.02 * 11.02, 3);
  });
  it('grow back to what they were, or lose their slim parts and sharp tips', () => {
    const ell = union([solid(rectangle(0, 0, 20, 3)), solid(rectangle(0, 0, 3, 20))]);
    expect(opened(ell, 2.9)).toEqual(ell);
    expect(areaOf(opened(ell, 3.1))).toBeLessThan(1);
    // A point of 59° loses its tip, one of 61° nothing.
    const wedge = (degrees: number) => {
      const y = 40 * Math.tan((degrees * Math.PI) / 360);
      const at = (x: number, up: number): Point => ({ x, y: up });
      return [solid([at(0, 0), at(40, -y), at(60, -y), at(60, y), at(40, y)])];
    };
    expect(areaOf(opened(wedge(61), 1))).toBeCloseTo(areaOf(wedge(61)), 6);
    expect(areaOf(opened(wedge(59), 1))).toBeLessThan(areaOf(wedge(59)) - 0.05);
  });
  it('know that nothing is left of a rim slimmer than they shift it', () => {
    const rim = difference([solid(circle(0, 0, 10, 90))], [solid(circle(0, 0, 9, 90))]);
    expect(areaOf(offset(rim, -0.49))).toBeGreaterThan(1);
    expect(offset(rim, -0.51)).toEqual([]);
    // A hole that closes is none.
    expect(offset(rim, 9.2)[0]!.holes).toHaveLength(0);
  });
});

describe('rings that stand apart', () => {
  const whole = (polygons: ReturnType<typeof square>[]) => wholeRings(polygons);
  it('share no point, not even a corner', () => {
    expect(standApart(whole([square(0, 0, 1), square(1.0001, 0, 1)]))).toBe(true);
    expect(standApart(whole([square(0, 0, 1), square(1, 0, 1)]))).toBe(false);
    expect(standApart(whole([square(0, 0, 1), square(1, 1, 1)]))).toBe(false);
    // A corner on an edge.
    expect(standApart(whole([square(0, 0, 2), solid(rectangle(2, 1, 3, 5))]))).toBe(false);
    expect(standApart(whole([square(0, 0, 3), square(1, 1, 1)]))).toBe(true);
  });
  it('are found among many, however they lie', () => {
    const many = Array.from({ length: 400 }, (_, i) => square((i % 20) * 2, Math.floor(i / 20) * 2, 1));
    expect(standApart(whole(many))).toBe(true);
    expect(standApart(whole([...many, solid(rectangle(-1, 20.5, 60, 20.6))]))).toBe(false);
    expect(standApart(whole([...many, solid(rectangle(-1, 21.4, 60, 21.6))]))).toBe(true);
  });
  it('are not answered for beyond the reach of exact numbers', () => {
    expect(standApart(whole([square(3354, 0, 1)]))).toBe(true);
    expect(standApart(whole([square(3355, 0, 1)]))).toBe(false);
    expect(areaOf(union([square(3355, 0, 1), square(4000, 0, 1)]))).toBeCloseTo(2, 6);
  });
  it('border what lies in what', () => {
    const outer = [square(0, 0, 10)];
    const inner = [square(3, 3, 2)];
    expect(areaOf(union([...outer, ...inner]))).toBeCloseTo(100, 6);
    expect(areaOf(difference(outer, inner))).toBeCloseTo(96, 6);
    expect(difference(inner, outer)).toEqual([]);
    expect(areaOf(intersection(outer, inner))).toBeCloseTo(4, 6);
    expect(intersection(outer, [square(20, 0, 2)])).toEqual([]);
    const frame = difference(outer, [square(1, 1, 8)]);
    // An island in the hole of a frame stays one of its own.
    expect(union([...frame, ...inner])).toHaveLength(2);
    expect(bordering([], 0, () => true)).toEqual([]);
  });
  it('border what lies in what among hundreds too, beside and within one another', () => {
    // 15 × 15 fields of 10 mm: in each a frame of 8 outside 6 mm, in every third frame a block of 4 mm.
    const fields = Array.from({ length: 225 }, (_, k) => ({ x: 10 * (k % 15), y: 10 * Math.floor(k / 15), k }));
    const frames = fields.map(({ x, y }) => ({
      outer: square(x + 1, y + 1, 8).outer,
      holes: [[...square(x + 2, y + 2, 6).outer].reverse()],
    }));
    const blocks = fields.filter(({ k }) => k % 3 === 0).map(({ x, y }) => square(x + 3, y + 3, 4));
    const plate = square(-5, -5, 160);
    const frameArea = 64 - 36;
    const all = union([...frames, ...blocks]);
    expect(all).toHaveLength(225 + 75);
    expect(areaOf(all)).toBeCloseTo(225 * frameArea + 75 * 16, 6);
    const left = difference([plate], all);
    // The plate with a hole for each frame, and what lies within each.
    expect(left).toHaveLength(1 + 225);
    expect(areaOf(left)).toBeCloseTo(160 * 160 - 225 * frameArea - 75 * 16, 6);
    expect(areaOf(intersection([plate], all))).toBeCloseTo(225 * frameArea + 75 * 16, 6);
    expect(intersection(frames, blocks)).toEqual([]);
  });
});

describe('cleaning', () => {
  it('keeps one of two corners in one place, round the end of the ring too', () => {
    const p = (x: number, y: number) => ({ x, y });
    const ring = [p(0, 0), p(10, 0), p(10, 10), p(0, 10)];
    for (let turn = 0; turn < 5; turn++) {
      const twice = [...ring, p(0, 0)];
      const turned = [...twice.slice(turn), ...twice.slice(0, turn)];
      expect(cleaned(turned)).toHaveLength(4);
    }
  });
  it('drops what lies on a line and what turns back', () => {
    const p = (x: number, y: number) => ({ x, y });
    expect(cleaned([p(0, 0), p(5, 0), p(10, 0), p(10, 10), p(10, 30), p(10, 10), p(0, 10)])).toHaveLength(4);
    expect(cleaned([p(0, 0), p(10, 0), p(0, 0)])).toBeUndefined();
  });
});
