import { demoPairs } from '#core/demo';
import { factorOf } from '#core/factors';
import { qualities, type Reading } from '#core/judge';
import { rulesFor, settleWhole, type LevelCost } from '#core/settle';
import { kinds, planned, trialOfKind, type Planned } from '#core/trial';
import { describe, expect, it } from 'vitest';
import { measuresOf } from '.';

/** What the cells of an axis are said to be, by their place from 0 to 1. */
const patterns: Record<string, (share: number, k: number) => number> = {
  flat: () => 2,
  'all pass': () => 4,
  peak: (share) => Math.max(0, 4 - Math.round(Math.abs(share - 0.5) * 8)),
  'better upwards': (share) => Math.round(4 * share),
  'better downwards': (share) => Math.round(4 * (1 - share)),
  'nothing passes': (_, k) => k % 2,
};

const shareOf = (plan: Planned, cell: number): number => {
  const axis = plan.trial.axes[0]!;
  const level = plan.cells.find((c) => c.id === cell)!.levels[axis.factor]!;
  const [low, high] = [Math.min(...axis.levels), Math.max(...axis.levels)];
  return high > low ? (level - low) / (high - low) : 0.5;
};

/** Every quality that a trial is judged by, read on every cell. */
function scores(plan: Planned, of: (share: number, k: number) => number): Reading[] {
  const tracks = [...new Set(plan.trial.axes.flatMap((a) => factorOf(a.factor)?.qualities ?? []))].filter((t) =>
    qualities.some((q) => q.id === t),
  );
  return plan.cells.flatMap((c, k) =>
    tracks.map((track) => ({
      print: 'p',
      cells: [c.id],
      track,
      value: of(shareOf(plan, c.id), k),
      judge: 'me',
      replicate: 1,
    })),
  );
}

const costs = (plan: Planned): LevelCost[] =>
  plan.cells.map((c, k) => ({ cell: c.id, time: 600 + 40 * k, mass: 3 + 0.1 * k }));

/** A verdict is a value within what was swept or can be set, or a sentence whose next step is not denied elsewhere. */
function holds(plan: Planned, readings: readonly Reading[], rule: string, at: string): 'value' | 'sentence' {
  const said = settleWhole(plan, readings, {
    rule,
    costs: costs(plan),
    quantities: measuresOf({ trial: plan.trial }),
  });
  for (const c of said.choices) {
    const axis = plan.trial.axes.find((a) => a.factor === c.factor)!;
    const limits = factorOf(c.factor)!.limits(plan.trial.context);
    const [low, high] = [Math.min(limits.min, ...axis.levels), Math.max(limits.max, ...axis.levels)];
    expect(Number.isFinite(c.choice), at).toBe(true);
    expect(c.choice, at).toBeGreaterThanOrEqual(low - 1e-9);
    expect(c.choice, at).toBeLessThanOrEqual(high + 1e-9);
    expect(c.low, at).toBeLessThanOrEqual(c.choice + 1e-9);
    expect(c.high, at).toBeGreaterThanOrEqual(c.choice - 1e-9);
    expect(c.why.length, at).toBeGreaterThan(10);
  }
  const words = said.flags.map((f) => f.message).join(' ');
  if (said.choices.length === 0) expect(words.length, at).toBeGreaterThan(10);
  // Who is told to go on is given the trial; who is told that nothing lies beyond is not sent there.
  if (/: (widen|extend) the sweep/.test(words)) expect(said.next, `${at}: ${words}`).not.toBeNull();
  if (/can go no further there$/.test(words)) expect(said.next, `${at}: ${words}`).toBeNull();
  return said.choices.length > 0 ? 'value' : 'sentence';
}

describe('every trial of the catalogue comes to a verdict', () => {
  const plans = kinds.flatMap((kind, k) => {
    const { context, baseline } = demoPairs[k % demoPairs.length]!;
    const trial = kind.lacks?.(context) === undefined ? trialOfKind(kind.id, context, baseline) : undefined;
    const plan = trial && planned(trial);
    return plan?.ok && plan.value.trial.axes.length > 0 ? [{ id: kind.id, plan: plan.value }] : [];
  });

  it(
    'by its scores, under each rule that it can have: a value, or a sentence with a next step',
    { timeout: 180_000 },
    () => {
      const count = { value: 0, sentence: 0 };
      plans.forEach(({ id, plan }, p) => {
        const rules = rulesFor(factorOf(plan.trial.axes[0]!.factor)).filter((r) => r.id !== 'most-preferred');
        Object.entries(patterns).forEach(([name, of], i) => {
          // The rules in turn: each meets every pattern on some trial.
          for (const rule of [rules[0]!, rules[(p + i) % rules.length]!])
            count[holds(plan, scores(plan, of), rule.id, `${id}, ${rule.id}, ${name}`)]++;
        });
      });
      expect(count.value).toBeGreaterThan(100);
      expect(count.sentence).toBeGreaterThan(50);
    },
  );
  it('by what is measured alone', () => {
    let values = 0;
    for (const { id, plan } of plans) {
      const measures = measuresOf({ trial: plan.trial }).filter((m) => m.better !== 'neither' && m.unit !== 'yes/no');
      for (const m of measures) {
        const readings = plan.cells.flatMap((c, k) =>
          [0, 1].map((n) => ({
            print: 'p',
            cells: [c.id],
            track: m.id,
            value: 50 + 10 * k + n,
            judge: 'me',
            replicate: n + 1,
          })),
        );
        if (holds(plan, readings, 'best-combined', `${id}, ${m.id}`) === 'value') values++;
      }
    }
    expect(values).toBeGreaterThan(5);
  });
});
