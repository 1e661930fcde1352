import * as fc from 'fast-check';
import { describe, it, expect } from 'vitest';
import { circle, solid, union, EdgeGrid, difference, rectangle, type Point } from '#core/geometry';
import type { Printer } from '#core/context';
import type { Settings } from '#core/settings';
import { heronPair, made } from '../testing/fixtures';
import { plainRead } from '../testing/plain-reader';
import { laid, linesOf, type Line } from '../testing/lines-of';
import { referenceTrial } from '../testing/reference';
import { balanced } from './balance';
import { fanByTime } from './role-speed';
import { TravelPlanner } from './travel-planner';

const bare = {
  brimWidth: 0,
  minimumLayerTime: 0,
  firstLayerHeight: 0.2,
  infillDensity: 0.15,
} satisfies Partial<Settings>;

const length = (a: Point, way: Point[]) =>
  way.reduce((sum, p, i) => sum + Math.hypot(p.x - (way[i - 1] ?? a).x, p.y - (way[i - 1] ?? a).y), 0);

describe('travel inside the walls', () => {
  const plate = difference([solid(rectangle(0, 0, 60, 40))], [solid(rectangle(25, 5, 35, 40.1))]);
  const a = { x: 20, y: 30 };
  const b = { x: 40, y: 30 };
  it('goes round a notch instead of across it, and no further than it must', () => {
    const ways = new TravelPlanner(plate, 0.45);
    expect(ways.leaves(a, b)).toBe(true);
    const way = ways.inside(a, b, 5)!;
    expect(way.at(-1)).toEqual(b);
    // Under the notch, which ends 5 mm above the front: √(5² + 25²) each way, 10 mm along it.
    const least = 2 * Math.hypot(5, 25) + 10;
    expect(length(a, way)).toBeGreaterThan(least - 0.5);
    expect(length(a, way)).toBeLessThan(least + 3);
  });
  it('keeps as far from the walls as the line is wide, for every width asked of one part', () => {
    const from = (width: number) => {
      const way = new TravelPlanner(plate, width).inside(a, b, 10)!;
      const grid = new EdgeGrid(plate);
      return Math.min(...way.slice(0, -1).map((p) => grid.nearest(p).distance));
    };
    const slim = from(0.3);
    expect(from(0.9)).toBeGreaterThan(slim + 0.3);
    expect(from(0.3)).toBeCloseTo(slim, 9);
  });
  it('is given up where the detour is longer than asked', () => {
    const ways = new TravelPlanner(plate, 0.45);
    expect(ways.inside(a, b, 2)).toBeUndefined();
    expect(ways.inside(a, b, 0)).toBeUndefined();
    expect(ways.inside(a, { x: 200, y: 0 }, 50)).toBeUndefined();
  });
  it('never crosses an outline, in random parts with holes', () => {
    // From somewhere in one round to somewhere in another.
    const off = fc.double({ min: -3, max: 3, noNaN: true });
    const part = fc
      .array(
        fc.tuple(fc.integer({ min: -15, max: 15 }), fc.integer({ min: -15, max: 15 }), fc.integer({ min: 3, max: 10 })),
        { minLength: 1, maxLength: 6 },
      )
      .map((cs) => ({
        ends: [cs[0]!, cs.at(-1)!].map(([x, y]) => ({ x, y })),
        polygons: difference(union(cs.map(([x, y, r]) => solid(circle(x, y, r, 16)))), [
          solid(circle(2, 1, 2, 12)),
          solid(rectangle(-9, -8, -6, -2)),
        ]),
      }));
    let found = 0;
    fc.assert(
      fc.property(part, off, off, off, off, ({ polygons, ends }, ax, ay, bx, by) => {
        const from = { x: ends[0]!.x + ax, y: ends[0]!.y + ay };
        const to = { x: ends[1]!.x + bx, y: ends[1]!.y + by };
        const grid = new EdgeGrid(polygons);
        if (!grid.inside(from.x, from.y) || !grid.inside(to.x, to.y)) return;
        const way = new TravelPlanner(polygons, 0.4).inside(from, to, 4);
        if (!way) return;
        found++;
        [from, ...way].forEach((p, i, all) => {
          if (i > 0) expect(grid.crosses(all[i - 1]!, p)).toBe(false);
        });
        expect(length(from, way)).toBeLessThanOrEqual(4 * Math.hypot(to.x - from.x, to.y - from.y) + 0.5);
      }),
      { numRuns: 500 },
    );
    expect(found).toBeGreaterThan(100);
  });
  it('leaves fewer wall crossings and retractions in a real file, and each cell knows its own', () => {
    const straight = made(referenceTrial('check-tube', { ...bare, travelDetour: 0 }, 0.6)).inspection;
    const led = made(referenceTrial('check-tube', { ...bare, travelDetour: 4 }, 0.6)).inspection;
    expect(led.travel.wallCrossings).toBeLessThan(straight.travel.wallCrossings);
    expect(led.travel.retractions).toBeLessThanOrEqual(straight.travel.retractions);
    const tiles = made({
      ...referenceTrial('check-tube', bare, 0.6),
      axes: [{ factor: 'travel-detour', levels: [0, 4], kind: 'step', along: 'tile' }],
    }).inspection;
    const [off, on] = tiles.cells;
    expect(on!.crossings.count).toBeLessThan(off!.crossings.count);
    expect(off!.crossings.length).toBeGreaterThan(on!.crossings.length);
  });
});

