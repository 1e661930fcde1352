import { levelWords as wordsOf, type Factor } from '#core/factors';
import { isClean, type NoPick, type Pick } from './rules';
import type { CellScore } from './scores';

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
