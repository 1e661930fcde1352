import { rounded, show } from '#core/base';
import { factorOf } from '#core/factors';
import { levelsOf, MOST_LEVELS } from '#core/plan';
import { allowedLevels, fitted, type Trial } from '#core/trial';
import type { LevelCost } from './costs';
import { settable } from './picks';
import type { NoPick } from './rules';
import type { Settled, Swept } from './settled';
import { between, type Study } from './study';
import { nextPositions } from './teach';

/** Levels that a next trial is chosen from, at most about so many. */
const MOST_CANDIDATES = 72;

/** A next sweep has so many levels at least, where so many can be set: of fewer most were printed already. */
const LEAST_LEVELS = 6;

/** A trial that goes further where the answer lies beyond this one. */
export function withNext(
  result: Settled,
  { trial }: Swept,
  toward: NoPick['toward'],
  levels: readonly number[],
  step: number,
): Settled {
  const factor = factorOf(trial.axes[0]!.factor)!;
  const low = levels[0]!;
  const high = levels[levels.length - 1]!;
  const limits = limitsOf(trial);
  const from = Math.max(limits.min, toward === 'higher' ? high - 2 * step : low - 3 * step);
  const to = Math.min(limits.max, toward === 'lower' ? low + 2 * step : high + 3 * step);
  // What allows no going further needs no trial.
  if ((from >= low - 1e-9 || toward === 'higher') && (to <= high + 1e-9 || toward === 'lower')) return result;
  // Both ends belong to the sweep; the steps between them are as even as can be set.
  const count = Math.min(
    MOST_LEVELS,
    Math.max(LEAST_LEVELS, Math.round((to - from) / (toward === 'both' ? 1.5 * step : step)) + 1),
  );
  const next = evenTrial(trial, from, to, count);
  return {
    ...result,
    next,
    nextWhy: next
      ? `${toward === 'both' ? 'a wider sweep' : 'further ' + (toward === 'lower' ? 'down' : 'up')}: ${levelWords(next, factor.unit)}`
      : '',
  };
}

/** A finer sweep from the level below one to that above it. */
export function withFiner(result: Settled, { trial }: Swept, { from, to }: { from: number; to: number }): Settled {
  const factor = factorOf(trial.axes[0]!.factor)!;
  const next = evenTrial(trial, from, to, LEAST_LEVELS);
  return next ? { ...result, next, nextWhy: `a finer sweep: ${levelWords(next, factor.unit)}` } : result;
}

/** So many levels as even as can be set, the highest first. */
function evenTrial(trial: Trial, from: number, to: number, count: number): Trial | null {
  const factor = factorOf(trial.axes[0]!.factor)!;
  const even = Array.from({ length: count }, (_, i) => to - ((to - from) * i) / (count - 1));
  const levels = [...new Set(even.map((v) => settable(v, factor)))];
  const raw = levelsOf({ mode: 'list', levels }, 'levels');
  return raw.ok ? nextTrial(trial, raw.value.levels) : null;
}

/**
 * A finer trial, where finer steps can still be set: a level at the answer and one half a step to each side, which a person
 * would print anyway; the others where they teach most for their time: near the step of a threshold, on a peak's flanks.
 */
export function withRefine(
  result: Settled,
  { trial, cells }: Swept,
  study: Study,
  target: readonly number[],
  step: number,
  costs: readonly LevelCost[],
): Settled {
  const factor = factorOf(trial.axes[0]!.factor)!;
  if (factor.settable > 0.6 * step) return result;
  const limits = factor.limits(trial.context);
  const [from, to] = [study.toLevel(-1), study.toLevel(study.span + 1)];
  const finest = Math.max(step / 10, (to - from) / MOST_CANDIDATES);
  const grain = Math.max(1, Math.round(finest / factor.settable)) * factor.settable;
  const times = costs
    .flatMap((c) => {
      const level = cells.find((q) => q.id === c.cell)?.levels[factor.id];
      return level === undefined ? [] : [{ level, score: c.time }];
    })
    .sort((a, b) => a.level - b.level);
  const usual = times.reduce((s, t) => s + t.score, 0) / Math.max(1, times.length);
  const candidates: { x: number; cost: number }[] = [];
  for (let k = Math.ceil(from / grain - 1e-9); k * grain <= to + 1e-9 && candidates.length < 400; k++) {
    const level = rounded(k * grain, 6);
    if (level < limits.min || level > limits.max) continue;
    candidates.push({ x: study.toX(level), cost: usual > 0 ? between(times, level) / usual : 1 });
  }
  const count = Math.min(8, Math.max(3, trial.axes[0]!.levels.length));
  const first = aroundAnswer(result.choices[0]?.choice, candidates, study, step / 2);
  const levels = nextPositions(study.parts, target, candidates, count, { first }).map((x) =>
    rounded(study.toLevel(x), 6),
  );
  if (levels.length < 3) return result;
  const falls = trial.axes[0]!.levels[0]! > trial.axes[0]!.levels[trial.axes[0]!.levels.length - 1]!;
  const next = nextTrial(trial, falls ? levels.reverse() : levels);
  if (!next) return result;
  return {
    ...result,
    next,
    nextWhy: `or refine where readings teach most: ${next.axes[0]!.levels.map((v) => show(v * factor.shown, 3)).join(', ')} ${factor.unit}`,
  };
}

/** The places of the candidates at the answer and some way to each side of it, where there are any. */
function aroundAnswer(
  answer: number | undefined,
  candidates: readonly { x: number }[],
  study: Study,
  side: number,
): number[] {
  if (answer === undefined) return [];
  const at = (level: number) => {
    const x = study.toX(level);
    let best = 0;
    candidates.forEach((c, i) => {
      if (Math.abs(c.x - x) < Math.abs(candidates[best]!.x - x)) best = i;
    });
    return best;
  };
  return candidates.length === 0 ? [] : [...new Set([answer, answer - side, answer + side].map(at))];
}

/** What printer and filament allow, and what was swept already: a person may have gone beyond what is usual. */
function limitsOf(trial: Trial): { min: number; max: number } {
  const { factor, levels } = trial.axes[0]!;
  const { min, max } = factorOf(factor)!.limits(trial.context);
  return { min: Math.min(min, ...levels), max: Math.max(max, ...levels) };
}

function nextTrial(trial: Trial, levels: number[]): Trial | null {
  const { min, max } = limitsOf(trial);
  const within = levels.filter((v) => v >= min && v <= max);
  const kept = allowedLevels(trial, trial.axes[0]!, within);
  const before = trial.axes[0]!.levels;
  if (kept.length < 3 || kept.every((v) => before.includes(v))) return null;
  const factor = factorOf(trial.axes[0]!.factor)!;
  const show_ = (v: number) => show(v * factor.shown);
  // On a plate each part has one level; what teaches most is asked of all of them.
  const along = trial.beside && trial.axes[0]!.along === 'tile' ? 'print' : trial.axes[0]!.along;
  // What a smaller bed has room for.
  return fitted({
    ...trial,
    title: `${trial.title.split(',')[0]}, ${show_(kept[0]!)} → ${show_(kept[kept.length - 1]!)} ${factor.unit}`,
    axes: [{ ...trial.axes[0]!, along, levels: kept }],
  }).trial;
}

function levelWords(trial: Trial, unit: string): string {
  const { factor, levels } = trial.axes[0]!;
  const { shown } = factorOf(factor)!;
  const say = (v: number) => show(v * shown);
  const step = Math.abs(levels[1]! - levels[0]!);
  return `${say(Math.min(...levels))}–${say(Math.max(...levels))} ${unit} in ${say(step)} ${unit} steps`;
}
