import type { Layout } from '#core/factors';
import type { Axis } from '#core/plan';
import type { Trial } from './schema';
import { planned, titled } from './trial';

/** A sweep of fewer levels tells little; of a map of two factors each side may be shorter. */
const [LEAST, LEAST_OF_TWO] = [3, 2];

/** What fewer levels of an axis leave room for, by what a plan says is too small. */
const takesRoom: Readonly<Record<string, readonly Layout[]>> = {
  'trial.height': ['height'],
  'trial.bed': ['row', 'tile'],
};

/**
 * A trial with as many of its levels as bed and height have room for, those at the ends kept and the others even between
 * them; as it is where it fits, and where the least do not.
 */
export function fitted(trial: Trial): Trial {
  const least = trial.axes.length > 1 ? LEAST_OF_TWO : LEAST;
  let now = trial;
  for (;;) {
    const plan = planned(now);
    if (plan.ok) return now;
    const along = plan.faults.flatMap((f) => takesRoom[f.code] ?? []);
    const most = now.axes
      .filter((a) => along.includes(a.along) && a.levels.length > least)
      .sort((a, b) => b.levels.length - a.levels.length)[0];
    if (!most) return trial;
    const whole = trial.axes.find((a) => a.factor === most.factor)!;
    now = titled({ ...now, axes: now.axes.map((a) => (a === most ? fewer(whole, a.levels.length - 1) : a)) });
  }
}

const fewer = (axis: Axis, count: number): Axis => ({
  ...axis,
  levels: Array.from(
    { length: count },
    (_, i) => axis.levels[Math.round((i * (axis.levels.length - 1)) / (count - 1))]!,
  ),
});
