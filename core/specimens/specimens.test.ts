import { describe, expect, it } from 'vitest';
import { areaOf, boundsOf, intersection } from '#core/geometry';
import { cellsOf } from '#core/plan';
import { startingSettings } from '#core/settings';
import { heron, marshPetg, osprey } from '#core/demo';
import { labelMap, ledgeReach, specimenOf } from '.';

const context = { printer: heron, filament: marshPetg };
const settings = startingSettings(context);
const tower = specimenOf('temperature-tower')!;
const axis = {
  factor: 'nozzle-temperature',
  levels: [265, 260, 255, 250],
  kind: 'step' as const,
  along: 'height' as const,
};
const cells = cellsOf([axis]);
const build = (params: Record<string, number>, s = settings) => tower.build(params, cells, s, context);
const usual = { bandHeight: 6, baseHeight: 1.2, span: 12, air: 8 };

describe('the temperature tower', () => {
  const built = build(usual);
  const solid = built.pieces[0]!.solid!;
  const at = (z: number) => solid.at(z).flatMap((r) => r.outline);
  const foot = built.places[0]!.z[0];

  it('puts each band on whole layers, one after the other', () => {
    built.places.forEach((p, i) => {
      expect((p.z[1] - p.z[0]) / settings.layerHeight).toBeCloseTo(30, 6);
      expect(p.z[0]).toBeCloseTo(foot + i * 6, 6);
      expect(solid.at((p.z[0] + p.z[1]) / 2)[0]!.cell).toBe(p.cell);
    });
    expect(solid.at(foot - 0.1)[0]!.cell).toBe(-1);
    expect(solid.at(built.height + 0.01)).toEqual([]);
  });
  it('has two unequal piers and a mast apart, joined by a ribbon only near the top of the band', () => {
    const low = at(foot + 0.2);
    expect(low).toHaveLength(3);
    const widths = low
      .map((p) => boundsOf([p])!)
      .map((b) => b.x1 - b.x0)
      .sort((a, b) => a - b);
    expect(widths[2]! - widths[1]!).toBeGreaterThan(4);
    // With the ribbon the two piers are one.
    const pieces = (t: number) => at(foot + t).filter((p) => areaOf([p]) > 3);
    expect(pieces(5.2)).toHaveLength(2);
    const ribbon = at(foot + 5.2)
      .map((p) => boundsOf([p])!)
      .find((b) => b.x1 - b.x0 > 25);
    expect(ribbon).toBeDefined();
    expect(pieces(5.8)).toHaveLength(3);
  });
  it('has its waist, the weakest section, at least 2 mm above the change of temperature', () => {
    // Piers without ledge and spike: the section right of the outer face.
    let weakest = { t: 0, area: Infinity };
    for (let t = 0.05; t < 5.95; t += 0.1) {
      const pier = at(foot + t)
        .map((p) => ({ p, b: boundsOf([p])! }))
        .filter((q) => q.b.x1 - q.b.x0 > 9 && q.b.x1 - q.b.x0 < 20);
      const broad = pier.sort((a, b) => b.b.x1 - a.b.x1)[0];
      if (broad && areaOf([broad.p]) < weakest.area) weakest = { t, area: areaOf([broad.p]) };
    }
    expect(weakest.t).toBeGreaterThan(2);
    for (const bandHeight of [5, 6, 8, 12, 20]) {
      const b = build({ ...usual, bandHeight });
      const whole = b.pieces[0]!.solid!;
      const z0 = b.places[1]!.z[0];
      const full = boundsOf(whole.at(z0 + 0.1)[0]!.outline)!;
      for (let t = 0.1; t < 2; t += 0.1) {
        // Below 2 mm no notch: the piers are as deep as at the border of the bands.
        expect(boundsOf(whole.at(z0 + t)[0]!.outline)!.y1).toBeCloseTo(full.y1, 6);
      }
    }
  });
  it('has a ledge whose overhang grows smoothly to 75°', () => {
    const ledge = { radius: 3, foot: 0.3, rise: 3 * Math.sin((75 * Math.PI) / 180), lip: 0.4 };
    const reach = (t: number) => ledgeReach({ ...ledge, reach: 0 }, t);
    let before = 0;
    for (let t = 0.31; t < ledge.foot + ledge.rise; t += 0.01) {
      const slope = Math.atan((reach(t) - reach(t - 0.01)) / 0.01);
      expect(slope).toBeGreaterThanOrEqual(before - 1e-3);
      // Read as an angle: sin θ is the share of the radius climbed.
      expect(Math.sin(slope)).toBeCloseTo((t - 0.005 - ledge.foot) / ledge.radius, 1);
      before = slope;
    }
    expect((before * 180) / Math.PI).toBeGreaterThan(73);
    expect((before * 180) / Math.PI).toBeLessThan(76);
  });
  it('has a spike that stands free and ends below the next band', () => {
    const free = (t: number) => at(foot + t).filter((p) => areaOf([p]) < 2.2);
    expect(free(4)).toHaveLength(1);
    expect(areaOf(free(5.5))).toBeLessThan(areaOf(free(4)));
    expect(free(5.9)).toHaveLength(0);
    const spike = free(4)[0]!;
    expect(areaOf(intersection([spike], at(foot + 3.4)))).toBeCloseTo(areaOf([spike]), 2);
  });
  it('carries the value in numerals where there is room, else a notch code', () => {
    const front = (z: number, s = solid) => areaOf(s.at(z).flatMap((r) => r.outline));
    const spread = new Set(Array.from({ length: 40 }, (_, i) => front(foot + 0.6 + i * 0.05).toFixed(3)));
    expect(spread.size).toBeGreaterThan(3);
    expect(built.remarks).toEqual([]);
    expect(build({ ...usual, bandHeight: 5 }).remarks[0]).toMatch(/binary/);
  });
  it('draws every cell for the sheet within the drawing', () => {
    for (const c of cells) expect(built.drawing.shapes.some((s) => s.cell === c.id && s.part === 'ledge')).toBe(true);
    expect(built.drawing.y[1]).toBeCloseTo(built.height, 6);
    const svg = labelMap(built, cells, 'A <tower> & more');
    expect(svg).toContain('A &lt;tower&gt; &amp; more');
    for (const c of cells) expect(svg).toContain(c.label);
  });
  it('grows with the nozzle', () => {
    const wide = startingSettings({ printer: osprey, filament: marshPetg });
    const b = tower.build({ ...usual, bandHeight: 10 }, cells, wide, { printer: osprey, filament: marshPetg });
    const narrow = boundsOf(built.footprint)!;
    const box = boundsOf(b.footprint)!;
    expect(box.x1 - box.x0).toBeGreaterThan(narrow.x1 - narrow.x0);
  });
  it('refuses another number of factors, or another layout', () => {
    expect(tower.accepts([axis])).toEqual([]);
    expect(tower.accepts([axis, axis])[0]!.code).toBe('specimens.axes');
    expect(tower.accepts([{ ...axis, along: 'tile' }])[0]!.at).toBe('axes.0.along');
  });
});
