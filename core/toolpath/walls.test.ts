import { describe, expect, it } from 'vitest';
import { areaOf, rectangle, solid } from '#core/geometry';
import { lineArea, lineSpacing, startingSettings, type Settings } from '#core/settings';
import { finThicknesses } from '#core/specimens';
import { heronPair, blockTrial } from '../testing/fixtures';
import { laid, linesOf, volumeOf } from '../testing/lines-of';
import { referenceTrial } from '../testing/reference';
import { curveSpeeds, overhangSpeed } from './overhang';
import { begunAt, sharpestOf } from './seam';
import { wallsOf } from './walls';

const s = startingSettings(heronPair.context);
const bare = { brimWidth: 0, minimumLayerTime: 0, firstLayerHeight: 0.2 } satisfies Partial<Settings>;
const strip = (thickness: number) => solid(rectangle(0, 0, 20, thickness));

describe('slim parts', () => {
  it('are one line where two do not fit, as wide as the part, and two narrower ones where one would be too thick', () => {
    for (const t of [0.32, 0.45, 0.6, 0.7]) {
      const { loops, thin } = wallsOf(strip(t), 0.2, s);
      expect(loops.flat()).toHaveLength(0);
      const lines = thin.flat();
      expect(lines).toHaveLength(1);
      lines[0]!.widths.forEach((w, i) => {
        const x = lines[0]!.points[i]!.x;
        if (x > 1.5 * t && x < 20 - 1.5 * t) expect(w).toBeCloseTo(t, 2);
        else expect(w).toBeLessThan(1.05 * t);
      });
      for (const p of lines[0]!.points) if (p.x > 1 && p.x < 19) expect(p.y).toBeCloseTo(t / 2, 2);
    }
    const two = wallsOf(strip(0.8), 0.2, s).thin.flat();
    expect(two).toHaveLength(1);
    expect(two[0]!.closed).toBe(true);
    // 20 × 0.8 mm over a middle line of a little under 20 mm.
    expect(two[0]!.widths[0]).toBeCloseTo(0.4, 1);
  });
  it('take two whole lines from their width on', () => {
    const { loops, thin } = wallsOf(strip(s.lineWidth + lineSpacing(s.lineWidth, 0.2) + 0.01), 0.2, s);
    expect(loops[0]).toHaveLength(1);
    expect(thin.flat()).toHaveLength(0);
  });
  it('are left out where that is asked', () => {
    const none = { ...s, thinWalls: 'leave out' as const };
    expect(wallsOf(strip(0.4), 0.2, none).loops.flat()).toHaveLength(0);
    expect(wallsOf(strip(0.4), 0.2, none).thin.flat()).toHaveLength(0);
  });
  it('leave no fin of the reference ring without a line', () => {
    const lines = laid(linesOf(referenceTrial('check-fins', bare)), ['outer-wall', 'inner-wall']).filter(
      (l) => l.z > 1 && l.z < 1.3,
    );
    finThicknesses.forEach((t, i) => {
      const turn = (2 * Math.PI * i) / finThicknesses.length;
      const along = lines.filter((l) => {
        const r = ((l.x + l.x0) / 2 - 117.5) * Math.cos(turn) + ((l.y + l.y0) / 2 - 117.5) * Math.sin(turn);
        const off = -((l.x + l.x0) / 2 - 117.5) * Math.sin(turn) + ((l.y + l.y0) / 2 - 117.5) * Math.cos(turn);
        return r > 8.5 && Math.abs(off) < t / 2 + 0.01;
      });
      const length = along.reduce((sum, l) => sum + l.length, 0);
      expect(length, `fin of ${t} mm`).toBeGreaterThan(8);
    });
  });
});

