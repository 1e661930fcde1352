import { beforeAll, describe, expect, it } from 'vitest';
import { finish, must } from '#core/base';
import { demoPair } from '#core/demo';
import { CALIPER, drawTraits, FUSED, printFile, type Traits } from '#core/lab';
import { make } from '#core/make';
import { planned, trialOfKind } from '#core/trial';
import { HeldPrint, truthOf } from '.';

const pair = demoPair('heron-marsh-petg')!;
const traits = drawTraits(pair.context, 7, '2026-11-28');

function held(kind: string, { printer = {}, filament = {} }: { printer?: object; filament?: object } = {}) {
  const trial = trialOfKind(kind, pair.context, pair.baseline)!;
  const { bytes } = must(finish(make(trial))).file;
  const plan = must(planned(trial));
  const hidden = {
    ...traits,
    printer: { ...traits.printer, ...printer },
    filament: { ...traits.filament, ...filament },
  } as Traits;
  const outcome = must(finish(printFile(bytes, pair.context, hidden)));
  return { hand: new HeldPrint(outcome, plan, bytes, 5), plan, outcome, truth: truthOf(outcome, plan, bytes) };
}

describe('a print in the hand', () => {
  describe('a plate of known size', () => {
    let at: ReturnType<typeof held>;
    beforeAll(() => {
      at = held('size', { printer: { feedError: 0, scaleX: 0, scaleY: 0 } });
    }, 60_000);

    it('is as long and its hole as wide as the caliper says, within what lines and shrinking take', () => {
      const { length, hole } = at.plan.trial.specimen.params as { length: number; hole: number };
      const cell = at.plan.cells[0]!.id;
      const outer = at.hand.measure(cell, 'outer-size')!;
      expect(Math.abs(outer - length * at.outcome.scale.x)).toBeLessThan(0.15);
      expect(Math.abs(at.hand.measure(cell, 'inner-size')! - hole)).toBeLessThan(0.6);
    });

    it('differs between looks by no more than the instrument is unsure', () => {
      const cell = at.plan.cells[0]!.id;
      const looks = Array.from({ length: 40 }, () => at.hand.measure(cell, 'outer-size')!);
      const middle = looks.reduce((a, b) => a + b, 0) / looks.length;
      expect(new Set(looks).size).toBeGreaterThan(3);
      for (const mm of looks) expect(Math.abs(mm - middle)).toBeLessThan(2.2 * CALIPER);
    });

    it('is pointed at from above: across the hole the caliper closes on what lies beside it', () => {
      const { length, width } = at.plan.trial.specimen.params as { length: number; width: number };
      const [x0, x1] = at.plan.built.drawing.x;
      // The plain half is opposite to the hole; its middle lies a quarter from the left edge.
      const held = at.hand.caliper((x0 + x1) / 2 - length / 2 + 4, 0);
      expect(Math.abs(held.y! - width)).toBeLessThan(0.4);
    });

    it('is nothing where nothing lies', () => {
      expect(at.hand.caliper(500, 500)).toEqual({});
      expect(at.hand.measure(at.plan.cells[0]!.id, 'load-of-nobody')).toBeUndefined();
      expect(at.hand.measure(9999, 'outer-size')).toBeUndefined();
    });
  });

  describe('a temperature tower', () => {
    let at: ReturnType<typeof held>;
    beforeAll(() => {
      at = held('temperature-tower');
    }, 60_000);

    it('snaps at its coldest bands first, since they weld least', () => {
      const snapped = at.hand.snap();
      expect(snapped).toHaveLength(at.plan.cells.length);
      const level = (cell: number) => at.plan.cells.find((c) => c.id === cell)!.levels['nozzle-temperature']!;
      // From 240 °C on they weld alike, within the scatter of the loads.
      expect(snapped.slice(0, 2).map((s) => level(s.cell))).toEqual([230, 235]);
      for (let i = 1; i < snapped.length; i++) expect(snapped[i]!.load).toBeGreaterThanOrEqual(snapped[i - 1]!.load);
    });

    it('loses its hairs to a brush and keeps what is fused', () => {
      const left = at.hand.brushed().strands.filter((s) => !s.inside);
      expect(left.every((s) => s.thickness >= FUSED)).toBe(true);
      const all = at.outcome.strands.filter((s) => !s.inside);
      const { gone, stay } = at.plan.cells
        .map((c) => at.hand.brush(c.id)!)
        .reduce((a, b) => ({ gone: a.gone + b.gone, stay: a.stay + b.stay }));
      expect(gone).toBeGreaterThan(0);
      expect(gone + stay).toBeLessThanOrEqual(all.length);
      expect(all.length - left.length).toBeGreaterThanOrEqual(gone);
    });

    it('is pointed at from the side: the jaws close on a pier from outside, though it is hollow', () => {
      const { origin, built } = at.plan;
      // The broad pier at mid height of the first band: what the file lays there, from outermost to outermost.
      const place = built.places[0]!;
      const z = (place.z[0] + place.z[1]) / 2;
      const { laid, scale } = at.outcome;
      const label = /^M(-?[\d.]+)/.exec(built.drawing.shapes.find((s) => s.part === 'level')!.path)!;
      const u = Number(label[1]) - 3;
      let [from, to] = [Infinity, -Infinity];
      for (let i = 0; i < laid.n; i++) {
        if (Math.abs(laid.z[i]! - z) > 0.3) continue;
        for (const x of [laid.x0[i]!, laid.x1[i]!])
          if (Math.abs(x - origin.x - u) < 12) {
            from = Math.min(from, x - laid.width[i]! / 2);
            to = Math.max(to, x + laid.width[i]! / 2);
          }
      }
      const { x } = at.hand.caliper(u, z);
      expect(x).toBeGreaterThan(5);
      expect(x!).toBeLessThan((to - from) * scale.x + 0.1);
      // Anywhere over the pier it is the same pier.
      expect(Math.abs(at.hand.caliper(u - 2, z).x! - x!)).toBeLessThan(0.1);
    });
  });

  it('holds water where its walls are whole, and drips where they tore', () => {
    const whole = held('infill-density', { printer: { melts: 40 } });
    const torn = held('infill-density', { printer: { melts: 1.2 } });
    const cell = whole.plan.cells[0]!.id;
    expect(whole.hand.drips(cell)).toBe(false);
    expect(whole.hand.measure(cell, 'leaks')).toBe(0);
    expect(torn.hand.drips(cell)).toBe(true);
    expect(torn.hand.measure(cell, 'leaks')).toBe(1);
    // More infill leaves less room for water.
    const water = (density: number) => {
      const { id } = whole.plan.cells.find((c) => c.levels['infill-density'] === density)!;
      const looks = Array.from({ length: 30 }, () => whole.hand.measure(id, 'water')!);
      return looks.reduce((a, b) => a + b, 0) / looks.length;
    };
    expect(water(0.1)).toBeGreaterThan(water(0.4) + 0.15);
    // 24 × 18 × 4 mm hold no more than that.
    expect(water(0.1)).toBeLessThan(1.75);
  });

  it('feels a groove where a top is open and a ridge where it is too full', () => {
    const { hand, plan } = held('flow-coarse', { printer: { feedError: 0 } });
    const at = (flow: number) => {
      const cells = [...plan.cells].sort(
        (a, b) => Math.abs(a.levels['flow']! - flow) - Math.abs(b.levels['flow']! - flow),
      );
      return hand.finger(cells[0]!.id);
    };
    expect(at(0.85)).toBe('groove');
    expect(at(1.15)).toBe('ridge');
  });
});
