import { describe, expect, it } from 'vitest';
import { EdgeGrid, offset, rectangle, solid, type Polygon } from '#core/geometry';
import type { Settings } from '#core/settings';
import { planned } from '#core/trial';
import { laid, linesOf, movesOf } from '../../testing/lines-of';
import { bodyOf, referenceTrial } from '../../testing/reference';
import { sharpCorners } from './brim';

const bare = {
  priming: 'none',
  brimWidth: 0,
  minimumLayerTime: 0,
  firstLayerHeight: 0.2,
  layerHeight: 0.2,
} satisfies Partial<Settings>;
const bed = 117.5;
const foot = (id: string): Polygon[] =>
  bodyOf(id)
    .at(0.1)
    .map((p) => ({ outer: p.outer.map((q) => ({ x: q.x + bed, y: q.y + bed })), holes: [] }));
const first = (id: string, frozen: Partial<Settings>, roles: string[]) =>
  laid(linesOf(referenceTrial(id, { ...bare, ...frozen })), roles);
const middles = (lines: ReturnType<typeof first>) => lines.map((l) => ({ x: (l.x + l.x0) / 2, y: (l.y + l.y0) / 2 }));

describe('loops along the edge of the bed', () => {
  it('are laid with a raised pause between them, where asked', () => {
    const trial = referenceTrial('check-cube', { ...bare, edgeLoops: 3, edgePause: 7 });
    const { chunks, lines } = movesOf(trial);
    const waits = chunks.flatMap((c) => c.commands.flatMap((q) => (q.kind === 'dwell' ? [q.seconds] : [])));
    expect(waits).toEqual([7, 7]);
    // Between the loops the nozzle is high, and comes down again to lay the next.
    const skirt = lines.filter((l) => l.role === 'hop' && l.z > 9);
    expect(skirt.length).toBeGreaterThanOrEqual(2);
    expect(laid(lines, ['skirt']).every((l) => Math.abs(l.z - 0.2) < 1e-6)).toBe(true);
    const without = movesOf(referenceTrial('check-cube', { ...bare, edgeLoops: 3 })).chunks;
    expect(without.flatMap((c) => c.commands).some((q) => q.kind === 'dwell')).toBe(false);
  });
});

describe('what is laid around the part', () => {
  it('is a skirt at its gap, the loops asked, before everything else', () => {
    const lines = linesOf(referenceTrial('check-star', { ...bare, skirtLoops: 2, skirtGap: 6 }));
    const skirt = laid(lines, ['skirt']);
    expect(laid(lines)[0]!.role).toBe('skirt');
    expect(skirt.every((l) => Math.abs(l.z - 0.2) < 1e-6)).toBe(true);
    const part = new EdgeGrid(foot('check-star'));
    const far = middles(skirt).map((p) => part.nearest(p).distance);
    expect(Math.min(...far)).toBeGreaterThan(5.99);
    expect(Math.max(...far)).toBeLessThan(6 + 2.2 * 0.45);
  });
  it('is a loop along the edge of the bed, at the distance chosen, clear of the clips', () => {
    const loops = first('check-cube', { edgeLoops: 2, edgeDistance: 10, edgePitch: 2.5 }, ['skirt']);
    const xs = loops.map((l) => l.x);
    // Upright lines far from the clips: the two loops, as far apart as is asked.
    const upright = loops.filter((l) => Math.abs(l.x - l.x0) < 1e-6 && Math.max(l.y, l.y0) < 100).map((l) => l.x);
    expect([...new Set(upright.map((x) => x.toFixed(1)))].sort()).toEqual(expect.arrayContaining(['10.0', '12.5']));
    expect(Math.min(...xs)).toBeCloseTo(10, 2);
    expect(Math.max(...xs)).toBeCloseTo(225, 2);
    // Heron's clips reach to 8 mm: the loops pass them 10 mm off.
    for (const l of loops) if (l.y > 106 && l.y < 129 && l.x < 100) expect(l.x).toBeGreaterThan(17.9);
  });
  it('is an ear at every sharp corner and nowhere else', () => {
    expect(sharpCorners(foot('check-star'), 60)).toHaveLength(5);
    expect(sharpCorners(foot('check-star'), 20)).toHaveLength(0);
    expect(sharpCorners([solid(rectangle(0, 0, 5, 5))], 100)).toHaveLength(4);
    expect(sharpCorners([solid(rectangle(0, 0, 5, 5))], 80)).toHaveLength(0);
    const ears = middles(first('check-star', { earRadius: 4, earAngle: 60 }, ['brim']));
    // One after another: from the first line of an ear to its last, none of another.
    const earOf = (p: { x: number; y: number }) =>
      Math.round((Math.atan2(p.y - bed, p.x - bed) / (2 * Math.PI)) * 5 + 5) % 5;
    const turns = ears.filter((p, i) => i > 0 && earOf(p) !== earOf(ears[i - 1]!)).length;
    expect(turns).toBe(4);
    const inside = new EdgeGrid(offset(foot('check-star'), -0.02));
    for (const p of ears) {
      const tips = [0, 1, 2, 3, 4].map((i) =>
        Math.hypot(p.x - bed - 16 * Math.cos((2 * Math.PI * i) / 5), p.y - bed - 16 * Math.sin((2 * Math.PI * i) / 5)),
      );
      expect(Math.min(...tips)).toBeLessThan(4.01);
      expect(inside.inside(p.x, p.y)).toBe(false);
    }
  });
  it('is a raft that carries the part over its gap, wider by its margin', () => {
    const trial = referenceTrial('check-star', { ...bare, raftLayers: 3, raftGap: 0.25, raftMargin: 4 });
    const lines = linesOf(trial);
    const raft = laid(lines, ['raft']);
    expect([...new Set(raft.map((l) => l.z.toFixed(2)))]).toEqual(['0.20', '0.40', '0.60']);
    const own = laid(lines, ['outer-wall', 'inner-wall', 'bottom-skin']);
    // 0.6 mm of raft, 0.25 mm of air, then the first layer.
    expect(Math.min(...own.map((l) => l.z))).toBeCloseTo(1.05, 6);
    expect(own.every((l) => l.role !== 'overhang')).toBe(true);
    const around = new EdgeGrid(offset(foot('check-star'), 4.01, 'round'));
    for (const p of middles(raft)) expect(around.inside(p.x, p.y)).toBe(true);
    const plan = planned(trial);
    // The level map rises with the part.
    expect(plan.ok && plan.value.built.places[0]!.z[0]).toBeCloseTo(0.85, 6);
  });
  it('that does not fit the bed is refused with what would', () => {
    const wide = planned(referenceTrial('check-bridges', { skirtLoops: 2, skirtGap: 45 }));
    expect(!wide.ok && wide.faults[0]!.code).toBe('trial.bed');
  });
});
