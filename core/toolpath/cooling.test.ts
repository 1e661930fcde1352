import { describe, it, expect } from 'vitest';
import { solid, rectangle } from '#core/geometry';
import { roleNumber } from '#core/moves';
import { lineArea } from '#core/settings';
import { heronPair } from '../testing/fixtures';
import { cooledLayer } from './cooling';
import { Emitter } from './emit';
import { freshHead, type Head } from './head';
import type { LayerPlan, Path } from './path';

const s = {
  ...heronPair.baseline,
  zHop: 0.4,
  retractionDistance: 1,
  retractionSpeed: 30,
  acceleration: 100_000,
  travelAcceleration: 100_000,
};

const context = {
  ...heronPair.context,
  printer: {
    ...heronPair.context.printer,
    maximum: { ...heronPair.context.printer.maximum, acceleration: 100_000 },
    corner: { kind: 'square-corner' as const, value: 50 },
  },
};

/** A square wall of a given side, at outer wall speed. */
function squarePath(x: number, side: number): Path {
  const ring = rectangle(x, 100, x + side, 100 + side);
  return {
    points: [...ring, ring[0]!],
    roles: [1, 1, 1, 1].map(() => roleNumber['outer-wall']),
    area: lineArea(0.45, 0.2),
    width: 0.45,
    height: 0.2,
    cell: 0,
    settings: s,
  };
}

const layer = (...paths: Path[]): LayerPlan => ({
  index: 5,
  z: 1.2,
  height: 0.2,
  cell: 0,
  first: [],
  islands: paths.map((p) => ({ cell: 0, stages: [[p]], outline: solid(p.points.slice(0, -1)) })),
});

const there: Head = { ...freshHead(), x: 100, y: 100, z: 1.2, positionUnknown: false };

describe('the layer-time rule on a real layer', () => {
  // Four sides of 40 mm at 40 mm/s: very nearly 4 s with such an acceleration.
  const plan = layer(squarePath(100, 40));
  const at = (minimumLayerTime: number, floorSpeed = 5, lifted = false) =>
    cooledLayer(plan, there, context, { ...s, minimumLayerTime, floorSpeed }, { cap: false, layerTime: lifted });
  const speedsOf = (c: ReturnType<typeof at>) => c.chunks.flatMap((k) => [...k.moves.speed.subarray(0, k.moves.n)]);

  it('leaves a long layer as it is', () => {
    const c = at(3);
    expect(c.time).toBeCloseTo(4, 1);
    expect([c.share, c.wait]).toEqual([1, 0]);
    expect(Math.max(...speedsOf(c))).toBe(40);
  });
  it('slows a short one so that it just lasts the threshold', () => {
    const c = at(8);
    expect(c.time).toBeGreaterThanOrEqual(8);
    expect(c.time).toBeLessThan(8.03);
    expect(c.share).toBeCloseTo(0.5, 1);
    expect(Math.max(...speedsOf(c))).toBeCloseTo(20, 0);
  });
  it('stops at the floor and tells the wait that is missing', () => {
    const c = at(60, 8);
    // 160 mm at 8 mm/s are 20 s; 40 s are missing.
    expect(c.time).toBeCloseTo(20, 1);
    expect(c.wait).toBeCloseTo(40, 1);
    expect(Math.min(...speedsOf(c))).toBeCloseTo(8, 3);
  });
  it('is the simple sum where there is one speed and no travel: threshold 20 s, 80 mm/s, floor 15', () => {
    // A square of 80 mm/s × t in length; with such an acceleration its corners cost next to nothing.
    const rule = (seconds: number) => {
      const wall = { ...squarePath(0, 20 * seconds), settings: { ...s, outerWallSpeed: 80 } };
      const start = { ...freshHead(), x: 0, y: 100, z: 1.2, positionUnknown: false };
      const c = cooledLayer(
        layer(wall),
        start,
        context,
        { ...s, minimumLayerTime: 20, floorSpeed: 15 },
        { cap: true, layerTime: false },
      );
      return { speed: Math.max(...speedsOf(c)), wait: c.wait };
    };
    expect(rule(28)).toEqual({ speed: 80, wait: 0 });
    expect(rule(12).speed).toBeCloseTo(48, 0);
    expect(rule(5).speed).toBeCloseTo(20, 0);
    expect(rule(5).wait).toBe(0);
    expect(rule(2.5).speed).toBeCloseTo(15, 3);
    // 200 mm at 15 mm/s last 13.33 s: 6.67 s are missing.
    expect(rule(2.5).wait).toBeCloseTo(6.67, 0);
  });
  it('is off where the trial lifts it', () => expect(at(60, 8, true).time).toBeCloseTo(4, 1));
  it('does not slow travel and retraction', () => {
    const two = layer(squarePath(100, 10), squarePath(150, 10));
    const c = cooledLayer(
      two,
      there,
      context,
      { ...s, minimumLayerTime: 15, floorSpeed: 4 },
      { cap: false, layerTime: false },
    );
    for (const { moves } of c.chunks) {
      for (let i = 0; i < moves.n; i++) {
        if (moves.role[i] === roleNumber.travel) expect(moves.speed[i]).toBe(s.travelSpeed);
        if (moves.role[i] === roleNumber.retract || moves.role[i] === roleNumber.unretract)
          expect(moves.speed[i]).toBe(30);
      }
    }
  });
});

