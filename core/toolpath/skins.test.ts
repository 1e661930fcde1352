import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { circle, difference, hatch, rectangle, solid } from '#core/geometry';
import { lineArea, startingSettings, type Settings } from '#core/settings';
import { blockTrial, heronPair } from '../testing/fixtures';
import { laid, linesOf, movesOf, volumeOf, type Line } from '../testing/lines-of';
import { referenceTrial } from '../testing/reference';
import { oneWay } from './one-way';

const s = startingSettings(heronPair.context);
const bare = {
  brimWidth: 0,
  minimumLayerTime: 0,
  firstLayerHeight: 0.2,
  infillDensity: 0.2,
} satisfies Partial<Settings>;
const size = { width: 24, depth: 24, height: 3 };
const block = (frozen: Partial<Settings>) => linesOf(blockTrial(size, { ...bare, ...frozen }));
const angleOf = (l: Line) => ((Math.atan2(l.y - l.y0, l.x - l.x0) * 180) / Math.PI + 180) % 180;
/** The direction in which most of some lines run, degrees in [0, 180). */
function mainAngle(lines: Line[]): number {
  const sums = new Map<number, number>();
  for (const l of lines) {
    const at = Math.round(angleOf(l)) % 180;
    sums.set(at, (sums.get(at) ?? 0) + l.length);
  }
  return [...sums].sort((a, b) => b[1] - a[1])[0]![0];
}
const layer = (lines: Line[], k: number, roles: string[]) =>
  laid(lines, roles).filter((l) => Math.abs(l.z - (k + 1) * 0.2) < 1e-6);

describe('skins', () => {
  it('follow their list of angles from layer to layer', () => {
    const lines = block({ skinAngles: '60, 0, -60' });
    expect([0, 1, 2].map((k) => mainAngle(layer(lines, k, ['bottom-skin'])))).toEqual([60, 0, 120]);
    expect([11, 12, 13, 14].map((k) => mainAngle(layer(lines, k, ['top-skin'])))).toEqual([120, 60, 0, 120]);
  });
  it('are as many as asked, above and below', () => {
    const lines = block({ topLayers: 3, bottomLayers: 2 });
    const has = (role: string) =>
      Array.from({ length: 15 }, (_, k) => k).filter((k) => layer(lines, k, [role]).length > 0);
    expect(has('bottom-skin')).toEqual([0, 1]);
    expect(has('top-skin')).toEqual([12, 13, 14]);
  });
  it('lie under walls that begin above, a lid or none, and not under the middle of what they enclose', () => {
    const square = (half: number) => [solid(rectangle(-half, -half, half, half))];
    for (const topLayers of [0, 3]) {
      const { lines } = movesOf(blockTrial(size, { ...bare, topLayers, wallCount: 2 }), (plan) => {
        const { cell } = plan.built.pieces[0]!.solid!.at(1)[0]!;
        const at = (z: number) => [{ cell, outline: square(z < 2 ? 12 : 8) }];
        return { ...plan, built: { ...plan.built, pieces: [{ solid: { breaks: [2], top: 3, at } }] } };
      });
      const middle = (l: Line) => ({ x: (l.x + l.x0) / 2, y: (l.y + l.y0) / 2 });
      // Walls of the upper square start in layer 10; from its middle no point is further than 8 mm on either axis.
      const walls = layer(lines, 10, ['outer-wall', 'inner-wall']).filter((l) => l.length > 5);
      expect(walls.length).toBeGreaterThanOrEqual(8);
      const [cx, cy] = ['x', 'y'].map((k) => walls.reduce((a, l) => a + middle(l)[k as 'x'], 0) / walls.length);
      const skin = layer(lines, 9, ['top-skin']);
      const off = (p: { x: number; y: number }) =>
        Math.min(
          ...skin.map((l) => {
            const t = ((p.x - l.x0) * (l.x - l.x0) + (p.y - l.y0) * (l.y - l.y0)) / l.length ** 2;
            const on = Math.max(0, Math.min(1, t));
            return Math.hypot(p.x - l.x0 - on * (l.x - l.x0), p.y - l.y0 - on * (l.y - l.y0));
          }),
        );
      for (const l of walls)
        for (const t of [0.1, 0.3, 0.5, 0.7, 0.9])
          expect(off({ x: l.x0 + t * (l.x - l.x0), y: l.y0 + t * (l.y - l.y0) })).toBeLessThan(s.lineWidth);
      expect(off({ x: cx!, y: cy! })).toBeGreaterThan(4);
      // Two layers of it, where no lid asks for more.
      const beneath = [5, 6, 7, 8, 9].filter((k) => layer(lines, k, ['top-skin']).length > 0);
      expect(beneath).toEqual(topLayers === 0 ? [8, 9] : [7, 8, 9]);
    }
  });
  it('lie in rings where concentric, and the middle is filled', () => {
    const rings = block({ topPattern: 'concentric' });
    const lines = block({});
    expect(volumeOf(layer(rings, 14, ['top-skin'])) / volumeOf(layer(lines, 14, ['top-skin']))).toBeCloseTo(1, 2);
    // Rings of a square run along its sides only.
    for (const l of layer(rings, 14, ['top-skin']))
      if (l.length > 1) expect(Math.min(angleOf(l) % 90, 90 - (angleOf(l) % 90))).toBeLessThan(0.01);
  });
  it('change the flow of the first skin over infill and of the topmost, and of nothing else', () => {
    const plain = block({});
    const more = block({ topSkinFlow: 1.05, firstSkinFlow: 1.2 });
    const share = (k: number) => volumeOf(layer(more, k, ['top-skin'])) / volumeOf(layer(plain, k, ['top-skin']));
    expect(share(14)).toBeCloseTo(1.05, 2);
    expect(share(11)).toBeCloseTo(1.2, 2);
    expect(share(12)).toBeCloseTo(1, 2);
    expect(volumeOf(more, ['bottom-skin', 'outer-wall'])).toBeCloseTo(
      volumeOf(plain, ['bottom-skin', 'outer-wall']),
      6,
    );
  });
});