describe('outlines', () => {
  const size = (frozen: Partial<Settings>, z: number) => {
    const xs = laid(linesOf(blockTrial({ width: 20, depth: 20, height: 1 }, { ...bare, ...frozen })), ['outer-wall'])
      .filter((l) => Math.abs(l.z - z) < 1e-6)
      .map((l) => l.x);
    return Math.max(...xs) - Math.min(...xs) + s.lineWidth;
  };
  it('grow by the compensation on every layer', () => {
    expect(size({ xyCompensation: 0.1 }, 0.6)).toBeCloseTo(20.2, 3);
    expect(size({ xyCompensation: -0.1 }, 0.6)).toBeCloseTo(19.8, 3);
  });
  it('are drawn in on the first layer only', () => {
    expect(size({ firstLayerInset: 0.15 }, 0.2)).toBeCloseTo(19.7, 3);
    expect(size({ firstLayerInset: 0.15 }, 0.4)).toBeCloseTo(20, 3);
  });
});

describe('walls', () => {
  it('have the length and cross-section that a square gives by hand', () => {
    const lines = linesOf(
      blockTrial(
        { width: 20, depth: 20, height: 1 },
        { ...bare, priming: 'none', wallCount: 3, infillDensity: 0, topLayers: 0, bottomLayers: 0 },
      ),
    );
    const spacing = lineSpacing(0.45, 0.2);
    const length = [0, 1, 2].reduce((sum, k) => sum + 4 * (20 - 0.45 - 2 * k * spacing), 0);
    expect(volumeOf(lines) / (length * lineArea(0.45, 0.2) * 5)).toBeCloseTo(1, 3);
  });
  it('are closed, and laid outside in or inside out', () => {
    for (const wallOrder of ['inner first', 'outer first'] as const) {
      const lines = linesOf(blockTrial({ width: 10, depth: 10, height: 0.6 }, { ...bare, wallOrder }));
      const walls = laid(lines, ['outer-wall', 'inner-wall']).filter((l) => l.z > 0.5);
      expect(walls[0]!.role).toBe(wallOrder === 'inner first' ? 'inner-wall' : 'outer-wall');
      const outer = walls.filter((l) => l.role === 'outer-wall');
      expect(Math.hypot(outer[0]!.x0 - outer.at(-1)!.x, outer[0]!.y0 - outer.at(-1)!.y)).toBeLessThan(1e-6);
    }
  });
  it('may have a width of their own in each cell of a print', () => {
    const trial = referenceTrial('check-cube', bare);
    const lines = linesOf({ ...trial, axes: [{ factor: 'wall-count', levels: [1, 3], kind: 'step', along: 'tile' }] });
    const count = (cell: number) =>
      new Set(
        laid(lines, ['outer-wall', 'inner-wall'])
          .filter((l) => l.cell === cell && Math.abs(l.z - 1) < 1e-6 && l.y0 === l.y)
          .map((l) => l.y.toFixed(2)),
      ).size;
    // Each wall has a front and a back.
    expect([count(0), count(1)]).toEqual([2, 6]);
  });
});