describe('emitting travel', () => {
  const moved = (work: (e: Emitter) => void, head: Head = { ...there }) => {
    const e = new Emitter(context, head, s);
    work(e);
    return e.finish().flatMap(({ moves }) =>
      Array.from({ length: moves.n }, (_, i) => ({
        x: moves.x[i]!,
        z: moves.z[i]!,
        e: moves.e[i]!,
        role: moves.role[i]!,
      })),
    );
  };
  it('draws back, lifts, goes, lowers and pushes forward when the way leaves the part', () => {
    const plan = layer(squarePath(100, 10), squarePath(150, 10));
    const moves = moved((e) => e.layer(plan));
    const from = moves.findIndex((m) => m.role === roleNumber.retract);
    expect(moves.slice(from, from + 5).map((m) => [m.role, Math.round(m.z * 10) / 10, m.e])).toEqual([
      [roleNumber.retract, 1.2, -1],
      [roleNumber.hop, 1.6, 0],
      [roleNumber.travel, 1.6, 0],
      [roleNumber.hop, 1.2, 0],
      [roleNumber.unretract, 1.2, 1],
    ]);
    expect(moves.filter((m) => m.role === roleNumber.retract)).toHaveLength(1);
  });
  it('stays down and pressed on the way inside an island', () => {
    const inner = { ...squarePath(103, 4), points: squarePath(103, 4).points.map((p) => ({ x: p.x, y: p.y + 3 })) };
    const outer = squarePath(100, 10);
    const plan: LayerPlan = {
      ...layer(outer),
      islands: [{ cell: 0, stages: [[outer], [inner]], outline: solid(rectangle(99.8, 99.8, 110.2, 110.2)) }],
    };
    expect(moved((e) => e.layer(plan)).some((m) => m.role === roleNumber.retract)).toBe(false);
  });
  it('never lifts over the top of the printer', () => {
    const high = { ...there, z: 249.9 };
    const moves = moved((e) => e.retract(0), high);
    expect(Math.max(...moves.map((m) => m.z))).toBeLessThanOrEqual(250);
  });
  it('writes the filament of a line: length × area / cross-section', () => {
    const [line] = moved((e) => e.layer(layer(squarePath(100, 40)))).filter((m) => m.e > 0);
    expect(line!.e).toBeCloseTo((40 * lineArea(0.45, 0.2)) / ((Math.PI / 4) * 1.75 ** 2), 9);
  });
});
