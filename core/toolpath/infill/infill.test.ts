import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  areaOf,
  boundsOf,
  circle,
  difference,
  EdgeGrid,
  lengthOf,
  offset,
  rectangle,
  solid,
  union,
  type Polygon,
} from '#core/geometry';
import { planned } from '#core/trial';
import { laid, linesOf, movesOf, volumeOf } from '../../testing/lines-of';
import { referenceTrial } from '../../testing/reference';
import { branchingLines, patterns, SparseInfill } from '.';
import { joined } from './joints';

const spacing = 0.407;
const place = (z: number, layer = 3) => ({ z, layer, angle: 30, line: spacing });
const fill = (id: string, density: number) => ({
  pattern: patterns[id]!,
  density,
  solidSpacing: spacing,
  overlap: 0.045,
  anchor: 15,
});
const regions: Record<string, Polygon[]> = {
  square: [solid(rectangle(0, 0, 60, 60))],
  'plate with holes': difference(
    [solid(rectangle(0, 0, 80, 62))],
    [solid(circle(25, 30, 8)), solid(circle(60, 20, 5))],
  ),
  disc: [solid(circle(0, 0, 34, 96))],
};

describe('density', () => {
  for (const id of Object.keys(patterns)) {
    it(`of ${id} is honest from 10 to 80 %, joints counted, at any height`, () => {
      for (const [name, region] of Object.entries(regions)) {
        for (const density of [0.1, 0.2, 0.4, 0.8]) {
          const infill = new SparseInfill();
          for (const z of [0.3, 1.7, 2.9]) {
            const { lines, share } = infill.lines(region, fill(id, density), place(z), 'w', boundsOf(region)!);
            const volume = lines.reduce((sum, l) => sum + lengthOf(l), 0) * share * spacing;
            expect(Math.abs(volume / (density * areaOf(region)) - 1), `${name} ${density} ${z}`).toBeLessThan(0.03);
          }
        }
      }
    });
  }
  it('that a small region cannot reach is told as it is', () => {
    let short = 0;
    for (const side of [3, 4, 6, 9])
      for (const id of Object.keys(patterns)) {
        const region = [solid(rectangle(0, 0, side, side))];
        const { lines, share, reached } = new SparseInfill().lines(
          region,
          fill(id, 0.08),
          place(1),
          'w',
          boundsOf(region)!,
        );
        const volume = lines.reduce((sum, l) => sum + lengthOf(l), 0) * share * spacing;
        expect(volume / (0.08 * areaOf(region))).toBeCloseTo(reached, 6);
        if (Math.abs(reached - 1) > 0.03) short++;
      }
    expect(short).toBeGreaterThan(3);
    const { notes } = movesOf(referenceTrial('check-touching', { infillDensity: 0.05, infillPattern: 'triangles' }));
    for (const n of notes.density) expect(Math.abs(n.reached / n.asked - 1)).toBeGreaterThan(0.03);
  });
  it('of the whole is refused for a pattern that cannot be printed solid', () => {
    const refused = planned(referenceTrial('check-cube', { infillDensity: 1, infillPattern: 'gyroid' }));
    expect(!refused.ok && refused.faults[0]!.right).toBe('choose lines or concentric for 100 %');
    expect(planned(referenceTrial('check-cube', { infillDensity: 1, infillPattern: 'concentric' })).ok).toBe(true);
  });
});

describe('where patterns lie', () => {
  const shapes = fc
    .array(
      fc.tuple(fc.integer({ min: -20, max: 20 }), fc.integer({ min: -20, max: 20 }), fc.integer({ min: 3, max: 14 })),
      { minLength: 1, maxLength: 5 },
    )
    .map((cs) => difference(union(cs.map(([x, y, r]) => solid(circle(x, y, r, 18)))), [solid(circle(1, 2, 2.5, 15))]));
  it('stays inside random regions with holes, and is never broken', () => {
    fc.assert(
      fc.property(
        shapes,
        fc.constantFrom(...Object.keys(patterns)),
        fc.double({ min: 0.08, max: 0.7, noNaN: true }),
        fc.double({ min: 0.1, max: 40, noNaN: true }),
        (region, id, density, z) => {
          for (const part of region) {
            const box = boundsOf([part])!;
            const allowed = new EdgeGrid(offset([part], -(spacing / 2 - 0.045) + 0.006));
            const { lines, share } = new SparseInfill().lines([part], fill(id, density), place(z), 'w', box);
            expect(Number.isFinite(share)).toBe(true);
            for (const line of lines)
              for (let i = 1; i < line.length; i++) {
                const [a, b] = [line[i - 1]!, line[i]!];
                expect(Number.isFinite(a.x + a.y + b.x + b.y)).toBe(true);
                expect(allowed.inside((a.x + b.x) / 2, (a.y + b.y) / 2), `${id} at ${a.x} ${a.y} → ${b.x} ${b.y}`).toBe(
                  true,
                );
              }
          }
        },
      ),
      { numRuns: 120 },
    );
  });
  it('is the gyroid: every point obeys its equation', () => {
    const wave = 2.44 * 5;
    const k = (2 * Math.PI) / wave;
    for (const z of [0.2, 1.9, 3.3, 6.1]) {
      const lines = patterns['gyroid']!.lines([solid(rectangle(0, 0, 40, 40))], 5, { ...place(z), angle: 0 });
      expect(lines.length).toBeGreaterThan(4);
      for (const line of lines)
        for (const p of line.slice(1, -1)) {
          const [x, y, h] = [p.x * k, p.y * k, z * k];
          expect(
            Math.abs(Math.sin(x) * Math.cos(y) + Math.sin(y) * Math.cos(h) + Math.sin(h) * Math.cos(x)),
          ).toBeLessThan(1e-6);
        }
    }
  });
  it('is cubic: a line moves by the rise over √2 across itself', () => {
    const across = (z: number) => {
      // The family at 0°: horizontal lines only.
      const lines = patterns['cubic']!.lines([solid(rectangle(0, 0, 60, 60))], 4, { ...place(z), angle: 0 });
      return lines.filter((l) => Math.abs(l[0]!.y - l[1]!.y) < 1e-9).map((l) => l[0]!.y);
    };
    const [low, high] = [across(1), across(2)];
    const near = low.map((y) => Math.min(...high.map((v) => Math.abs(v - y - Math.SQRT1_2))));
    expect(near.filter((d) => d < 1e-6).length).toBeGreaterThan(2);
  });
  it('has walls of honeycomb that are shared as two lines beside one another, never on one another', () => {
    const lines = patterns['honeycomb']!.lines([solid(rectangle(0, 0, 50, 50))], 4, { ...place(1), angle: 0 });
    const flats = lines.flatMap((l) =>
      l.slice(1).flatMap((p, i) => (Math.abs(p.y - l[i]!.y) < 1e-9 && Math.abs(p.x - l[i]!.x) > 1 ? [p.y] : [])),
    );
    const rows = [...new Set(flats.map((y) => y.toFixed(4)))].map(Number).sort((a, b) => a - b);
    const gaps = rows.slice(1).map((y, i) => y - rows[i]!);
    expect(Math.min(...gaps)).toBeCloseTo(spacing, 3);
  });
});