describe('seams', () => {
  const begins = (frozen: Partial<Settings>) => {
    const lines = linesOf(referenceTrial('check-star', { ...bare, wallCount: 1, thinWalls: 'leave out', ...frozen }));
    const found: { x: number; y: number }[] = [];
    lines.forEach((l, i) => {
      if (l.e > 0 && l.role === 'outer-wall' && lines[i - 1]?.role !== 'outer-wall' && l.z > 0.3)
        found.push({ x: l.x0 - 117.5, y: l.y0 - 117.5 });
    });
    return found;
  };
  const spread = (points: { x: number; y: number }[]) => {
    const [mx, my] = [
      points.reduce((t, p) => t + p.x, 0) / points.length,
      points.reduce((t, p) => t + p.y, 0) / points.length,
    ];
    return Math.max(...points.map((p) => Math.hypot(p.x - mx, p.y - my)));
  };
  it('stand at the rear, or at the sharpest corner, one over the other', () => {
    const rear = begins({ seam: 'rear' });
    expect(spread(rear)).toBeLessThan(0.1);
    expect(rear[0]!.y).toBeGreaterThan(13);
    const sharp = begins({ seam: 'sharpest corner' });
    expect(spread(sharp)).toBeLessThan(0.1);
    // A tip lies 14 mm or more from the middle, an inner corner at 5.
    expect(Math.hypot(sharp[0]!.x, sharp[0]!.y)).toBeGreaterThan(13);
  });
  it('stay aligned, or are scattered by the seed', () => {
    expect(spread(begins({ seam: 'aligned' }))).toBeLessThan(0.1);
    expect(spread(begins({ seam: 'scattered' }))).toBeGreaterThan(8);
    expect(begins({ seam: 'scattered' })).toEqual(begins({ seam: 'scattered' }));
  });
  it('turn a loop without changing where it runs', () => {
    const ring = [...rectangle(0, 0, 10, 4), { x: 0, y: 0 }];
    const path = {
      points: ring,
      roles: [1, 2, 3, 4],
      area: 1,
      width: 1,
      height: 1,
      cell: 0,
      settings: s,
      closed: true as const,
    };
    const turned = begunAt(path, { segment: 2, share: 0.25 });
    expect(turned.points[0]).toEqual({ x: 7.5, y: 4 });
    expect(turned.points.at(-1)).toEqual({ x: 7.5, y: 4 });
    expect(turned.roles).toEqual([3, 4, 1, 2, 3]);
    expect(areaOf([{ outer: turned.points.slice(0, -1), holes: [] }])).toBeCloseTo(40, 9);
    expect(
      sharpestOf([
        { x: 0, y: 0 },
        { x: 10, y: 0 },
        { x: 20, y: 1 },
        { x: 10, y: 2 },
        { x: 0, y: 2 },
        { x: 0, y: 0 },
      ]),
    ).toBe(2);
  });
});

describe('speed of walls', () => {
  it('falls on a line between two overlapped shares', () => {
    const at = { ...s, outerWallSpeed: 40, overhangSpeed: 10, overhangFrom: 0.75, overhangTo: 0.25 };
    expect(overhangSpeed(1, at)).toBe(Infinity);
    expect(overhangSpeed(0.75, at)).toBe(Infinity);
    expect(overhangSpeed(0.5, at)).toBeCloseTo(25, 9);
    expect(overhangSpeed(0.25, at)).toBe(10);
    expect(overhangSpeed(0, at)).toBe(10);
  });
  it('is slower the steeper a slab leans out', () => {
    const lines = laid(linesOf(referenceTrial('check-overhangs', { ...bare, overhangFrom: 0.9, overhangTo: 0.1 })), [
      'outer-wall',
      'overhang',
    ]);
    // The outer edge of each slab, half-way up its slope; 20° moves 0.07 mm a layer, 60° 0.35 mm, 80° 1.13 mm.
    const slowest = (i: number) =>
      Math.min(
        ...lines
          .filter(
            (l) =>
              Math.abs((l.y + l.y0) / 2 - (117.5 - 21 + i * 6 + 3)) < 2 &&
              l.z > 1.6 &&
              l.z < 2.2 &&
              l.x > 114 &&
              Math.abs(l.x - l.x0) < 0.01,
          )
          .map((l) => l.speed),
      );
    expect(slowest(0)).toBeCloseTo(s.outerWallSpeed, 0);
    expect(slowest(4)).toBeLessThan(s.outerWallSpeed - 5);
    expect(slowest(6)).toBeCloseTo(s.overhangSpeed, 0);
  });
  it('follows the radius of a curve', () => {
    const circle = (r: number) =>
      Array.from({ length: 65 }, (_, i) => ({
        x: r * Math.cos((i * Math.PI) / 32),
        y: r * Math.sin((i * Math.PI) / 32),
      }));
    const at = { ...s, tightCurveRadius: 4, tightCurveSpeed: 10 };
    expect(curveSpeeds(circle(5), true, 50, at)).toBeUndefined();
    // Half the radius: half-way between 10 and 50.
    for (const v of curveSpeeds(circle(2), true, 50, at)!) expect(v).toBeCloseTo(30, 1);
  });
});