describe('one-way order', () => {
  it('lays every line in one direction, and none before its neighbour of the row before', () => {
    const lines = layer(block({ skinOrder: 'one way' }), 14, ['top-skin']).filter((l) => l.length > 0.5);
    const angle = (Math.atan2(lines[0]!.y - lines[0]!.y0, lines[0]!.x - lines[0]!.x0) * 180) / Math.PI;
    let across = -Infinity;
    for (const l of lines) {
      expect((Math.atan2(l.y - l.y0, l.x - l.x0) * 180) / Math.PI).toBeCloseTo(angle, 2);
      const v = -l.x * Math.sin((angle * Math.PI) / 180) + l.y * Math.cos((angle * Math.PI) / 180);
      expect(v).toBeGreaterThan(across - 1e-6);
      across = v;
    }
  });
  it('holds round holes, for any hatch', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 179 }),
        fc.integer({ min: 4, max: 16 }),
        fc.integer({ min: 2, max: 8 }),
        (angle, x, r) => {
          const area = difference(
            [solid(rectangle(0, 0, 40, 30))],
            [solid(circle(x, 15, r / 2, 20)), solid(circle(30, 12, r, 24))],
          );
          const rows = hatch(area, angle, 0.8);
          const order = oneWay(rows);
          expect(order).toHaveLength(rows.length);
          const place = new Map(order.map((l, i) => [l, i]));
          const [cos, sin] = [Math.cos((angle * Math.PI) / 180), Math.sin((angle * Math.PI) / 180)];
          const span = (l: (typeof rows)[number]) => [l.a.x * cos + l.a.y * sin, l.b.x * cos + l.b.y * sin] as const;
          for (const a of rows)
            for (const b of rows)
              if (b.row === a.row + 1 && span(a)[0] < span(b)[1] && span(b)[0] < span(a)[1])
                expect(place.get(a)!).toBeLessThan(place.get(b)!);
        },
      ),
      { numRuns: 40 },
    );
  });
});

describe('ironing', () => {
  it('goes over top surfaces only, with the share of filament asked', () => {
    const lines = block({ ironing: 'top surfaces', ironingFlow: 0.15, ironingSpacing: 0.1, ironingSpeed: 25 });
    const ironed = laid(lines, ['ironing']);
    expect(new Set(ironed.map((l) => l.z.toFixed(2)))).toEqual(new Set(['3.00']));
    // The surface inside two walls less half a line, 0.2 mm high, 15 % of it.
    const side = 24 - 2 * (0.225 + 1.5 * (lineArea(0.45, 0.2) / 0.2)) - 0.45;
    expect(volumeOf(ironed) / (side * side * 0.2 * 0.15)).toBeGreaterThan(0.95);
    expect(volumeOf(ironed) / (side * side * 0.2 * 0.15)).toBeLessThan(1.05);
    for (const l of ironed) expect(l.speed).toBeLessThanOrEqual(25);
    expect(ironed[0]!.z).toBe(lines.filter((l) => l.e > 0 && l.length > 0).at(-1)!.z);
  });
  it('finds the plate between raised figures', () => {
    const lines = linesOf(referenceTrial('check-text', { ...bare, ironing: 'top surfaces' }));
    expect(new Set(laid(lines, ['ironing']).map((l) => l.z.toFixed(2)))).toEqual(new Set(['1.20']));
    expect(s.ironing).toBe('none');
  });
});