describe('leaving a line', () => {
  it('wipes back over it after drawing back, as far as asked', () => {
    const lines = linesOf(referenceTrial('check-nested-tubes', { ...bare, wipe: 1.5, travelDetour: 0 }));
    const runs: Line[][] = [];
    lines.forEach((l, i) => {
      if (l.role === 'wipe') {
        if (lines[i - 1]!.role === 'wipe') runs.at(-1)!.push(l);
        else runs.push([l]);
      }
    });
    expect(runs.length).toBeGreaterThan(10);
    for (const run of runs) {
      const total = run.reduce((sum, l) => sum + l.length, 0);
      expect(total).toBeLessThanOrEqual(1.5 + 1e-6);
      const first = lines.indexOf(run[0]!);
      expect(lines[first - 1]!.role).toBe('retract');
      expect(run.every((l) => l.e === 0)).toBe(true);
    }
    // Only a line shorter than the wipe is wiped over less.
    const whole = runs.filter((run) => run.reduce((sum, l) => sum + l.length, 0) > 1.49);
    expect(whole.length).toBeGreaterThan(0.8 * runs.length);
  });
});

describe('fan by layer time', () => {
  const s = { ...heronPair.baseline, fan: 0.9, leastFan: 0.3, fullFanBelow: 10, leastFanAbove: 30, fanRampLayers: 1 };
  it('is full on short layers, least on long ones, and on a line between', () => {
    expect(fanByTime(20, 5, s)).toBeCloseTo(0.9, 9);
    expect(fanByTime(20, 10, s)).toBeCloseTo(0.9, 9);
    expect(fanByTime(20, 20, s)).toBeCloseTo(0.6, 9);
    expect(fanByTime(20, 40, s)).toBeCloseTo(0.3, 9);
  });
  it('comes into the file', () => {
    const fans = (frozen: Partial<Settings>) =>
      new Set(
        laid(linesOf(referenceTrial('check-dome', { ...bare, bridgeFan: 0, fan: 1, ...frozen }, 0.6)))
          .filter((l) => l.z > 1 && l.role !== 'bridge')
          .map((l) => l.fan.toFixed(2)),
      );
    expect([...fans({})]).toEqual(['1.00']);
    const varied = [...fans({ fanByLayerTime: 'yes', leastFan: 0.2, fullFanBelow: 1, leastFanAbove: 4 })].map(Number);
    expect(Math.max(...varied)).toBeGreaterThan(0.95);
    expect(Math.min(...varied)).toBeLessThan(0.6);
    expect(varied.length).toBeGreaterThan(5);
  });
});