describe('joints', () => {
  it('run along the border, join neighbours once, and are no longer than asked', () => {
    const area = [solid(rectangle(0, 0, 20, 10))];
    const lines = [2, 5, 8, 11, 14, 17].map((x) => [
      { x, y: 0 },
      { x, y: 10 },
    ]);
    const whole = joined(lines, area, 3.5);
    expect(whole).toHaveLength(1);
    expect(lengthOf(whole[0]!)).toBeCloseTo(6 * 10 + 5 * 3, 6);
    expect(joined(lines, area, 2)).toHaveLength(6);
  });
  it('keep every line, whatever the reach', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 12 }), fc.double({ min: 0, max: 30, noNaN: true }), (n, reach) => {
        const area = [solid(circle(0, 0, 15, 48))];
        const lines = patterns['grid']!.lines(area, 20 / n, place(1));
        const own = lines.reduce((sum, l) => sum + lengthOf(l), 0);
        const all = joined(lines, area, reach).reduce((sum, l) => sum + lengthOf(l), 0);
        expect(all).toBeGreaterThan(own - 1e-6);
        expect(all).toBeLessThan(own + 2 * lines.length * reach + 1e-6);
      }),
    );
  });
});

describe('branching infill', () => {
  const area = [solid(rectangle(0, 0, 30, 30))];
  const layers = Array.from({ length: 110 }, (_, k) => ({ area, carries: k === 109 ? area : [], height: 0.2 }));
  const found = branchingLines(layers, 3);
  const length = (k: number) => found[k]!.reduce((sum, l) => sum + lengthOf(l), 0);
  it('carries every point of the skin within a spacing, and grows from the walls', () => {
    const all = found[109]!;
    for (let x = 3; x < 28; x += 2.5)
      for (let y = 3; y < 28; y += 2.5) {
        const near = Math.min(x, y, 30 - x, 30 - y, ...all.flatMap((l) => l.map((p) => Math.hypot(p.x - x, p.y - y))));
        expect(near, `${x} ${y}`).toBeLessThan(3.2);
      }
    for (let k = 108; k >= 0; k--) expect(length(k)).toBeLessThanOrEqual(length(k + 1) + 1e-6);
    expect(length(0)).toBe(0);
  });
  it('draws back by no more than a lean of 50° from layer to layer', () => {
    const tips = (k: number) => found[k]!.map((l) => l[0]!);
    for (const k of [108, 90, 60]) {
      for (const tip of tips(k)) {
        const above = found[k + 1]!.flatMap((l) => l.slice(1).map((p, i) => segment(tip, l[i]!, p)));
        expect(Math.min(...above)).toBeLessThan(0.01);
      }
    }
  });
  it('takes less filament than even infill, and prints in a part', () => {
    const of = (frozen: object) =>
      linesOf(referenceTrial('check-cube', { infillDensity: 0.2, brimWidth: 0, ...frozen }));
    const sparse = of({ infillPattern: 'branching' });
    expect(volumeOf(sparse, ['infill'])).toBeGreaterThan(0);
    expect(volumeOf(sparse, ['infill'])).toBeLessThan(0.6 * volumeOf(of({}), ['infill']));
    const half = (from: number, to: number) =>
      volumeOf(laid(sparse, ['infill']).filter((l) => l.z > from && l.z <= to));
    expect(half(0, 3.5)).toBeLessThan(0.5 * half(3.5, 7));
  });
});

function segment(p: { x: number; y: number }, a: { x: number; y: number }, b: { x: number; y: number }): number {
  const [dx, dy] = [b.x - a.x, b.y - a.y];
  const t = Math.max(0, Math.min(1, ((p.x - a.x) * dx + (p.y - a.y) * dy) / (dx * dx + dy * dy || 1)));
  return Math.hypot(p.x - a.x - t * dx, p.y - a.y - t * dy);
}
