import { describe, expect, it } from 'vitest';
import { demoPairs } from '#core/demo';
import { EdgeGrid, offset, type Polygon } from '#core/geometry';
import type { Settings } from '#core/settings';
import { asPrint, trialOfKind } from '#core/trial';
import { smallTower } from '../../testing/fixtures';
import { bodyOf, leansOf, referenceTrial } from '../../testing/reference';
import { laid, linesOf, volumeOf, type Line } from '../../testing/lines-of';

const bare = {
  brimWidth: 0,
  minimumLayerTime: 0,
  firstLayerHeight: 0.2,
  layerHeight: 0.2,
  supports: 'from the bed',
  supportGapAbove: 0.2,
  supportGapSide: 0.6,
} satisfies Partial<Settings>;
const bed = 117.5;
const held = ['support', 'support-interface'];
const sectionAt = (id: string, z: number): Polygon[] => {
  const move = (ring: Polygon['outer']) => ring.map((p) => ({ x: p.x + bed, y: p.y + bed }));
  return bodyOf(id)
    .at(Math.max(0, z))
    .map((p) => ({ outer: move(p.outer), holes: p.holes.map(move) }));
};
/** Of the seven slabs, which have support under them: by the middle of each. */
function slabs(lines: Line[]): boolean[] {
  return leansOf().map((_, i) => {
    const y = bed - 21 + i * 6 + 3;
    return laid(lines, held).some(
      (l) => Math.abs((l.y + l.y0) / 2 - y) < 1.5 || (Math.min(l.y, l.y0) < y - 1 && Math.max(l.y, l.y0) > y + 1),
    );
  });
}

