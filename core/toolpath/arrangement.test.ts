import * as fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { make } from '#core/make';
import { startingSettings, type Settings } from '#core/settings';
import { tilesOf } from '#core/specimens';
import { planned, varied, type Trial } from '#core/trial';
import { heronPair, made } from '../testing/fixtures';
import { laid, linesOf, type Line } from '../testing/lines-of';
import { plainRead } from '../testing/plain-reader';
import { referenceTrial } from '../testing/reference';

const s = startingSettings(heronPair.context);
const bare = {
  brimWidth: 0,
  minimumLayerTime: 0,
  firstLayerHeight: 0.2,
  infillDensity: 0.1,
} satisfies Partial<Settings>;
const tiles = (id: string, factor: string, levels: number[], frozen: Partial<Settings> = {}): Trial => ({
  ...referenceTrial(id, { ...bare, ...frozen }),
  axes: [{ factor, levels, kind: 'step', along: 'tile' }],
});
const heights = (lines: readonly Line[]) =>
  [...new Set(laid(lines).map((l) => l.z.toFixed(3)))].map(Number).sort((a, b) => a - b);

describe('layer heights', () => {
  it('change by band, each band a whole number of its layers', () => {
    const lines = linesOf({
      ...referenceTrial('check-cube', bare),
      axes: [{ factor: 'layer-height', levels: [0.2, 0.1, 0.25], kind: 'step', along: 'height' }],
    });
    const steps = (cell: number) =>
      new Set(
        laid(lines, ['outer-wall'])
          .filter((l) => l.cell === cell)
          .map((l) => l.height.toFixed(3)),
      );
    expect([0, 1, 2].map((c) => [...steps(c)])).toEqual([['0.200'], ['0.100'], ['0.250']]);
    const all = heights(lines);
    for (let i = 1; i < all.length; i++)
      expect([0.1, 0.2, 0.25]).toContain(Math.round((all[i]! - all[i - 1]!) * 1000) / 1000);
  });
  it('adapt to a dome in multiples of the step, with stairs no coarser than asked', () => {
    const fine = 0.06;
    const lines = linesOf(
      referenceTrial('check-dome', {
        ...bare,
        layerHeights: 'adaptive',
        adaptiveLeast: 0.08,
        adaptiveMost: 0.28,
        adaptiveStep: 0.04,
        adaptiveFineness: fine,
      }),
    );
    const all = heights(lines);
    const thick = all.slice(1).map((z, i) => Math.round((z - all[i]!) * 1e4) / 1e4);
    for (const h of thick) expect(Math.abs(h / 0.04 - Math.round(h / 0.04))).toBeLessThan(1e-6);
    expect(Math.max(...thick)).toBeGreaterThan(0.23);
    expect(Math.min(...thick)).toBeCloseTo(0.08, 6);
    // On a ball of 15 mm the stair of a layer h at height z is h·z/15, square to the surface.
    all.slice(1, -3).forEach((z, i) => {
      const h = thick[i]!;
      if (h > 0.081) expect((h * (z - h / 2)) / 15).toBeLessThan(fine * 1.08);
    });
    // Thinner towards the top, where the ball lies flat.
    const mean = (l: number[]) => l.reduce((a, b) => a + b, 0) / l.length;
    expect(mean(thick.slice(-12))).toBeLessThan(mean(thick.slice(0, 12)) - 0.08);
  });
});

