import { levelWords as wordsOf, type Factor } from '#core/factors';
import { settable } from './picks';
import { isClean, type NoPick, type Pick } from './rules';
import type { CellScore } from './scores';
import { partAt, type Study } from './study';

/** An end of what can be set is an answer where it falls short of the best level by no more, in points. */
const SHORT = 0.75;

/**
 * The end of a sweep as its answer, where the best lies there and printer and filament allow nothing beyond it: a fan at
 * 100 %, no retraction at all. A clean band that ends there is bracketed by that.
 */
export function endOf(
  { code, toward, message, cells }: NoPick,
  rule: string,
  limits: { min: number; max: number },
  read: readonly CellScore[],
  factor: Factor,
): Pick | undefined {
  const levels = read.map((s) => s.level);
  const [low, high] = [levels[0]!, levels[levels.length - 1]!];
  const atLow = low <= limits.min + factor.settable / 2;
  const atHigh = high >= limits.max - factor.settable / 2;
  if (code === 'not-bracketed') {
    if ((toward !== 'higher' && !atLow) || (toward !== 'lower' && !atHigh)) return undefined;
    // The clean run from that end; readings of earlier trials have no cell here, so levels tell.
    const run = toward === 'higher' ? [...read].reverse() : read;
    const length = run.findIndex((s) => !isClean(s));
    const band = run.slice(0, length < 0 ? run.length : length).map((s) => s.level);
    const [from, to] = [Math.min(...band), Math.max(...band)];
    const words = `${wordsOf(factor, from)} to ${wordsOf(factor, to)}`;
    return {
      value: (from + to) / 2,
      low: from,
      high: to,
      why: `${words} are clean, and a sweep can go no further there`,
      cells,
    };
  }
  const good = code === 'no-fault' ? !rule.startsWith('less-') : code === 'at-the-edge' && rule === 'best-combined';
  // Where all is poor the curves may rise beyond an end that is as poor as the rest: that end is no answer.
  const most = Math.max(...read.map((s) => s.together!));
  const end = toward === 'higher' ? read[read.length - 1]! : read[0]!;
  if (code === 'at-the-edge' && end.together! < most - SHORT) return undefined;
  const why = `${message}, and a sweep can go no further there`;
  if (good && toward === 'lower' && atLow) return { value: low, low, high: (low + (levels[1] ?? low)) / 2, why, cells };
  if (good && toward === 'higher' && atHigh)
    return { value: high, low: (high + (levels[levels.length - 2] ?? high)) / 2, high, why, cells };
  return undefined;
}

/** An end is the answer where it is better than the middle of all that is about as good in so many of the drawn curves. */
const PLAINLY = 0.8;
/** What is about as good, in points. */
const ABOUT = 0.25;

/**
 * The end of a sweep as its answer, unless levels far from it are about as good: then the middle of them, where a later stop
 * or another day leaves room to both sides.
 */
export function notPlainly(end: Pick, study: Study, factor: Factor): Pick {
  const { grid, ranked, span, toX, toLevel } = study;
  const mean = (x: number) => partAt({ grid, draws: ranked }, x);
  const at = toX(end.value);
  const [inside, near] = [[...grid].filter((x) => x >= -1e-9 && x <= span + 1e-9), mean(at) - ABOUT];
  // As far from the end as it goes on being about as good.
  const run = at > span / 2 ? inside.reverse() : inside;
  const until = run.findIndex((x) => mean(x) < near);
  const last = run[(until < 0 ? run.length : until) - 1] ?? at;
  const middle = (at + last) / 2;
  if (Math.abs(last - at) <= 1) return end;
  const k = (x: number) => grid.reduce((best, g, i) => (Math.abs(g - x) < Math.abs(grid[best]! - x) ? i : best), 0);
  const [kEnd, kMiddle] = [k(at), k(middle)];
  if (ranked.filter((d) => d[kEnd]! > d[kMiddle]!).length >= PLAINLY * ranked.length) return end;
  const [from, to] = [toLevel(Math.min(at, last)), toLevel(Math.max(at, last))];
  return {
    ...end,
    value: toLevel(middle),
    low: from,
    high: to,
    why: `${wordsOf(factor, settable(from, factor))} to ${wordsOf(factor, settable(to, factor))} are within a quarter point of one another, and none plainly the best: the middle of them`,
  };
}
