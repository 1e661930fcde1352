import { rounded } from '#core/base';
import type { Context } from '#core/context';
import { factorOf } from '#core/factors';
import type { Settings } from '#core/settings';
import { allowedLevels, planned, titled, trialOfKind, type Trial } from '#core/trial';
import { kindsOf, stopOfFactor } from './stops';
import type { Tuned } from './tune-sheet';

/**
 * The shortest trial that would recheck a value: the shorter kind of its stop, at the value and half a step to each side.
 * Undefined where no kind of trial varies it alone.
 *
 * @param baseline the pair's settings with all that is settled in force
 */
export function recheckOf(value: Tuned, context: Context, baseline: Settings): Trial | undefined {
  const factor = factorOf(value.factor);
  const kinds = kindsOf(stopOfFactor(value.factor)?.id ?? '').filter((k) => k.lacks?.(context) === undefined);
  if (!factor) return undefined;
  const short = new Set(kinds.flatMap((k) => k.shorter ?? []));
  for (const kind of [...kinds.filter((k) => short.has(k.id)), ...kinds.filter((k) => !short.has(k.id))]) {
    const trial = trialOfKind(kind.id, context, baseline);
    const axis = trial?.axes[0];
    if (!trial || axis?.factor !== factor.id || trial.axes.length > 1) continue;
    if (factor.choices) return trial;
    const step = Math.abs(axis.levels[1]! - axis.levels[0]!);
    const half = Math.max(1, Math.round(step / 2 / factor.settable)) * factor.settable;
    const falls = axis.levels[0]! > axis.levels[1]!;
    for (const sides of [
      [-1, 0, 1],
      [0, 1, 2],
      [-2, -1, 0],
    ]) {
      const levels = sides.map((k) => rounded(value.value + k * half, 6));
      const own = { ...axis, levels: falls ? levels.reverse() : levels };
      const next = titled({ ...trial, axes: [own] });
      if (allowedLevels(trial, axis, levels).length === levels.length && planned(next).ok) return next;
    }
  }
  return undefined;
}
