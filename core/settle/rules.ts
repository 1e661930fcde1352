import { levelWords, type Factor } from '#core/factors';
import { qualityOf } from '#core/judge';
import type { CellScore } from './scores';

/** A value picked by a rule, in the factor's unit. `cells` are the cells that decided. */
export interface Pick {
  value: number;
  low: number;
  high: number;
  why: string;
  cells: number[];
}

/** Why a rule has no answer. `toward` says on which side to look further. */
export interface NoPick {
  code: 'at-the-edge' | 'not-bracketed' | 'nothing-clean' | 'no-fault';
  message: string;
  toward: 'lower' | 'higher' | 'both';
  cells: number[];
}

/** A rule that works on the scores alone. */
export interface Rule {
  id: string;
  label: string;
  pick(scores: readonly CellScore[], factor: Factor): Pick | NoPick;
}

/** A score of 2.75 and more passes: at worst a trace of a fault. */
export const PASS = 2.75;

/** Whether a level passes on every quality read. */
export const isClean = (s: CellScore): boolean =>
  !s.broke && Object.values(s.byQuality).every((q) => q.mean >= PASS) && s.together !== undefined;

/** The middle of the longest run of levels on which every judged quality is clean. */
export const middleOfCleanBand: Rule = {
  id: 'middle-of-the-clean-band',
  label: 'middle of the clean band',
  pick(scores, factor) {
    let best: [number, number] | undefined;
    for (let i = 0; i < scores.length; i++) {
      if (!isClean(scores[i]!)) continue;
      let j = i;
      while (j + 1 < scores.length && isClean(scores[j + 1]!)) j++;
      if (!best || j - i > best[1] - best[0]) best = [i, j];
      i = j;
    }
    if (!best)
      return { code: 'nothing-clean', message: 'no level is clean on every quality read', toward: 'both', cells: [] };
    const [i, j] = best;
    const cells = scores.slice(i, j + 1).map((s) => s.cell);
    const low = scores[i]!.level;
    const high = scores[j]!.level;
    if (i === 0 || j === scores.length - 1) {
      const both = i === 0 && j === scores.length - 1;
      return {
        code: 'not-bracketed',
        message: `the clean band reaches ${both ? 'both ends' : 'the end'} of the sweep, so its middle is not known`,
        toward: both ? 'both' : i === 0 ? 'lower' : 'higher',
        cells,
      };
    }
    const range =
      low === high
        ? `${levelWords(factor, low)} alone is`
        : `${levelWords(factor, low)} to ${levelWords(factor, high)} are`;
    return {
      value: (low + high) / 2,
      low,
      high,
      why: `${range} clean on every quality read, and both sides show faults`,
      cells,
    };
  },
};

/** The highest level below the first fault that a too high value makes. */
export const highestBeforeFault: Rule = {
  id: 'highest-before-the-fault',
  label: 'highest before the fault',
  pick(scores, factor) {
    const faulty = (s: CellScore) =>
      Object.entries(s.byQuality)
        .filter(([track, q]) => qualityOf(track)?.fault[factor.id] !== 'too low' && q.mean < PASS)
        .map(([track]) => track);
    const sound = scores.map((s) => faulty(s).length === 0 && s.together !== undefined);
    let at = -1;
    for (let i = 0; i < scores.length; i++) {
      if (scores[i]!.together === undefined) continue;
      if (!sound[i] && at >= 0) break;
      if (sound[i]) at = i;
    }
    if (at < 0)
      return {
        code: 'at-the-edge',
        message: 'even the lowest level shows the fault',
        toward: 'lower',
        cells: scores[0] ? [scores[0].cell] : [],
      };
    const next = scores.slice(at + 1).find((s) => s.together !== undefined);
    if (!next)
      return {
        code: 'no-fault',
        message: 'no level shows the fault, up to the highest',
        toward: 'higher',
        cells: [scores[at]!.cell],
      };
    const names = faulty(next).map((t) => qualityOf(t)?.label ?? t);
    const value = scores[at]!.level;
    return {
      value,
      low: value,
      high: next.level,
      why: `${levelWords(factor, next.level)} is the first level with a fault (${names.join(', ')}); ${levelWords(factor, value)} is the last without`,
      cells: [scores[at]!.cell, next.cell],
    };
  },
};

/** The lowest level on which no quality that a too low value spoils shows a fault. */
export const lowestWithoutFault: Rule = {
  id: 'lowest-without-the-fault',
  label: 'lowest without the fault',
  pick(scores, factor) {
    const read = scores.filter((s) => s.together !== undefined);
    const faulty = (s: CellScore) =>
      Object.entries(s.byQuality)
        .filter(([track, q]) => spoils(track, factor.id) !== 'too high' && q.mean < PASS)
        .map(([track]) => track);
    // From the top down, as long as no fault shows.
    let at = read.length;
    while (at > 0 && faulty(read[at - 1]!).length === 0) at--;
    const good = read[at];
    if (!good) {
      const best = read.findIndex((s) => faulty(s).length === 0);
      const found = read[best];
      if (found)
        return {
          value: found.level,
          low: found.level,
          high: read[best + 1]?.level ?? found.level,
          why: `${levelWords(factor, found.level)} is the lowest level without a fault`,
          cells: [found.cell],
        };
      return { code: 'nothing-clean', message: 'every level shows the fault', toward: 'higher', cells: [] };
    }
    const before = read[at - 1];
    if (!before)
      return {
        code: 'no-fault',
        message: 'even the lowest level is without the fault',
        toward: 'lower',
        cells: [good.cell],
      };
    const names = faulty(before).map((t) => qualityOf(t)?.label ?? t);
    return {
      value: good.level,
      low: before.level,
      high: read[at + 1]?.level ?? good.level,
      why: `${levelWords(factor, before.level)} still shows a fault (${names.join(', ')}); ${levelWords(factor, good.level)} is the lowest without`,
      cells: [before.cell, good.cell],
    };
  },
};

/** What a bad score of a quality says of a factor; “stringing” and the like are worse when retraction is too short. */
const spoils = (track: string, factor: string): 'too low' | 'too high' | 'either' | undefined =>
  qualityOf(track)?.fault[factor];

/** The last good level less a margin, as a limit that is not to be touched. */
export const lastGoodLess = (percent: number): Rule => ({
  id: `less-${percent}`,
  label: `last good less ${percent} %`,
  pick(scores, factor) {
    const found = highestBeforeFault.pick(scores, factor);
    if ('code' in found) return found;
    const value = found.value * (1 - percent / 100);
    return {
      ...found,
      value,
      low: value,
      high: found.value,
      why: `${found.why}; ${percent} % less for safety`,
    };
  },
});
