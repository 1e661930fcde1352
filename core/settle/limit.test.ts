import { describe, expect, it } from 'vitest';
import { must, normal, seeded } from '#core/base';
import type { Reading } from '#core/judge';
import { planned, trialOfKind } from '#core/trial';
import { heronPair } from '../testing/fixtures';
import { settle } from '.';

const levels = [6, 8, 10, 12, 14, 16, 18, 20];
const trial = trialOfKind('flow-limit', heronPair.context, heronPair.baseline)!;
const plan = must(planned({ ...trial, axes: [{ ...trial.axes[0]!, levels }] }));
const said = (scores: Record<string, number[]>): Reading[] =>
  Object.entries(scores).flatMap(([track, values]) =>
    values.map((value, cell) => ({ print: 'p', cells: [cell], track, value, judge: 'me', replicate: 1 })),
  );
const limit = (scores: Record<string, number[]>) => settle(plan, said(scores), { rule: 'less-5' }).choices[0]!;

describe('what a limit is about', () => {
  const full = [4, 4, 4, 4, 4, 1, 0, 0];
  it('is no fault that is gone again at the upper end: a higher value mends nothing that a high one spoils', () => {
    const { why, choice } = limit({ 'wall-fullness': full, gloss: [4, 4, 3, 2, 2, 3, 4, 4] });
    expect(why).toContain('16 mm³/s is the first level with a fault (fullness of the wall)');
    expect(choice).toBeCloseTo(0.95 * 14, 6);
  });
  it('is one that stays', () => {
    const { why, choice } = limit({ 'wall-fullness': full, gloss: [4, 4, 4, 2, 1, 1, 1, 0] });
    expect(why).toContain('12 mm³/s is the first level with a fault (gloss)');
    expect(choice).toBeCloseTo(9.5, 6);
  });
  it('is one that the two highest levels leave open: 3 and 2 are half a fault', () => {
    const { why } = limit({ 'wall-fullness': full, gloss: [4, 4, 4, 1, 1, 1, 3, 2] });
    expect(why).toContain('12 mm³/s is the first level with a fault (gloss)');
    expect(limit({ 'wall-fullness': full, gloss: [4, 4, 4, 1, 1, 1, 3, 3] }).why).toContain('fullness');
  });
  it('never lies elsewhere than the words say: between the last good level and the first bad one, or it is left out', () => {
    const random = seeded(11);
    let told = 0;
    for (let run = 0; run < 30; run++) {
      const [fails, weak] = [8 + 10 * random(), 8 + 16 * random()];
      const noisy = (v: number) => Math.max(0, Math.min(4, Math.round(v + 0.4 * normal(random))));
      const choice = settle(
        plan,
        said({
          'wall-fullness': levels.map((l) => noisy(l < fails ? 4 : 0.5)),
          gloss: levels.map(() => noisy(2.5 + 1.5 * random())),
          'layer-strength': levels.map((l) => noisy(4 - (2 * l) / weak)),
        }),
        { rule: 'less-5' },
      ).choices[0];
      const words =
        choice && /^([\d.]+) mm³\/s is the first level with a fault .*; ([\d.]+) mm³\/s is the last/.exec(choice.why);
      if (!words) continue;
      const [bad, good] = [Number(words[1]), Number(words[2])];
      const [from, to] = choice.interval95;
      // How sharply a wall gives way between the two nobody has seen: all of it may hold the fault.
      expect(from).toBeLessThanOrEqual(good);
      expect(to).toBeGreaterThanOrEqual(bad);
      // Both ends can be set: to a tenth, as the limit can.
      for (const end of [from, to]) expect(Math.abs(end * 10 - Math.round(end * 10))).toBeLessThan(1e-4);
      if (choice.begins === undefined) continue;
      told++;
      expect(choice.begins).toBeGreaterThanOrEqual(good);
      expect(choice.begins).toBeLessThanOrEqual(bad);
    }
    expect(told).toBeGreaterThan(8);
  });
});

describe('the lowest value without a fault', () => {
  it('has the fault end anywhere between the last level that shows it and the first that does not', () => {
    const swept = [0.2, 0.4, 0.6, 0.8, 1, 1.2, 1.4, 1.6];
    const fence = trialOfKind('retraction-tower', heronPair.context, heronPair.baseline)!;
    const plan = must(planned({ ...fence, axes: [{ ...fence.axes[0]!, levels: swept }] }));
    const random = seeded(3);
    let told = 0;
    for (let run = 0; run < 30; run++) {
      const ends = 0.3 + 1.1 * random();
      const said = swept.map((l, cell): Reading => {
        const value = Math.max(0, Math.min(4, Math.round((l < ends ? 1.2 : 3.8) + 0.4 * normal(random))));
        return { print: 'p', cells: [cell], track: 'stringing', value, judge: 'me', replicate: 1 };
      });
      const [choice] = settle(plan, said, { rule: 'lowest-without-the-fault' }).choices;
      const words = choice && /^([\d.]+) mm still shows a fault .*; ([\d.]+) mm is the lowest without/.exec(choice.why);
      if (!words) continue;
      told++;
      expect(choice.interval95[0]).toBeLessThanOrEqual(Number(words[1]));
      expect(choice.interval95[1]).toBeGreaterThanOrEqual(Number(words[2]));
    }
    expect(told).toBeGreaterThan(15);
  });
  describe('is taken with half a step more', () => {
    const swept = [0.2, 0.4, 0.6, 0.8, 1, 1.2, 1.4, 1.6];
    const fence = trialOfKind('retraction-tower', heronPair.context, heronPair.baseline)!;
    const plan = must(planned({ ...fence, axes: [{ ...fence.axes[0]!, levels: swept }] }));
    const taken = (scores: Record<string, number[]>) =>
      settle(plan, said(scores), { rule: 'lowest-without-the-fault' }).choices[0]!;
    it('where what lies above is clean, and never with more than a step', () => {
      const { why, choice } = taken({ stringing: [0, 0, 0, 0, 0, 4, 4, 4] });
      expect(why).toContain('1 mm still shows a fault (stringing); 1.2 mm is the lowest without');
      expect(choice).toBeGreaterThanOrEqual(1.3);
      expect(choice).toBeLessThanOrEqual(1.4);
      if (choice === 1.3) expect(why).toContain('1.3 mm is half a step above');
    });
    it('not where nothing above was looked at', () => {
      const { choice } = taken({ stringing: [0, 0, 0, 0, 0, 0, 0, 4] });
      expect(choice).toBe(1.6);
    });
    it('not where what lies above shows another fault', () => {
      // Between threads and gaps only one level is left.
      const { why, choice } = taken({ stringing: [0, 0, 0, 4, 4, 4, 4, 4], restart: [4, 4, 4, 4, 0, 0, 0, 0] });
      expect(why).not.toContain('half a step');
      expect(choice).toBeLessThanOrEqual(0.9);
    });
  });
});