describe('layer time of cells', () => {
  it('is brought to that of the slowest by waiting, or by a pillar', () => {
    const times = new Map([
      [-1, [40]],
      [0, [10, 12]],
      [1, [5, 5]],
    ]);
    expect([...balanced(times, heronPair.baseline, undefined).waits]).toEqual([
      [-1, 0],
      [0, 0],
      [1, 6],
    ]);
    const { pillar } = balanced(times, heronPair.baseline, { x: 0, y: 0 });
    expect(pillar!.times.get(1)! - pillar!.times.get(0)!).toBeCloseTo(6, 9);
  });
  for (const equalLayerTime of ['wait', 'pillar'] as const) {
    it(`is equal within 10 % in a printed file by ${equalLayerTime}, and named where it is not`, () => {
      const trial = (frozen: Partial<Settings>) => ({
        ...referenceTrial('check-cube', { ...bare, ...frozen }),
        axes: [{ factor: 'infill-density', levels: [0.1, 0.3, 0.6], kind: 'step' as const, along: 'height' as const }],
      });
      const uneven = made(trial({})).inspection;
      expect(uneven.findings.map((f) => f.code)).toContain('inspect.layer-time');
      const even = made(trial({ equalLayerTime })).inspection;
      const times = even.cells.map((c) => c.layerTime);
      expect(Math.max(...times) / Math.min(...times)).toBeLessThan(1.1);
      expect(even.findings.map((f) => f.code)).not.toContain('inspect.layer-time');
    });
  }
});

describe('waiting off the part', () => {
  const trial = (keepOut: Printer['keepOut']) => {
    const t = referenceTrial('check-cube', { ...bare, equalLayerTime: 'wait' });
    const context = { ...t.context, printer: { ...t.context.printer, keepOut } };
    const axes = [
      { factor: 'infill-density', levels: [0.1, 0.3, 0.6], kind: 'step' as const, along: 'height' as const },
    ];
    return { ...t, context, axes };
  };
  const clip = (label: string, x: number, y: number, width: number, depth: number) => ({ label, x, y, width, depth });
  // The cube stands in the middle of the bed, 117.5, 117.5; each clip stands between it and one of the spots to wait at.
  const sides = [
    clip('right', 130, 100, 2, 35),
    clip('left', 103, 100, 2, 35),
    clip('behind', 100, 130, 35, 2),
    clip('in front', 100, 103, 35, 2),
  ];
  it('never crosses a clip, whichever side it stands on', () => {
    for (const zones of [sides.slice(0, 1), sides.slice(0, 2), sides.slice(1), sides]) {
      const { moves, lines } = plainRead(made(trial(zones)).file.bytes);
      expect(lines.filter((l) => l.startsWith('G4')).length).toBeGreaterThan(20);
      const crossed: string[] = [];
      for (const [i, m] of moves.entries()) {
        const from = moves[i - 1];
        if (!from || Math.min(m.z, from.z) >= 10) continue;
        for (let k = 0; k <= 40; k++) {
          const [x, y] = [from.x + ((m.x - from.x) * k) / 40, from.y + ((m.y - from.y) * k) / 40];
          const zone = zones.find((c) => x > c.x && x < c.x + c.width && y > c.y && y < c.y + c.depth);
          if (zone) crossed.push(`${zone.label}: ${lines[m.line - 1]}`);
        }
      }
      expect(crossed).toEqual([]);
    }
  });
});

describe('sparing the outer wall from slowing', () => {
  it('keeps its speed on short layers, and the others slow more', () => {
    const of = (slowOuterWall: Settings['slowOuterWall']) =>
      laid(
        linesOf(referenceTrial('check-star', { ...bare, minimumLayerTime: 20, floorSpeed: 4, slowOuterWall }, 0.6)),
      ).filter((l) => l.z > 1);
    const fastest = (lines: Line[], role: string) =>
      Math.max(...lines.filter((l) => l.role === role).map((l) => l.speed));
    const [yes, no] = [of('yes'), of('no')];
    expect(fastest(no, 'outer-wall')).toBeCloseTo(heronPair.baseline.outerWallSpeed, 3);
    expect(fastest(yes, 'outer-wall')).toBeLessThan(heronPair.baseline.outerWallSpeed - 1);
    expect(fastest(no, 'inner-wall')).toBeLessThan(fastest(yes, 'inner-wall'));
  });
});
