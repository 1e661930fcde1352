import { describe, expect, it } from 'vitest';
import { must, normal, seeded } from '#core/base';
import { factorOf } from '#core/factors';
import type { Reading } from '#core/judge';
import { planned, trialOfKind, type Trial } from '#core/trial';
import { heronPair } from '../testing/fixtures';
import { cellScores, lowestWithoutFault, settle, settleMeasured, usualRule } from '.';

const { context, baseline } = heronPair;
const kind = (id: string): Trial => trialOfKind(id, context, baseline)!;
const reading = (cell: number, track: string, value: Reading['value'], replicate = 1): Reading => ({
  print: 'p',
  cells: [cell],
  track,
  value,
  judge: 'me',
  replicate,
});
const withLevels = (t: Trial, ...levels: number[][]): Trial => ({
  ...t,
  axes: t.axes.map((a, i) => ({ ...a, levels: levels[i]! })),
});

describe('a map of two factors', () => {
  const trial = withLevels(kind('retraction-fence'), [20, 30, 40], [0.4, 0.8, 1.2, 1.6]);
  const plan = must(planned(trial));
  // Best in the middle: 30 mm/s and 0.8 or 1.2 mm, with better neighbours on the side of 1.2.
  const scores = [0, 2, 3, 2, 1, 4, 4, 3, 0, 2, 4, 2];
  const read = scores.map((v, cell) => reading(cell, 'stringing', v));
  it('gives both values from the best cell backed by its neighbours, with their range', () => {
    const { choices, flags } = settle(plan, read);
    expect(choices.map((c) => [c.factor, c.choice])).toEqual([
      ['retraction-speed', 30],
      ['retraction-distance', 1.2],
    ]);
    expect(flags).toEqual([]);
    expect(choices[1]!.low).toBeLessThanOrEqual(1.2);
    expect(choices[1]!.why).toContain('30 mm/s, 1.2 mm');
  });
  it('says so where no other level comes near', () => {
    // Only 1.2 mm is any good; 20 and 30 mm/s are alike there.
    const sharp = [0, 0, 4, 0, 0, 0, 4, 0, 0, 0, 0, 0].map((v, cell) => reading(cell, 'stringing', v));
    const [speed, distance] = settle(plan, sharp).choices;
    expect(distance).toMatchObject({ choice: 1.2, low: 1.2, high: 1.2 });
    expect(distance!.why).toMatch(/; no other level comes within a quarter point of it$/);
    expect(speed!.why).not.toMatch(/from (\S+ \S+) to \1$/);
  });
  it('weighs what cells cost, where the person lets it count', () => {
    // Cell 5 (30 mm/s, 0.8 mm) reads 4 as cell 6 does, and takes half its time.
    const costs = scores.map((_, cell) => ({ cell, time: cell === 5 ? 300 : 600, mass: 2 }));
    const at = (weights: Record<string, number>) => settle(plan, read, { costs, weights }).choices.map((c) => c.choice);
    expect(at({})).toEqual([30, 1.2]);
    expect(at({ filament: 1 })).toEqual([30, 1.2]);
    expect(at({ time: 1 })).toEqual([30, 0.8]);
    expect(settle(plan, read, { costs, weights: { time: 1 } }).choices[0]!.why).toContain('costs weighed in');
  });
  it('says when nothing is read, nothing differs, or the best is at an edge', () => {
    expect(settle(plan, []).flags[0]!.code).toBe('unread');
    expect(
      settle(
        plan,
        scores.map((_, c) => reading(c, 'stringing', 3)),
      ).flags[0]!.code,
    ).toBe('no-visible-difference');
    const rising = settle(
      plan,
      scores.map((_, c) => reading(c, 'stringing', c >= 8 ? 4 : c >= 4 ? 2 : 0)),
    );
    expect(rising.flags.map((f) => f.code)).toContain('at-the-edge');
    expect(rising.flags[0]!.message).toContain('40 mm/s');
  });
  it('calls no difference where the scores scatter no more than a person does, and sees a slope through them', () => {
    const random = seeded(3);
    const runs = 300;
    let [flat, sloped] = [0, 0];
    const judged = (hidden: (c: (typeof plan.cells)[number]) => number) =>
      plan.cells.map((c) =>
        reading(c.id, 'stringing', Math.min(4, Math.max(0, Math.round(hidden(c) + 0.5 * normal(random))))),
      );
    const called = (said: Reading[]) => settle(plan, said).flags.some((f) => f.code === 'no-visible-difference');
    for (let k = 0; k < runs; k++) {
      const level = 1 + 2 * random();
      if (called(judged(() => level))) flat++;
      // Two points from end to end of one factor, nothing of the other.
      if (called(judged((c) => 1 + (2 * c.index[1]!) / 3))) sloped++;
    }
    expect(flat / runs).toBeGreaterThan(0.92);
    expect(sloped / runs).toBeLessThan(0.15);
  });
  it('asks to go on only where something lies beyond the end', () => {
    const to = (levels: number[]) => {
      const p = must(planned(withLevels(trial, [20, 30, 40], levels)));
      const last = levels.length - 1;
      const said = p.cells.map((c) => reading(c.id, 'stringing', c.index[1] === 0 ? 4 : c.index[1] === last ? 0 : 2));
      return settle(p, said).flags.flatMap((f) => (f.code === 'at-the-edge' ? [f.message] : []));
    };
    expect(to([0.4, 0.8, 1.2])).toContainEqual(expect.stringContaining('retraction distance'));
    expect(to([0, 0.8, 1.2])).not.toContainEqual(expect.stringContaining('retraction distance'));
  });
  it('leaves void cells out', () => {
    const inspection = { cells: plan.cells.map((c) => ({ id: c.id, ok: c.id !== 6 })) } as never;
    const { flags, choices } = settle(plan, read, { inspection });
    expect(flags[0]!.code).toBe('void');
    expect(choices.map((c) => c.choice)).not.toEqual([30, 1.2]);
  });
});

