import { rounded, seeded } from '#core/base';
import { factorOf, levelWords } from '#core/factors';
import type { Axis } from '#core/plan';
import type { Settings } from '#core/settings';
import type { Moved, Trial } from './schema';
import { planned, titled } from './trial';

/** Those of some settings that did move, two at most: what stayed needs no confirmation. */
export const reallyMoved = (all: readonly Moved[]): Moved[] =>
  all.filter((m) => Math.abs(m.old - m.new) >= 1e-9).slice(0, 2);

/**
 * Specimens that show nothing, or something else, without what their trial holds: flow tiles stay solid, loops and corners
 * as fast, and lines of pressure advance free of air. All else that was test-only is restored.
 */
const showsWithHeld: ReadonlySet<string> = new Set(['flow-tile', 'loop-wall', 'surge-ribbon', 'star-wall']);

/**
 * A small print with the old and the new value (of two settings: the old and the new pair) side by side on the specimen
 * of a trial: nothing held by the trial alone, everything else as the pair has it now. Which of the two comes first is
 * drawn from the seed, so that it can be judged blind. Undefined where nothing moved, or where it cannot be made.
 *
 * @param baseline the pair's settings with all that is settled in force
 */
export function confirmationOf(
  trial: Trial,
  all: readonly Moved[],
  baseline: Settings,
  seed: number,
): Trial | undefined {
  const moved = reallyMoved(all);
  const [first, second] = moved;
  const axis = trial.axes.find((a) => a.factor === first?.factor);
  if (!first || !axis) return undefined;
  const newFirst = seeded(seed)() < 0.5;
  const levelsOf = (m: Moved) => (newFirst ? [m.new, m.old] : [m.old, m.new]).map((v) => rounded(v, 6));
  const also = second && { factor: second.factor, levels: levelsOf(second) };
  const small: Trial = {
    ...trial,
    baseline,
    frozen: showsWithHeld.has(trial.specimen.id) ? trial.frozen : {},
    axes: [{ ...axis, levels: levelsOf(first), kind: 'step', ...(also && { also }) }],
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
  const words = (which: 'old' | 'new') => moved.map((m) => levelWords(factorOf(m.factor)!, m[which])).join(', ');
  if (!found) return undefined;
  const name = titled({ ...found, axes: [] }).title;
  return { ...found, title: `Confirmation, ${name}, ${words('new')} against ${words('old')}`.slice(0, 120) };
}