describe('tiles', () => {
  it('stand apart by their size and the clearance, as near to a square as can be', () => {
    const size = { width: 20, depth: 12 };
    const spots = tilesOf(6, size, { ...s, brimWidth: 0, arrangement: 'one after the other' }, 30);
    for (const a of spots)
      for (const b of spots)
        if (a !== b) expect(Math.abs(a.x - b.x) >= 50 - 1e-9 || Math.abs(a.y - b.y) >= 42 - 1e-9).toBe(true);
    // Reading order: the first at the back left.
    expect(spots[0]!.y).toBeGreaterThan(spots.at(-1)!.y);
    expect(spots[0]!.x).toBeLessThan(spots[1]!.x);
  });
  it('printed layer by layer may each have their own value of a setting', () => {
    const lines = linesOf(tiles('check-cube', 'pressure-advance', [0, 0.03, 0.06]));
    for (const [cell, value] of [0, 0.03, 0.06].entries()) {
      const own = laid(lines).filter((l) => l.cell === cell);
      expect(own.length).toBeGreaterThan(100);
      for (const l of own) expect(l.advance).toBe(value);
    }
    const back = linesOf(tiles('check-tube', 'retraction-distance', [0.4, 1.2]));
    for (const [cell, value] of [0.4, 1.2].entries()) {
      const own = back.filter((l) => l.role === 'retract' && l.cell === cell);
      expect(own.length).toBeGreaterThan(5);
      for (const l of own) expect(l.e).toBeCloseTo(-value, 9);
    }
  });
  it('of speed are void where the melt zone caps them, and free of the layer-time rule', () => {
    const speeds = {
      ...varied(referenceTrial('check-cube', bare), 'infill-speed'),
      frozen: { ...bare, minimumLayerTime: 90 },
    };
    expect(speeds.lifted).toEqual(['layer-time']);
    const trial: Trial = { ...speeds, axes: [{ ...speeds.axes[0]!, levels: [60, 100, 250] }] };
    const { cells } = made(trial).inspection;
    // Heron melts 12 mm³/s: 0.081 mm² of line at 250 mm/s would be 20.
    expect(cells.map((c) => c.ok)).toEqual([true, true, false]);
    expect(cells[2]!.effective['infill-speed']![0]!.value).toBeLessThan(160);
  });
  it('of temperature are refused layer by layer, and made one after the other', () => {
    const trial = tiles('check-star', 'nozzle-temperature', [250, 235]);
    const refused = planned(trial);
    expect(!refused.ok && refused.faults[0]!.right).toMatch(/one after the other/);
    const file = made({ ...trial, frozen: { ...trial.frozen, arrangement: 'one after the other' } }).file;
    const { moves } = plainRead(file.bytes);
    const printed = moves.filter((m) => m.e > 0 && m.z > 1);
    // Each object wholly, then the next: the temperature changes once, and the height begins anew.
    const changes = printed.filter((m, i) => i > 0 && m.nozzle !== printed[i - 1]!.nozzle);
    expect(changes).toHaveLength(1);
    expect(changes[0]!.z).toBeLessThan(2);
  });
  it('one after the other never bring the head near a finished one below its top', () => {
    const trial = tiles('check-star', 'infill-density', [0.1, 0.2, 0.3, 0.4], {
      arrangement: 'one after the other',
      // A line flat on the bed is no object to keep away from.
      priming: 'none',
    });
    const { radius } = heronPair.context.printer.head;
    const { moves } = plainRead(made(trial).file.bytes);
    // An own reading: boxes of what has been laid before the height fell last.
    const done: { x0: number; y0: number; x1: number; y1: number; top: number }[] = [];
    let now: (typeof done)[number] | undefined;
    let [x, y, falls] = [0, 0, 0];
    for (const m of moves) {
      if (m.e > 0 && (m.x !== x || m.y !== y)) {
        if (now && m.z < now.top - 1) {
          done.push(now);
          now = undefined;
          falls++;
        }
        now ??= { x0: m.x, y0: m.y, x1: m.x, y1: m.y, top: m.z };
        now = {
          x0: Math.min(now.x0, m.x, x),
          y0: Math.min(now.y0, m.y, y),
          x1: Math.max(now.x1, m.x, x),
          y1: Math.max(now.y1, m.y, y),
          top: m.z,
        };
      }
      for (const o of done) {
        const away = Math.max(o.x0 - m.x, m.x - o.x1, o.y0 - m.y, m.y - o.y1);
        if (m.z < o.top) expect(away).toBeGreaterThanOrEqual(radius - 0.01);
      }
      [x, y] = [m.x, m.y];
    }
    expect(falls).toBe(3);
  });
  it('higher than the gantry are refused with the object named', () => {
    const trial = tiles('check-cube', 'infill-density', [0.1, 0.2], { arrangement: 'one after the other' });
    const low = { ...trial.context.printer, head: { radius: 20, gantryHeight: 6 } };
    const refused = finish(make({ ...trial, context: { ...trial.context, printer: low } }));
    expect(!refused.ok && refused.faults.map((f) => f.code)).toEqual(['trial.clearance']);
    expect(!refused.ok && refused.faults[0]!.wrong).toMatch(/^tile 1 is 8 mm high; the gantry passes 6 mm/);
  });
  it('that do not fit are refused, for any count and head', () => {
    fc.assert(
      fc.property(fc.integer({ min: 2, max: 24 }), fc.integer({ min: 10, max: 90 }), (n, radius) => {
        const trial = tiles(
          'check-cube',
          'infill-density',
          Array.from({ length: n }, (_, i) => 0.1 + 0.01 * i),
          { arrangement: 'one after the other' },
        );
        const context = { ...trial.context, printer: { ...trial.context.printer, head: { radius, gantryHeight: 40 } } };
        const result = planned({ ...trial, context });
        if (result.ok) {
          for (const p of result.value.built.footprint.flatMap((f) => f.outer)) {
            expect(p.x + 117.5).toBeGreaterThan(0);
            expect(p.x + 117.5).toBeLessThan(235);
          }
        } else expect(result.faults[0]!.code).toBe('trial.bed');
      }),
      { numRuns: 30 },
    );
  });
});