describe('rules for limits and least values', () => {
  const lines = withLevels(kind('retraction-strips'), [0.4, 0.8, 1.2, 1.6]);
  it('takes the lowest without the fault', () => {
    expect(usualRule(lines)).toBe('lowest-without-the-fault');
    const plan = must(planned(lines));
    const { choices } = settle(
      plan,
      [1, 2, 4, 4].map((v, c) => reading(c, 'stringing', v)),
      { rule: 'lowest-without-the-fault' },
    );
    // 1.2 mm is the lowest without; the value keeps clear of what lies below it, by at most a step of 0.4 mm.
    expect(choices[0]).toMatchObject({ low: 0.8, high: 1.6 });
    expect(choices[0]!.why).toContain('1.2 mm is the lowest without');
    expect(choices[0]!.choice).toBeGreaterThanOrEqual(1.2);
    expect(choices[0]!.choice).toBeLessThanOrEqual(1.6);
    const clean = cellScores(
      plan.cells,
      'retraction-distance',
      [3, 4, 3, 4].map((v, c) => reading(c, 'stringing', v)),
      {},
      [],
    );
    expect(lowestWithoutFault.pick(clean, factorOf('retraction-distance')!)).toMatchObject({
      code: 'no-fault',
      toward: 'lower',
    });
    const bad = cellScores(
      plan.cells,
      'retraction-distance',
      [0, 1, 1, 2].map((v, c) => reading(c, 'stringing', v)),
      {},
      [],
    );
    expect(lowestWithoutFault.pick(bad, factorOf('retraction-distance')!)).toMatchObject({
      code: 'nothing-clean',
      toward: 'higher',
    });
  });
  it('takes a margin off the last good flow', () => {
    const loop = withLevels(kind('flow-limit'), [6, 8, 10, 12, 14]);
    expect(usualRule(loop)).toBe('less-5');
    const plan = must(planned(loop));
    const read = [4, 4, 4, 1, 0].map((v, c) => reading(c, 'wall-fullness', v));
    expect(settle(plan, read, { rule: 'less-5' }).choices[0]).toMatchObject({ choice: 9.5, high: 10 });
    expect(settle(plan, read, { rule: 'less-15' }).choices[0]).toMatchObject({ choice: 8.5 });
  });
  it('asks for a finer sweep where the last good flow and the first bad one lie more than a tenth apart', () => {
    const said = (levels: number[], rule: string) => {
      const plan = must(planned(withLevels(kind('flow-limit'), levels)));
      const read = [4, 4, 4, 1, 0].map((v, c) => reading(c, 'wall-fullness', v));
      return settle(plan, read, { rule });
    };
    for (const rule of ['less-5', 'highest-before-the-fault']) {
      const wide = said([6, 8, 10, 12, 14], rule);
      expect(wide.flags.map((f) => f.code)).toEqual(['coarse']);
      expect(wide.flags[0]!.message).toBe(
        'the limit lies between 10 mm³/s and 12 mm³/s, 20 % apart: a finer sweep finds it',
      );
      // What it proposes goes between the two.
      expect(wide.next!.axes[0]!.levels.filter((v) => v > 10 && v < 12).length).toBeGreaterThan(1);
    }
    expect(said([8, 9, 10, 11.2, 12.4], 'less-5').flags.map((f) => f.code)).toEqual(['coarse']);
    expect(said([8, 9, 10, 11, 12], 'less-5').flags).toEqual([]);
    // Of a retraction that is to be short, the step is no share of anything.
    const fence = withLevels(kind('retraction-tower'), [0.2, 0.4, 0.8, 1.2, 1.6]);
    const read = [0, 1, 4, 4, 4].map((v, c) => reading(c, 'stringing', v));
    expect(settle(must(planned(fence)), read, { rule: 'lowest-without-the-fault' }).flags).toEqual([]);
  });
});

