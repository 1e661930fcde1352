import { describe, expect, it } from 'vitest';
import { finish } from '#core/base';
import { demoPairs } from '#core/demo';
import { factorOf } from '#core/factors';
import { make } from '#core/make';
import { asPrint, kindOf, kinds, planned, trialOfKind, type Trial } from '#core/trial';
import { fewerLevels } from '../testing/fewer-levels';
import { inspect } from './inspect';

const read = kinds.filter((k) => {
  const pair = demoPairs.find((p) => k.lacks?.(p.context) === undefined)!;
  return trialOfKind(k.id, pair.context, pair.baseline)!.axes.some((a) => factorOf(a.factor)?.read);
});

/** The trial with the levels of one axis moved on by one: the same specimen, other values in its cells. */
const moved = (trial: Trial, which: number): Trial => ({
  ...trial,
  axes: trial.axes.map((a, i) => (i === which ? { ...a, levels: [...a.levels.slice(1), a.levels[0]!] } : a)),
});

describe('a file whose cells hold other levels than planned', () => {
  it.each(read.map((k) => [k.id] as const))('of %s is void in every cell', (id) => {
    const { context, baseline } = demoPairs.find((p) => kindOf(id)!.lacks?.(p.context) === undefined)!;
    const trial = fewerLevels(trialOfKind(id, context, baseline)!);
    const which = trial.axes.findIndex((a) => factorOf(a.factor)?.read);
    const axis = trial.axes[which]!;
    const plan = planned(asPrint(trial));
    const other = finish(make(asPrint(moved(trial, which))));
    expect(plan.ok && other.ok).toBe(true);
    if (!plan.ok || !other.ok) return;
    const seen = finish(inspect(other.value.file.bytes, context, plan.value));
    expect(seen.ok).toBe(true);
    if (!seen.ok) return;
    const next = (level: number) => axis.levels[(axis.levels.indexOf(level) + 1) % axis.levels.length]!;
    for (const cell of seen.value.cells) {
      const planned = cell.planned[axis.factor]!;
      expect({ cell: cell.id, planned, ok: cell.ok }).toEqual({ cell: cell.id, planned, ok: false });
      // What is named is what the file holds.
      const most = cell.effective[axis.factor]![0]!.value;
      expect(Math.abs(most - next(planned)), `${most} for ${next(planned)}`).toBeLessThanOrEqual(
        (factorOf(axis.factor)!.rounding ?? 0) + 1e-9,
      );
    }
  });
});

describe('the infill of a file', () => {
  it('is told by its lines: each pattern, thin and dense', () => {
    const { context, baseline } = demoPairs[0]!;
    const trial = trialOfKind('infill-density', context, baseline)!;
    const patterns = factorOf('infill-pattern')!.choices!;
    for (const half of [
      [0, 1, 2, 3],
      [4, 5, 6, 7],
    ]) {
      const axes = trial.axes.map((a) => ({ ...a, levels: a.factor === 'infill-pattern' ? half : [0.12, 0.3] }));
      const made = finish(make({ ...trial, axes, frozen: { ...trial.frozen, topLayers: half.includes(7) ? 3 : 0 } }));
      expect(made.ok ? [] : made.faults).toEqual([]);
      if (!made.ok) continue;
      for (const cell of made.value.inspection.cells)
        expect(`${cell.planned['infill-density']} ${patterns[cell.effective['infill-pattern']![0]?.value ?? -1]}`).toBe(
          `${cell.planned['infill-density']} ${patterns[cell.planned['infill-pattern']!]}`,
        );
    }
  });
});
