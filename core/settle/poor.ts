import { show } from '#core/base';
import type { Factor } from '#core/factors';
import { qualityOf } from '#core/judge';
import { FAILED, type CellScore } from './scores';
import type { Flag } from './settled';
import { restsElsewhere, type Study } from './study';

/** A level is less poor than the others where it is this much above what most of them get, in points. */
const LESS_POOR = 1;

/** A level of a sweep with those beside it. */
interface Among extends CellScore {
  from: number;
  to: number;
}

/** The level that scores most, with the levels beside it: at an end of the sweep itself on that side. */
export function leastPoorOf(read: readonly CellScore[]): Among | undefined {
  const levels = merged(read);
  const most = Math.max(...levels.map((s) => s.together!));
  const at = levels.findIndex((s) => s.together === most);
  const own = levels[at];
  return own && { ...own, from: (levels[at - 1] ?? own).level, to: (levels[at + 1] ?? own).level };
}

/** The one level that is plainly less poor than most, with the levels beside it; none at an end of the sweep. */
export function leastPoor(read: readonly CellScore[]): Among | undefined {
  const found = leastPoorOf(read);
  const scores = merged(read)
    .map((s) => s.together!)
    .sort((a, b) => a - b);
  const [most, second] = [scores.at(-1)!, scores.at(-2)!];
  const plainly = most > second && most - scores[Math.floor((scores.length - 1) / 2)]! >= LESS_POOR;
  return plainly && found && found.from < found.level && found.level < found.to ? found : undefined;
}

/** Levels ascending, each once: what was read of it in several trials, as the mean by how often. */
function merged(read: readonly CellScore[]): CellScore[] {
  const byLevel = new Map<number, CellScore>();
  for (const s of read) {
    const other = byLevel.get(s.level);
    const n = s.n + (other?.n ?? 0);
    const together = other ? (other.together! * other.n + s.together! * s.n) / n : s.together;
    byLevel.set(s.level, { ...s, ...(together !== undefined && { together }), n });
  }
  return [...byLevel.values()].sort((a, b) => a.level - b.level);
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