describe('what is measured', () => {
  it('feeds: 94 mm of 100 is too little; within a millimetre it is left', () => {
    const plan = must(
      planned({
        ...kind('feed-check'),
        context: {
          ...context,
          printer: { ...context.printer, extruder: { ...context.printer.extruder, stepsPerMm: 400 } },
        },
      }),
    );
    const { choices, words } = settleMeasured(plan, [reading(0, 'remainder', 26)]);
    expect(choices[0]).toMatchObject({ factor: 'extruder-steps' });
    expect(choices[0]!.choice).toBeCloseTo((400 * 100) / 94, 9);
    expect(words[0]).toBe('94 mm were fed of 100 mm');
    expect(settleMeasured(plan, [reading(0, 'remainder', 20.6)])).toMatchObject({
      choices: [{ factor: 'extruder-steps', choice: 400 }],
      words: [expect.anything(), expect.stringMatching(/^leave it/)],
    });
    expect(settleMeasured(plan, [reading(0, 'remainder', 130)]).words[0]).toMatch(/nothing was fed/);
  });
  it('gives the rotation distance to a firmware that keeps one, the other way round', () => {
    const extruder = { ...context.printer.extruder, rotationDistance: 22 };
    const plan = must(
      planned({
        ...kind('feed-check'),
        context: { ...context, printer: { ...context.printer, firmware: 'klipper', extruder } },
      }),
    );
    const [c] = settleMeasured(plan, [reading(0, 'remainder', 26)]).choices;
    expect(c).toMatchObject({ factor: 'rotation-distance' });
    expect(c!.choice).toBeCloseTo(22 * 0.94, 9);
  });
  it('turns wall readings into flow, multiplied and in points, at full precision', () => {
    const plan = must(planned(kind('flow-wall')));
    const walls = [0.47, 0.46, 0.48, 0.47].map((v, i) => reading(0, 'wall-thickness', v, i + 1));
    const { choices, words } = settleMeasured(plan, walls);
    expect(choices[0]!.choice).toBeCloseTo((baseline.flow * baseline.lineWidth) / 0.47, 12);
    expect(words[1]).toMatch(/multiplied: .* in points: /);
  });
  it('tells compensation from shrinkage on the gauge', () => {
    const plan = must(planned(kind('size')));
    const at = [
      reading(0, 'outer-size', 40 * 0.995 + 0.16),
      reading(0, 'inner-size', 12 * 0.995 - 0.16),
      reading(0, 'foot-size', 40 * 0.995 + 0.56),
    ];
    const { choices, words } = settleMeasured(plan, at);
    expect(words[0]).toBe('shrinkage 0.5 %');
    expect(choices.map((c) => c.factor)).toEqual(['xy-compensation', 'first-layer-inset']);
    expect(choices[0]!.choice).toBeCloseTo(baseline.xyCompensation - 0.08, 9);
    expect(choices[1]!.choice).toBeCloseTo(baseline.firstLayerInset + 0.2, 9);
  });
  it('turns loads of bars into MPa, level by level, and counts what is left out', () => {
    const plan = must(planned(kind('strength-lying')));
    // 5 × 3 mm as planned: 15 mm². 600 and 660 N: 40 and 44 MPa, mean 42, sd 2.83.
    const loads = [
      reading(0, 'load', 600),
      reading(0, 'load', 660, 2),
      { ...reading(0, 'load', 90, 3), excluded: 'slipped' },
      reading(1, 'load', 500),
      reading(1, 'neck-width', 5.2),
      reading(1, 'thickness', 3.1),
    ];
    const { words } = settleMeasured(plan, loads);
    expect(words[0]).toMatch(/: 42 MPa ± 2.8 \(2, 1 left out\)$/);
    expect(words[1]).toContain(`${(500 / (5.2 * 3.1)).toFixed(0)} MPa`);
    expect(words).toHaveLength(2);
  });
});
