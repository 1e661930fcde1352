import { listed, show } from '#core/base';
import { counted, qualityOf, scoreOf, type Answer, type Reading } from '#core/judge';
import { FAILED, type Weights } from './scores';

/** How a confirmation came out: the new value holds, the old one is better, or it cannot be told yet. */
export interface Verdict {
  state: 'steady' | 'reverted' | 'open';
  why: string;
}

/**
 * The new value against the old, read blind. Each quality counts by the points between its scores, where they are half a
 * point or more, and each answer to “which is better?” as one point, each by its weight; one that has failed on one of the
 * two alone counts as three points at least. The new value holds unless more speaks for the old one, where several
 * qualities are read by a whole point.
 *
 * @param cells the cells of the two values
 * @param pairs answers per quality, in numbers of cells
 * @param weights of qualities, as they count for the factor; 1 where nothing is said
 */
export function verdictOf(
  cells: { old: number; new: number },
  said: readonly Reading[],
  pairs: readonly (Answer & { track: string })[],
  weights: Weights = {},
): Verdict {
  const readings = counted(said);
  const mean = (track: string, cell: number) => {
    const all = readings.flatMap((r) => (r.track === track && r.cells.includes(cell) ? (scoreOf(r.value) ?? []) : []));
    return all.length > 0 ? all.reduce((a, b) => a + b, 0) / all.length : undefined;
  };
  const tracks = [...new Set(readings.map((r) => r.track))].filter((t) => qualityOf(t));
  const better: string[] = [];
  const worse: string[] = [];
  let [alike, balance] = [0, 0];
  const weigh = (track: string, sign: 1 | -1, times = 1) => (balance += sign * times * (weights[track] ?? 1));
  for (const track of tracks) {
    const [now, before] = [mean(track, cells.new), mean(track, cells.old)];
    if (now === undefined || before === undefined) continue;
    const words = (high: number, low: number) => `${qualityOf(track)!.label} ${show(high, 1)} against ${show(low, 1)}`;
    if (Math.abs(now - before) < 0.5) {
      alike++;
      continue;
    }
    const failed = Math.min(now, before) < FAILED && Math.max(now, before) >= FAILED;
    const points = Math.abs(now - before);
    weigh(track, now > before ? 1 : -1, failed ? Math.max(3, points) : points);
    if (now > before) better.push(words(now, before));
    else worse.push(words(before, now));
  }
  for (const { a, result, track } of pairs) {
    if (result === 'tie') alike++;
    else {
      const won = (result === 'a') === (a === cells.new);
      weigh(track, won ? 1 : -1);
      (won ? better : worse).push(`${qualityOf(track)?.label ?? track}, side by side`);
    }
  }
  if (better.length + worse.length + alike === 0)
    return { state: 'open', why: 'nothing is read on both values yet: read them, or say which is better' };
  const against = (side: readonly string[], which: string) =>
    side.length > 0 ? `, though the ${which} is on ${listed(side)}` : '';
  // Of many qualities one more or less is luck.
  const needed = tracks.length > 2 ? 1 : 0;
  if (balance < 0 && -balance >= needed)
    return { state: 'reverted', why: `the old value is better on ${listed(worse)}${against(better, 'new')}` };
  return {
    state: 'steady',
    why:
      better.length > 0 && balance > 0
        ? `the new value is better on ${listed(better)}${against(worse, 'old')}`
        : better.length + worse.length > 0
          ? `no more speaks for the old value than chance would have it: ${[better.length > 0 && `the new is better on ${listed(better)}`, worse.length > 0 && `the old on ${listed(worse)}`].filter((w) => w).join(', ')}`
          : 'no difference to the old value was found, judged blind',
  };
}
