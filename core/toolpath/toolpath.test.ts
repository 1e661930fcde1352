import { describe, expect, it } from 'vitest';
import * as fc from 'fast-check';
import { filamentArea } from '#core/context';
import {
  areaOf,
  circle,
  difference,
  inPolygons,
  intersection,
  offset,
  rectangle,
  solid,
  union,
  type Polygon,
} from '#core/geometry';
import { lineArea, lineSpacing, startingSettings, type Settings } from '#core/settings';
import { trialOfKind } from '#core/trial';
import { blockTrial, heronPair, smallTower } from '../testing/fixtures';
import { linesOf, volumeOf } from '../testing/lines-of';
import { airOf } from './bridge';
import { solidFill } from './fill';
import { rearOf } from './seam';
import { wallsOf } from './walls';
import { fanOf } from '.';

const area = filamentArea(heronPair.context.filament);
const volume = volumeOf;
const s: Settings = startingSettings(heronPair.context);
const plainFill = {
  pattern: 'lines' as const,
  angle: 45,
  spacing: lineSpacing(0.45, 0.2),
  overlap: 0.045,
  order: 'back and forth' as const,
  rests: true,
};
const plain = { brimWidth: 0, minimumLayerTime: 0, firstLayerHeight: 0.2 } satisfies Partial<Settings>;

describe('volumes, against what the shapes have', () => {
  it('fills a solid 20 mm block within 1 % of width × depth × height', () => {
    const lines = linesOf(blockTrial({ width: 20, depth: 20, height: 20 }, { ...plain, infillDensity: 1 }));
    expect(
      Math.abs(volume(lines, ['outer-wall', 'inner-wall', 'bottom-skin', 'top-skin', 'infill']) / 8000 - 1),
    ).toBeLessThan(0.01);
  });
  it('fills 20 % of the inner volume of a 60 mm block within 3 %', () => {
    for (const [width, depth] of [
      [60, 60],
      [60, 83],
    ] as const) {
      const lines = linesOf(
        blockTrial({ width, depth, height: 4 }, { ...plain, infillDensity: 0.2, topLayers: 0, bottomLayers: 0 }),
      );
      const spacing = lineSpacing(s.lineWidth, 0.2);
      // Inner volume by hand: two walls, the outermost centre half a width inside, then up to the edge of the inner line.
      const inset = s.lineWidth / 2 + 1.5 * spacing;
      const inner = (width - 2 * inset) * (depth - 2 * inset) * 4;
      expect(Math.abs(volume(lines, ['infill']) / (0.2 * inner) - 1)).toBeLessThan(0.03);
    }
  });
  it('follows the flow, and the bridge flow on bridges only', () => {
    const one = volume(linesOf(blockTrial({ width: 12, depth: 12, height: 2 }, plain)));
    const more = volume(linesOf(blockTrial({ width: 12, depth: 12, height: 2 }, { ...plain, flow: 1.1 })));
    expect(more / one).toBeCloseTo(1.1, 3);
  });
});

