import { rounded, seeded } from '#core/base';
import { factorOf, levelWords } from '#core/factors';
import type { Axis } from '#core/plan';
import type { Settings } from '#core/settings';
import type { Trial } from './schema';
import { planned, titled } from './trial';

/**
 * A small print with the old and the new value side by side on the specimen of a trial: nothing held by the trial alone,
 * everything else as the pair has it now. Which of the two comes first is drawn from the seed, so that it can be judged
 * blind. Undefined where both are one value, or where it cannot be made.
 *
 * @param baseline the pair's settings with all that is settled in force
 */
export function confirmationOf(
  trial: Trial,
  factor: string,
  values: { old: number; new: number },
  baseline: Settings,
  seed: number,
): Trial | undefined {
  const f = factorOf(factor);
  const axis = trial.axes.find((a) => a.factor === factor);
  if (!f || !axis || Math.abs(values.old - values.new) < 1e-9) return undefined;
  const pair = [values.new, values.old].map((v) => rounded(v, 6));
  const levels = seeded(seed)() < 0.5 ? pair : pair.reverse();
  const small: Trial = {
    ...trial,
    baseline,
    // Flow tiles stay solid: without that the fault would not show. All else that was test-only is restored.
    frozen: trial.specimen.id === 'flow-tile' ? trial.frozen : {},
    axes: [{ ...axis, levels, kind: 'step' }],
    seed,
  };
  const laid = (along: Axis['along'], held: Trial['frozen'] = {}): Trial => ({
    ...small,
    frozen: { ...small.frozen, ...held },
    axes: [{ ...small.axes[0]!, along }],
  });
  // How pieces follow one another is no setting that is judged; two prints are always possible.
  const { arrangement, temperatureWait } = trial.frozen;
  const order = {
    ...(arrangement !== undefined && { arrangement }),
    ...(temperatureWait !== undefined && { temperatureWait }),
  };
  const found = [laid(axis.along), laid('tile'), laid('tile', order), laid('print')].find((t) => planned(t).ok);
  // The title names the new value first, whichever stands first on the print: it must not tell.
  const words = (v: number) => levelWords(f, v);
  if (!found) return undefined;
  const name = titled({ ...found, axes: [] }).title;
  return { ...found, title: `Confirmation, ${name}, ${words(values.new)} against ${words(values.old)}`.slice(0, 120) };
}
