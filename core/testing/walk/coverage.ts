import { rounded } from '#core/base';
import type { Traits } from '#core/lab';
import { qualityOf } from '#core/judge';
import { weightsFor, type Choice } from '#core/settle';
import type { Trial } from '#core/trial';
import { FALL, FAULT_AT } from '../../settle/picks';
import { clearScores, printTrial, type PrintedTrial } from './printed';
import { together } from '../../careful';

/** Levels within so many points of the best are as good. */
const AS_GOOD = 0.05;

/**
 * Whether an interval holds what it speaks of, told without any noise in fine levels on the specimens that it was settled
 * from, what several of them show as the mean: a level that is as good as the best, or, of a rule by a fault, where the
 * first fault lies. Undefined where that cannot be told.
 *
 * @param trials the last first; those before it on the same specimen only say how good is usual beyond its levels
 */
export function holds(
  trials: readonly Trial[],
  { rule, factor, interval95 }: Choice,
  traits: Traits,
): boolean | undefined {
  const own = trials.filter((t, i) => trials.findIndex((u) => u.specimen.id === t.specimen.id) === i);
  const levels = own.flatMap((t) => t.axes[0]!.levels);
  const [low, high] = [Math.min(...levels), Math.max(...levels)];
  for (const count of [15, 11, 8]) {
    const even = Array.from({ length: count }, (_, i) => rounded(low + ((high - low) * i) / (count - 1), 6));
    const prints = own.map((trial) => {
      const axis = trial.axes[0]!;
      const falls = axis.levels[0]! > axis.levels.at(-1)!;
      return printTrial({ ...trial, axes: [{ ...axis, levels: falls ? [...even].reverse() : even }] }, traits, 1);
    });
    const all = even.map((level) => ({ level, byQuality: new Map<string, number[]>() }));
    if (prints.some((p) => !p)) continue;
    for (const print of prints as PrintedTrial[]) {
      clearScores(print).forEach((scores, i) => {
        const at = all.find(({ level }) => Math.abs(level - print.plan.cells[i]!.levels[factor]!) < 1e-6)!;
        for (const [id, score] of Object.entries(scores))
          at.byQuality.set(id, [...(at.byQuality.get(id) ?? []), score]);
      });
    }
    const told = all.map(({ level, byQuality }) => ({
      level,
      scores: Object.fromEntries([...byQuality].map(([id, v]) => [id, v.reduce((a, b) => a + b, 0) / v.length])),
    }));
    if (!byFault(rule)) return holdsBest(told, factor, interval95);
    const beyond = trials
      .filter((t) => !own.includes(t))
      .flatMap((t) => clearly(t, traits, factor))
      .filter(({ level }) => level < low - 1e-6 || level > high + 1e-6);
    const known = [...told, ...beyond].sort((a, b) => a.level - b.level);
    const read = trials.flatMap((t) => t.axes[0]!.levels);
    return holdsFault(known, read, rule, factor, interval95);
  }
  return undefined;
}

/** The levels of a trial as they were printed, told without any noise. */
function clearly(trial: Trial, traits: Traits, factor: string): Levels {
  const print = printTrial(trial, traits, 1);
  return print ? clearScores(print).map((scores, i) => ({ level: print.plan.cells[i]!.levels[factor]!, scores })) : [];
}

type Levels = { level: number; scores: Record<string, number> }[];

const byFault = (rule: string): boolean => /^(less-|lowest-|highest-)/.test(rule);

/** A score between two levels, on a straight line. */
function scoreAt(all: Levels, track: string, level: number): number {
  const at = all.findIndex((a) => a.level >= level - 1e-9);
  const above = at < 0 ? all.length - 1 : at;
  const [a, b] = [all[Math.max(0, above - 1)]!, all[above]!];
  const share = b.level > a.level ? Math.max(0, (level - a.level) / (b.level - a.level)) : 1;
  return (1 - share) * (a.scores[track] ?? 4) + share * (b.scores[track] ?? 4);
}

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

/** @param read the levels that the program knows: what is usual is told among these */
function holdsFault(
  all: Levels,
  read: readonly number[],
  rule: string,
  factor: string,
  [from, to]: readonly [number, number],
) {
  const rises = rule.startsWith('lowest-');
  const order = all.map((_, i) => (rises ? all.length - 1 - i : i));
  const crossings = Object.keys(all[0]?.scores ?? {}).flatMap((track) => {
    const fault = qualityOf(track)?.fault[factor];
    if (fault === (rises ? 'too high' : 'too low') || (rises && fault === undefined)) return [];
    const scores = order.map((i) => all[i]!.scores[track] ?? 4);
    // What nobody says is spoilt on that side fails where it gets poorer by as much as the program says.
    const known = read.map((level) => scoreAt(all, track, level)).sort((a, b) => b - a);
    const better = known.slice(0, Math.ceil(known.length / 2));
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
