import type { Amounts, Outcome } from '#core/lab';
import { judgedOn } from '#core/judge';
import { FAILED, type Weights } from '#core/settle';
import type { Trial } from '#core/trial';
import { response } from './eyes';

/** What would be said of a place on a trial’s print without any noise: quality → score 0–4. */
export function responseOf(trial: Trial, amounts: Amounts, outcome: Outcome): Record<string, number> {
  return Object.fromEntries(
    judgedOn(trial).flatMap(({ id }) => {
      const clear = response(id, amounts, outcome);
      return clear === undefined ? [] : [[id, clear]];
    }),
  );
}

/**
 * The mean of scores less what the worst of several falls short by; undefined where there are none.
 *
 * @param weights how much each counts; 1 where nothing is said
 */
export function together(scores: Record<string, number>, weights: Weights = {}): number | undefined {
  const all = Object.values(scores);
  const weightOf = (id: string) => weights[id] ?? 1;
  const sum = Object.keys(scores).reduce((n, id) => n + weightOf(id), 0);
  if (sum === 0) return undefined;
  const short = all.length > 1 ? Math.max(0, FAILED - Math.min(...all)) : 0;
  return Object.entries(scores).reduce((n, [id, score]) => n + weightOf(id) * score, 0) / sum - short;
}
