import { describe, expect, it } from 'vitest';
import { must } from '#core/base';
import { demoPairs } from '#core/demo';
import { areaOf, boundsOf, difference, intersection, offset, rectangle, solid } from '#core/geometry';
import { heronPair } from '../../testing/fixtures';
import { laid, linesOf } from '../../testing/lines-of';
import { planned, trialOfKind, type Trial } from '#core/trial';
import { specimens, topOf, type Built } from '#core/specimens';
import { tensile } from '../tensile';
import { halfWidth } from './bars';

const { context, baseline } = heronPair;
const built = (id: string, change: (t: Trial) => Trial = (t) => t): Built => {
  const plan = planned(change(trialOfKind(id, context, baseline)!));
  if (!plan.ok) throw new Error(plan.faults[0]!.wrong);
  return plan.value.built;
};
const section = (b: Built, z: number, cell: number) =>
  b.pieces
    .flatMap((p) => p.solid?.at(z) ?? [])
    .filter((r) => r.cell === cell)
    .flatMap((r) => r.outline);

describe('forms', () => {
  it('the flow tile is a square with a moat, an island and a neck, all whole lines apart', () => {
    const b = built('flow-fine');
    const body = section(b, 1.5, 0);
    expect(body).toHaveLength(1);
    // Line of 0.45 × 0.2: (0.45 − 0.2) + π 0.2 / 4 apart; the walls’ edges lie half a width outside whole lines.
    const line = 0.25 + Math.PI * 0.05;
    const walls = 0.225 + (baseline.wallCount - 0.5) * line;
    const box = boundsOf(body)!;
    expect(Math.abs(box.x1 - box.x0 - 21)).toBeLessThan(line);
    const field = (x: number) => (x - box.x0 - walls) / line;
    for (const p of body[0]!.outer.concat(...body[0]!.holes)) {
      const [into, outOf] = [field(p.x - walls), field(p.x + walls)];
      const off = Math.min(Math.abs(into - Math.round(into)), Math.abs(outOf - Math.round(outOf)));
      expect(off).toBeLessThan(0.01);
    }
    // Between island and tile air for a moat, but at the neck.
    expect(areaOf(body)).toBeLessThan((box.x1 - box.x0) ** 2 - 4 * 6 * 1.2);
    expect(areaOf(offset(body, -walls))).toBeGreaterThan(0.5 * areaOf(body));
  });
  it.each([
    ['wall-order', 1],
    ['fit', 2],
    ['flow-fine', 1],
    ['strength-lying', 1],
  ] as const)('of %s carry their value on what they leave the bed with', (id, pieces) => {
    const b = built(id);
    for (const { cell } of b.places) {
      // On the bed each piece is one with its tab; on each tab stand figures.
      const whole = section(b, 0.3, cell);
      expect(whole).toHaveLength(pieces);
      for (const piece of whole) {
        const box = boundsOf([piece])!;
        const on = b.pieces
          .flatMap((p) => p.solid!.at(0.8))
          .filter((r) => r.cell === cell)
          .slice(1)
          .flatMap((r) => r.outline)
          .filter((f) => areaOf(intersection([f], [piece])) > 0.99 * areaOf([f]));
        expect(on.length).toBeGreaterThan(0);
        expect(boundsOf(on)!.y1).toBeLessThan(box.y1);
      }
    }
  });
  it('of a post that shrinks lay nothing over air, from band to band: each layer stands on the one beneath', () => {
    for (const pair of demoPairs) {
      const plan = must(planned(trialOfKind('layer-time', pair.context, pair.baseline)!));
      const { layerHeight } = plan.settings;
      const [piece] = plan.built.pieces;
      const whole = (z: number) => (piece!.solid!.at(z) ?? []).filter((r) => r.cell >= 0).flatMap((r) => r.outline);
      // The post without the spine at its left, whose figures are slits.
      const right = boundsOf(whole(2))!.x1;
      const post = [solid(rectangle(right - 12 + 0.4, -50, right + 1, 50))];
      const at = (z: number) => intersection(whole(z), post);
      for (let z = 2; z + layerHeight < plan.built.height; z += layerHeight) {
        const [low, high] = [at(z), at(z + layerHeight)];
        // At 45° a layer reaches out by its own height.
        const beyond = difference(high, offset(low, layerHeight * 1.02));
        expect(areaOf(beyond), `${pair.id} at ${z}`).toBeLessThan(0.05);
      }
      // And it does get slim in between.
      const areas = Array.from({ length: 60 }, (_, k) => areaOf(at(2 + 0.2 * k)));
      expect(Math.min(...areas) / Math.max(...areas)).toBeLessThan(0.35);
    }
  });
  it('of a vase are just as thick as their walls, so that wall order changes the path', () => {
    for (const pair of demoPairs) {
      const trial = trialOfKind('wall-order', pair.context, pair.baseline)!;
      const lines = laid(linesOf(trial));
      const inner = lines.filter((l) => l.role === 'inner-wall' && l.z > 2);
      expect(inner.length, pair.id).toBeGreaterThan(500);
      // No slim line fills what is left between.
      expect(Math.min(...inner.map((l) => l.width)), pair.id).toBeGreaterThan(0.85 * pair.baseline.lineWidth);
      // The first wall laid on a layer is the one that is to come first.
      const { cells } = must(planned(trial));
      const firsts = new Map<string, Set<string>>();
      for (const c of cells) {
        const own = lines.filter((l) => l.cell === c.id && l.z > 2 && /wall/.test(l.role));
        const first = own.filter((l, i) => own[i - 1]?.z !== l.z).map((l) => l.role);
        const order = c.label.split(',')[0]!;
        firsts.set(order, new Set([...(firsts.get(order) ?? []), ...first]));
      }
      expect([...firsts.values()].map((s) => [...s].join()).sort()).toEqual(['inner-wall', 'outer-wall']);
    }
  });
  it('have their number written clear of the moat, in the tile it belongs to', () => {
    const b = built('flow-fine');
    expect(b.drawing.labels!.map((l) => l.cell)).toEqual([0, 1, 2, 3, 4]);
    for (const { cell, x, y } of b.drawing.labels!) {
      const box = boundsOf(section(b, 1.5, cell))!;
      const middle = { x: (box.x0 + box.x1) / 2, y: (box.y0 + box.y1) / 2 };
      // The island stands right of and behind the middle, 5.4 mm to the outer edge of its moat.
      expect(Math.hypot(x - middle.x - 3.675, y - middle.y - 3.675)).toBeGreaterThan(5.4 + 3);
      expect(x > box.x0 && x < box.x1 && y > box.y0 && y < box.y1).toBe(true);
    }
  });
  it('carry their value on a tab: the plate first, figures on it, then the tile alone', () => {
    const b = built('flow-fine');
    const [tab, figures, tile] = [0.3, 0.8, 1.5].map((z) => boundsOf(section(b, z, 2))!);
    expect(tile!.y0 - tab!.y0).toBeGreaterThan(5);
    expect(tile!.y0 - figures!.y0).toBeGreaterThan(4);
    expect(section(b, 0.8, 2).length).toBeGreaterThan(1);
  });
  it('the bars have the measures of ISO 527-2, type 1BA', () => {
    expect(tensile).toMatchObject({ length: 75, broad: 10, narrow: 5, parallel: 30, between: 58 });
    expect(halfWidth(0)).toBe(2.5);
    expect(halfWidth(15)).toBe(2.5);
    expect(halfWidth(29)).toBeCloseTo(5, 9);
    // The arc from narrow to broad is at least 30 mm in radius: (14² + 2.5²) / 5 = 40.45.
    expect(halfWidth(22)).toBeCloseTo(2.5 + 40.45 - Math.sqrt(40.45 ** 2 - 49), 6);
    const b = built('strength-lying');
    const box = boundsOf(section(b, 2, 0))!;
    expect([box.x1 - box.x0, box.y1 - box.y0].map((v) => Math.round(v * 100) / 100)).toEqual([75, 10]);
  });
  it('fit plugs are smaller than their socket by the clearance on each side', () => {
    const b = built('fit');
    const levels = [0.05, 0.1, 0.15, 0.2, 0.3, 0.4];
    levels.forEach((clearance, cell) => {
      const stem = section(b, 5, cell)
        .map((p) => boundsOf([p])!)
        .find((q) => q.x1 - q.x0 < 11)!;
      expect(stem.x1 - stem.x0).toBeCloseTo(10 - 2 * clearance, 2);
    });
  });
  it('the overhang of the ladder grows steeper to 72° and never beyond', () => {
    const b = built('fan-level');
    const place = b.places[0]!;
    let [before, steepest] = [0, 0];
    for (let z = place.z[0] + 0.4; z < place.z[1] - 0.3; z += 0.05) {
      const x = boundsOf(section(b, z, 0))!.x1;
      if (before) steepest = Math.max(steepest, (Math.atan2(x - before, 0.05) * 180) / Math.PI);
      before = x;
    }
    expect(steepest).toBeGreaterThan(65);
    expect(steepest).toBeLessThan(76);
  });
  it('the post shrinks from its foot to its waist in every band', () => {
    const b = built('layer-time');
    for (const p of b.places) {
      const at = (z: number) => {
        const box = boundsOf(section(b, z, p.cell).filter((q) => areaOf([q]) > 4))!;
        return box.y1 - box.y0;
      };
      expect(at(p.z[0] + 0.05)).toBeGreaterThan(11.5);
      const heights = Array.from({ length: 40 }, (_, k) => p.z[0] + 0.05 + (k / 40) * (p.z[1] - p.z[0] - 0.1));
      expect(Math.min(...heights.map(at))).toBeLessThan(3.5);
    }
  });
  it('the socket and tools of a two-tool coupon are told apart', () => {
    const osprey = demoPairs[2]!;
    const plan = planned(trialOfKind('purge-strength', osprey.context, osprey.baseline)!);
    const regions = plan.ok ? plan.value.built.pieces[0]!.solid!.at(0.5) : [];
    expect(regions.map((r) => r.own?.partTool)).toEqual([1, 2]);
  });
  it('stand on bands of whole layers with a place for every cell, drawn within the drawing', () => {
    const wrong: string[] = [];
    for (const id of ['fan-level', 'layer-time', 'bridge-fan', 'infill-bands', 'layer-height']) {
      const b = built(id);
      const high = Math.max(...b.pieces.map(topOf));
      if (Math.abs(b.places.at(-1)!.z[1] - high) > 1e-6) wrong.push(`${id} ends at ${high}`);
      for (let i = 1; i < b.places.length; i++)
        if (Math.abs(b.places[i]!.z[0] - b.places[i - 1]!.z[1]) > 1e-6) wrong.push(`${id}: a gap under band ${i}`);
      if (b.drawing.y[1] + 1e-6 < b.places.at(-1)!.z[1]) wrong.push(`${id}: drawn too low`);
    }
    expect(wrong).toEqual([]);
  });
  it('say what they show: every quality and quantity named is in its catalogue', async () => {
    const { qualityOf, measureOf } = await import('#core/judge');
    for (const s of specimens) {
      for (const q of s.judges ?? []) expect(qualityOf(q), `${s.id} ${q}`).toBeDefined();
      for (const m of s.measures ?? []) expect(measureOf(m), `${s.id} ${m}`).toBeDefined();
    }
  });
});