describe('supports', () => {
  it('stand under what leans out by more than the angle, and under nothing else', () => {
    // 20, 30, 40, 50, 60, 70, 80°.
    expect(slabs(linesOf(referenceTrial('check-overhangs', { ...bare, supportAngle: 55 })))).toEqual([
      false,
      false,
      false,
      false,
      true,
      true,
      true,
    ]);
    expect(slabs(linesOf(referenceTrial('check-overhangs', { ...bare, supportAngle: 75 })))).toEqual([
      false,
      false,
      false,
      false,
      false,
      false,
      true,
    ]);
    expect(laid(linesOf(referenceTrial('check-cube', bare)), held)).toHaveLength(0);
  });
  for (const supportStructure of ['lines', 'grid', 'columns'] as const) {
    it(`of ${supportStructure} never enter the part, and keep their gaps beside it and under it`, () => {
      for (const id of ['check-overhangs', 'check-bridges']) {
        const lines = linesOf(referenceTrial(id, { ...bare, supportStructure }));
        const own = laid(lines, held);
        expect(own.length).toBeGreaterThan(20);
        const grids = new Map<string, { beside: EdgeGrid; over: EdgeGrid }>();
        for (const l of own) {
          const key = l.z.toFixed(3);
          let at = grids.get(key);
          if (!at) {
            const beside = new EdgeGrid(offset(sectionAt(id, l.z - 0.1), 0.55));
            // One layer of air under the part.
            grids.set(key, (at = { beside, over: new EdgeGrid(sectionAt(id, l.z + 0.1)) }));
          }
          const mid = { x: (l.x + l.x0) / 2, y: (l.y + l.y0) / 2 };
          for (const p of [l, mid]) {
            expect(at.beside.inside(p.x, p.y), `${l.role} ${p.x} ${p.y} ${l.z}`).toBe(false);
            expect(at.over.inside(p.x, p.y), `${l.role} ${p.x} ${p.y} ${l.z}`).toBe(false);
          }
        }
      }
    });
  }
  it('reach up to the gap under a deck, with the interface layers asked', () => {
    const lines = linesOf(
      referenceTrial('check-bridges', { ...bare, supportInterfaceLayers: 3, supportGapAbove: 0.4 }),
    );
    // The deck's underside is at 5 mm; two layers of air.
    const heights = [...new Set(laid(lines, ['support-interface']).map((l) => l.z.toFixed(2)))].sort();
    expect(heights).toEqual(['4.20', '4.40', '4.60']);
    expect(Math.max(...laid(lines, ['support']).map((l) => l.z))).toBeLessThan(4.5);
    // Under every span, the 60 mm one included.
    const under = laid(lines, ['support-interface']).filter((l) => l.z > 4.5);
    for (const x of [-75, 20, 50])
      expect(
        under.some((l) => Math.abs((l.x + l.x0) / 2 - bed - x) < 4),
        `${x}`,
      ).toBe(true);
  });
  it('have the density asked, of structure and interface', () => {
    const volume = (frozen: Partial<Settings>) => {
      const lines = linesOf(referenceTrial('check-bridges', { ...bare, supportInterfaceLayers: 0, ...frozen }));
      return volumeOf(laid(lines, held).filter((l) => l.z > 1 && l.z < 4));
    };
    // Between piers 60 mm apart lies most of it: 58.8 mm less gaps, 8 mm deep.
    expect(volume({ supportDensity: 0.3 }) / volume({ supportDensity: 0.15 })).toBeGreaterThan(1.6);
    expect(volume({ supportDensity: 0.3 }) / volume({ supportDensity: 0.15 })).toBeLessThan(2.4);
  });
  it('leave out what is smaller than the least area', () => {
    const some = (least: number) =>
      laid(linesOf(referenceTrial('check-overhangs', { ...bare, supportAngle: 75, supportLeastArea: least })), held)
        .length;
    expect(some(3)).toBeGreaterThan(0);
    expect(some(200)).toBe(0);
  });
  it('from the bed never stand on the part; from everywhere they may', () => {
    // The ribbon of a tower's second band hangs over that of its first.
    const of = (supports: Settings['supports']) =>
      laid(linesOf({ ...smallTower([250, 240]), frozen: { ...bare, supports } }), held).filter((l) => l.z > 7);
    const ribbon = (lines: Line[]) => lines.filter((l) => l.x > bed - 12 && l.x < bed - 5 && Math.abs(l.y - bed) < 1.5);
    expect(ribbon(of('from the bed'))).toHaveLength(0);
    expect(ribbon(of('everywhere')).length).toBeGreaterThan(5);
  });
  it('of columns are slender: far less filament than lines at the same overhang', () => {
    const volume = (supportStructure: Settings['supportStructure']) =>
      volumeOf(linesOf(referenceTrial('check-bridges', { ...bare, supportStructure, supportInterfaceLayers: 1 })), [
        'support',
      ]);
    expect(volume('columns')).toBeGreaterThan(0);
    expect(volume('columns')).toBeLessThan(volume('lines') * 1.2);
  });
  it('of columns from the bed reach the bed: under every section lies another, leaning by no more than they may', () => {
    for (const id of ['check-overhangs', 'check-bridges']) {
      const lines = laid(linesOf(referenceTrial(id, { ...bare, supportStructure: 'columns' })), ['support']);
      const byLayer = new Map<string, Line[]>();
      for (const l of lines) byLayer.set(l.z.toFixed(2), [...(byLayer.get(l.z.toFixed(2)) ?? []), l]);
      for (const [z, own] of byLayer) {
        if (Number(z) < 0.3) continue;
        const below = byLayer.get((Number(z) - 0.2).toFixed(2)) ?? [];
        for (const l of own) {
          const near = Math.min(...below.map((b) => Math.hypot(b.x - l.x, b.y - l.y)));
          // Half of one section lies on the next: a radius of 0.9 mm and more, a lean of 0.16 mm.
          expect(near, `${id} ${l.x} ${l.y} ${z}`).toBeLessThan(1.6);
        }
      }
    }
  });
  it('have their own flow at the interface', () => {
    const volume = (flow: number) =>
      volumeOf(linesOf(referenceTrial('check-bridges', { ...bare, supportInterfaceFlow: flow })), [
        'support-interface',
      ]);
    expect(volume(0.8) / volume(1)).toBeCloseTo(0.8, 3);
  });

  it.each([0.16, 0.24])('with gaps that are no whole layers of %s mm are laid from the lowest up', (layerHeight) => {
    const { context, baseline } = demoPairs[0]!;
    const trial = asPrint(trialOfKind('support-gap', context, baseline)!);
    const lines = linesOf({ ...trial, baseline: { ...trial.baseline, layerHeight } }).filter(
      (l) => l.e > 0 && l.length > 0,
    );
    // Nothing is laid below what stands there already: within a layer heights only rise, and no layer is begun twice.
    let highest = 0;
    for (const line of lines) {
      expect(line.z).toBeGreaterThanOrEqual(highest - 1e-6);
      highest = Math.max(highest, line.z);
    }
    const heights = (of: Line[]) => new Set(of.map((l) => Math.round(l.z * 1000)));
    const layers = heights(lines.filter((l) => !held.includes(l.role)));
    const between = [...heights(laid(lines, held))].filter((z) => !layers.has(z));
    expect(between.length).toBeGreaterThan(3);
  });
});
