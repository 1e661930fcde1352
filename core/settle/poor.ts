import { show } from '#core/base';
import type { Factor } from '#core/factors';
import { qualityOf } from '#core/judge';
import { FAILED, type CellScore } from './scores';
import type { Flag } from './settled';
import { restsElsewhere, type Study } from './study';

/** A level is less poor than the others where it is this much above what most of them get, in points. */
const LESS_POOR = 1;

/** The one level that is plainly less poor than most, with the levels beside it; none at an end of the sweep. */
export function leastPoor(read: readonly CellScore[]): (CellScore & { from: number; to: number }) | undefined {
  const levels = [...read].sort((a, b) => a.level - b.level);
  const scores = levels.map((s) => s.together!).sort((a, b) => a - b);
  const [most, second] = [scores.at(-1)!, scores.at(-2)!];
  const at = levels.findIndex((s) => s.together === most);
  const [before, own, after] = [levels[at - 1], levels[at], levels[at + 1]];
  const plainly = most > second && most - scores[Math.floor((scores.length - 1) / 2)]! >= LESS_POOR;
  return plainly && before && own && after ? { ...own, from: before.level, to: after.level } : undefined;
}

/** Qualities that fail as much at one level as at any other: their cause is to be looked for elsewhere. */
export function poorEverywhere({ parts }: Study, factor: Factor): Flag[] {
  const counted = parts.filter((p) => p.weight > 0);
  return counted.length < 2
    ? []
    : counted
        .filter((p) => restsElsewhere(p) && p.mean < FAILED)
        .map(({ track, mean }) => ({
          code: 'poor-everywhere',
          message: `${qualityOf(track)?.label ?? track} is poor at every level, ${show(mean, 1)} of 4: something else than ${factor.label} spoils it`,
          cells: [],
          quality: track,
        }));
}
