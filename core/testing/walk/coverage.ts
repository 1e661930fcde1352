import { rounded } from '#core/base';
import type { Traits } from '#core/lab';
import { qualityOf } from '#core/judge';
import { weightsFor, type Choice } from '#core/settle';
import type { Trial } from '#core/trial';
import { FALL, FAULT_AT } from '../../settle/picks';
import { clearScores, printTrial } from './printed';
import { together } from '../../careful';

/** Levels within so many points of the best are as good. */
const AS_GOOD = 0.05;

/**
 * Whether an interval holds what it speaks of, told without any noise on the trial’s own specimen in fine levels: a level
 * that is as good as the best, or, of a rule by a fault, where the first fault lies. Undefined where that cannot be told.
 */
export function holds(trial: Trial, { rule, factor, interval95 }: Choice, traits: Traits): boolean | undefined {
  const axis = trial.axes[0]!;
  const [low, high] = [Math.min(...axis.levels), Math.max(...axis.levels)];
  const falls = axis.levels[0]! > axis.levels.at(-1)!;
  for (const count of [15, 11, 8]) {
    const even = Array.from({ length: count }, (_, i) => rounded(low + ((high - low) * i) / (count - 1), 6));
    const fine: Trial = { ...trial, axes: [{ ...axis, levels: falls ? even.reverse() : even }] };
    const print = printTrial(fine, traits, 1);
    if (!print) continue;
    const scores = clearScores(print);
    const all = print.plan.cells
      .map((c, i) => ({ level: c.levels[factor]!, scores: scores[i]! }))
      .sort((a, b) => a.level - b.level);
    return byFault(rule) ? holdsFault(all, rule, factor, interval95) : holdsBest(all, factor, interval95);
  }
  return undefined;
}

type Levels = { level: number; scores: Record<string, number> }[];

const byFault = (rule: string): boolean => /^(less-|lowest-|highest-)/.test(rule);

function holdsBest(all: Levels, factor: string, [from, to]: readonly [number, number]): boolean | undefined {
  // Each quality counts as it does where the factor is settled.
  const weights = weightsFor(factor, {});
  const means = all.flatMap(({ level, scores }) => {
    const score = together(scores, weights);
    return score === undefined ? [] : [{ level, score }];
  });
  const most = Math.max(...means.map((m) => m.score));
  const good = means.map((m) => m.score >= most - AS_GOOD);
  // Between two levels that are as good, everything is; beside one, half the way to the next.
  return means.some(({ level }, i) => {
    if (!good[i]) return false;
    const before = i === 0 ? level : (means[i - 1]!.level + level) / 2;
    const after = i === means.length - 1 ? level : (means[i + 1]!.level + level) / 2;
    return from <= after && to >= before;
  });
}

function holdsFault(all: Levels, rule: string, factor: string, [from, to]: readonly [number, number]) {
  const rises = rule.startsWith('lowest-');
  const order = all.map((_, i) => (rises ? all.length - 1 - i : i));
  const crossings = Object.keys(all[0]?.scores ?? {}).flatMap((track) => {
    const fault = qualityOf(track)?.fault[factor];
    if (fault === (rises ? 'too high' : 'too low') || (rises && fault === undefined)) return [];
    const scores = order.map((i) => all[i]!.scores[track] ?? 4);
    // What nobody says is spoilt on that side fails where it gets poorer by as much as the program says.
    const better = [...scores].sort((a, b) => b - a).slice(0, Math.ceil(scores.length / 2));
    const usual = better.reduce((a, b) => a + b, 0) / better.length;
    const bar = fault === undefined ? Math.min(FAULT_AT, usual - FALL) : FAULT_AT;
    // What such a value spoils has to go on failing: what is mended further on was another matter. Of the others it is
    // where they first get so poor.
    const last =
      fault === undefined
        ? scores.findIndex((v, i) => v >= bar && (scores[i + 1] ?? 4) < bar)
        : scores.findLastIndex((v) => v >= bar);
    if (last < 0 || last === scores.length - 1) return [];
    const [good, bad] = [all[order[last]!]!.level, all[order[last + 1]!]!.level];
    const share = (scores[last]! - bar) / (scores[last]! - scores[last + 1]!);
    return [good + share * (bad - good)];
  });
  if (crossings.length === 0) return undefined;
  const truth = rises ? Math.max(...crossings) : Math.min(...crossings);
  return from <= truth && truth <= to;
}