describe('where lines lie', () => {
  const shapes = fc.oneof(
    fc
      .tuple(fc.integer({ min: 4, max: 40 }), fc.integer({ min: 4, max: 40 }), fc.integer({ min: 0, max: 60 }))
      .map(([w, d, hole]): Polygon[] =>
        difference(
          [solid(rectangle(0, 0, w, d))],
          hole > 20 ? [solid(circle(w / 2, d / 2, Math.min(w, d) * (hole / 200), 20))] : [],
        ),
      ),
    fc
      .array(
        fc.tuple(fc.integer({ min: -15, max: 15 }), fc.integer({ min: -15, max: 15 }), fc.integer({ min: 2, max: 9 })),
        { minLength: 1, maxLength: 4 },
      )
      .map((cs) => union(cs.map(([x, y, r]) => solid(circle(x, y, r, 18))))),
  );
  it('keeps walls and fill inside the region, for random polygons with holes', () => {
    fc.assert(
      fc.property(shapes, fc.integer({ min: 0, max: 179 }), (polygons, angle) => {
        for (const island of polygons) {
          const { loops, inside } = wallsOf(island, 0.2, s);
          const allowed = offset([island], -s.lineWidth / 2 + 0.005);
          for (const ring of loops.flat()) {
            for (let i = 1; i < ring.length; i++) {
              const [a, b] = [ring[i - 1]!, ring[i]!];
              const mid = { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 };
              expect(inPolygons(allowed, mid.x, mid.y)).toBe(true);
              expect(Number.isFinite(a.x + a.y)).toBe(true);
            }
            expect(ring[0]).toEqual(ring[ring.length - 1]);
          }
          const room = offset(inside, 0.005 + 0.1 * s.lineWidth - 0.19);
          for (const { points: line, widths } of solidFill(inside, { ...plainFill, angle })) {
            if (!widths) {
              for (let i = 1; i < line.length; i++) {
                const mid = { x: (line[i - 1]!.x + line[i]!.x) / 2, y: (line[i - 1]!.y + line[i]!.y) / 2 };
                expect(inPolygons(room, mid.x, mid.y)).toBe(true);
              }
            }
          }
        }
      }),
      { numRuns: 60 },
    );
  });
  it('never lays skin lines closer than 80 % of their spacing, nor further than 120 %', () => {
    for (const w of [3.3, 7.1, 20, 58.7])
      for (const f of solidFill([solid(rectangle(0, 0, w, w * 1.3))], plainFill)) {
        expect(f.share).toBeGreaterThan(0.8);
        expect(f.share).toBeLessThan(1.2);
      }
  });
  it('has no empty or microscopic extrusion, and none without length', () => {
    for (const l of linesOf(smallTower([250, 240])))
      if (l.e > 0 && !['unretract', 'prime'].includes(l.role)) expect(l.length).toBeGreaterThan(0.0019);
  });
  it('starts walls at the rear, away from the judged front', () => {
    expect(rearOf([...rectangle(0, 0, 10, 5), { x: 0, y: 0 }])).toBe(2);
  });
});

describe('dabs', () => {
  it('are not laid: nothing that stands alone is shorter than a quarter of its line', () => {
    const { context, baseline } = heronPair;
    for (const id of ['flow-coarse', 'fit', 'wall-order']) {
      const lines = linesOf(trialOfKind(id, context, baseline)!).filter((l) => l.e !== 0 || l.length > 1e-4);
      let alone = 0;
      const short: string[] = [];
      lines.forEach((l, i) => {
        const lays = l.e > 0 && l.length > 1e-6;
        if (lays && l.role !== 'other') alone += l.length;
        const next = lines[i + 1];
        const goesOn = next && next.e > 0 && next.length > 1e-6;
        if (goesOn) return;
        if (alone > 0 && alone < 0.25 * baseline.lineWidth * 0.8 - 1e-6) short.push(`${id} ${l.role} ${alone}`);
        alone = 0;
      });
      expect(short).toEqual([]);
    }
  });
});

