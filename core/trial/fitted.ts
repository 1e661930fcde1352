import type { Layout } from '#core/factors';
import type { Axis } from '#core/plan';
import type { Result } from '#core/base';
import type { Trial } from './schema';
import { planned, titled, type Planned } from './trial';

/** A sweep of fewer levels tells little; of a map of two factors each side may be shorter. */
const [LEAST, LEAST_OF_TWO] = [3, 2];

/** What fewer levels of an axis leave room for, by what a plan says is too small. */
const takesRoom: Readonly<Record<string, readonly Layout[]>> = {
  'trial.height': ['height'],
  'trial.bed': ['row', 'tile'],
};

/**
 * A trial with as many of its levels as bed and height have room for, those at the ends kept and the others even between
 * them; as it is where it fits, and where the least do not. With what it is planned as.
 */
export function fitted(trial: Trial): { trial: Trial; plan: Result<Planned> } {
  const first = planned(trial);
  const least = trial.axes.length > 1 ? LEAST_OF_TWO : LEAST;
  let [now, plan] = [trial, first];
  while (!plan.ok) {
    const along = plan.faults.flatMap((f) => takesRoom[f.code] ?? []);
    const most = now.axes
      .filter((a) => along.includes(a.along) && a.levels.length > least)
      .sort((a, b) => b.levels.length - a.levels.length)[0];
    if (!most) return { trial, plan: first };
    const whole = trial.axes.find((a) => a.factor === most.factor)!;
    now = titled({ ...now, axes: now.axes.map((a) => (a === most ? fewer(whole, a.levels.length - 1) : a)) });
    plan = planned(now);
  }
  return { trial: now, plan };
}

function fewer(axis: Axis, count: number): Axis {
  const even = (levels: readonly number[]) =>
    Array.from({ length: count }, (_, i) => levels[Math.round((i * (levels.length - 1)) / (count - 1))]!);
  return {
    ...axis,
    levels: even(axis.levels),
    ...(axis.also && { also: { ...axis.also, levels: even(axis.also.levels) } }),
  };
}