describe('bridges and overhangs', () => {
  const piers = union([solid(rectangle(0, 0, 6, 6)), solid(rectangle(18, 0, 32, 6))]);
  const joined = union([...piers, solid(rectangle(5, 1, 20, 5))])[0]!;
  it('finds a span held at both ends, along its shortest way', () => {
    const air = airOf(joined, piers, 0.45);
    expect(air.bridges).toHaveLength(1);
    expect(air.bridges[0]!.angle).toBe(0);
    // Anchored on both piers, and covering the whole gap.
    const gap = [solid(rectangle(6, 1, 18, 5))];
    expect(areaOf(intersection(air.bridges[0]!.area, gap))).toBeCloseTo(48, 1);
    expect(areaOf(intersection(air.bridges[0]!.area, piers))).toBeGreaterThan(4);
  });
  it('turns with the span', () => {
    const turn = (p: Polygon): Polygon => ({ outer: p.outer.map(({ x, y }) => ({ x: -y, y: x })), holes: [] });
    expect(airOf(turn(joined), piers.map(turn), 0.45).bridges[0]!.angle).toBe(90);
  });
  it('calls what is held on one side an overhang', () => {
    const air = airOf(solid(rectangle(0, 0, 10, 6)), [solid(rectangle(0, 0, 6, 6))], 0.45);
    expect(air.bridges).toEqual([]);
    expect(areaOf(air.overhang)).toBeCloseTo(24, 1);
  });
  it('prints the ribbon of the tower as a bridge, at bridge speed, in every band', () => {
    const lines = linesOf(smallTower([250, 245, 240]));
    for (const cell of [0, 1, 2]) {
      const bridge = lines.filter((l) => l.role === 'bridge' && l.cell === cell);
      // Span 8 mm: the long lines run from pier to pier.
      expect(Math.max(...bridge.map((l) => l.length))).toBeGreaterThan(8);
      expect(bridge.every((l) => l.speed <= heronPair.baseline.bridgeSpeed)).toBe(true);
      expect(lines.some((l) => l.role === 'overhang' && l.cell === cell)).toBe(true);
    }
  });
});

describe('cooling', () => {
  it('ramps the fan: f₁ + (full − f₁) × k/n', () => {
    const ramp = { ...s, firstLayerFan: 0.2, fan: 1, fanRampLayers: 4 };
    expect([0, 1, 2, 4, 50].map((k) => Math.round(fanOf(k, ramp) * 100))).toEqual([20, 40, 60, 100, 100]);
  });
  it('slows short layers to the threshold, and no further than the floor', () => {
    const speeds = (minimumLayerTime: number, floorSpeed: number) => {
      const lines = linesOf(
        blockTrial({ width: 10, depth: 10, height: 2 }, { ...plain, minimumLayerTime, floorSpeed }),
      );
      return lines.filter((l) => l.role === 'outer-wall' && l.z > 1).map((l) => l.speed);
    };
    const free = Math.max(...speeds(0, 10));
    const slowed = speeds(8, 5);
    expect(Math.max(...slowed)).toBeLessThan(free);
    expect(Math.min(...speeds(60, 14))).toBeGreaterThanOrEqual(14 - 1e-6);
  });
});

describe('travel', () => {
  it('draws back before it leaves an island, and pushes as much forward after', () => {
    // The last file left it drawn back.
    let back = heronPair.baseline.retractionDistance;
    let before = 0;
    let strings = 0;
    let printing = false;
    const lines = linesOf(smallTower([250, 240]));
    const mast = Math.max(...lines.filter((l) => l.role === 'outer-wall' && l.z > 2).map((l) => l.x)) - 7;
    for (const l of lines) {
      if (l.role === 'retract') back -= l.e;
      if (l.role === 'unretract') back -= l.e;
      if (l.e > 0 && l.length > 0) expect(Math.abs(back)).toBeLessThan(1e-9);
      // Every way across the air between pier and mast goes drawn back.
      if (l.e > 0 && l.length > 0) printing = true;
      if (printing && l.role === 'travel' && l.z > 2 && l.x > mast !== before > mast) {
        strings++;
        expect(back).toBeGreaterThan(0);
      }
      before = l.x;
    }
    expect(strings).toBeGreaterThan(40);
  });
  it('caps speed at what the hotend melts', () => {
    const lines = linesOf(
      blockTrial(
        { width: 30, depth: 30, height: 2 },
        { ...plain, outerWallSpeed: 300, innerWallSpeed: 300, skinSpeed: 300, infillSpeed: 300 },
      ),
    );
    const most = heronPair.context.printer.extruder.maximumFlow;
    for (const l of lines)
      if (l.e > 0 && l.length > 0.05) expect(((l.e * area) / l.length) * l.speed).toBeLessThanOrEqual(most * 1.001);
    expect(Math.max(...lines.filter((l) => l.role === 'infill').map((l) => l.speed))).toBeLessThan(
      most / lineArea(s.lineWidth, 0.2),
    );
  });
});
