import type { Reading } from '#core/judge';
import { cellsOf } from '#core/plan';
import type { Trial } from '#core/trial';
import { quantile, settle, type Settled } from '../settle';
import { smallTower } from './fixtures';
import { knowing } from './knowing';
import { hiddenOf, said, seeded, type Family, type Hidden } from './hidden-judge';

/** Eight levels of outer wall speed; one step is 25 mm/s and a fifth of it can be set. */
const STEP = 20;
const FIRST = 30;
const tower = smallTower([250, 240]);

/** The trial that the simulated judge reads; read on a track of the shape of its family. */
export const trialOf = (levels: number[]): Trial => ({
  ...tower,
  axes: [{ factor: 'outer-wall-speed', levels, kind: 'step', along: 'height' }],
});
export const first = trialOf(Array.from({ length: 8 }, (_, i) => FIRST + i * STEP));
export const trackOf = (family: Family): string => (family === 'threshold' ? 'echo' : 'surface');
export const ruleOf = (family: Family): string =>
  family === 'threshold' ? 'highest-before-the-fault' : 'best-combined';
export const positionOf = (level: number): number => (level - FIRST) / STEP;

/** What the judge says of a trial, `replicates` times. */
export function readBy(hidden: Hidden, trial: Trial, random: () => number, replicates = 1): Reading[] {
  return cellsOf(trial.axes).flatMap((cell) =>
    Array.from({ length: replicates }, (_, k) => ({
      print: 'p',
      cells: [cell.id],
      track: trackOf(hidden.family),
      value: said(hidden.response(positionOf(cell.levels['outer-wall-speed']!)), random),
      judge: 'me',
      replicate: k + 1,
    })),
  );
}

const settled = (trial: Trial, readings: Reading[], family: Family, before?: { trial: Trial; readings: Reading[] }) =>
  settle({ trial, cells: cellsOf(trial.axes) }, readings, {
    rule: ruleOf(family),
    ...(before && { earlier: [{ cells: cellsOf(before.trial.axes), readings: before.readings }] }),
  });

/** How well a family was chosen in one round. Errors in level steps, loss in score points. */
export interface Round {
  answered: number;
  error: { median: number; p95: number };
  loss: { median: number; mean: number };
  coverage: number;
}

/** One answer, in level steps. */
interface Found {
  at: number;
  choice: number;
  interval95: [number, number];
}

/**
 * First trial and proposed second over hidden optima at least a step and a half inside the sweep. The error of a
 * threshold is that of where the fault is said to begin; its loss that of the value chosen. Those without an answer
 * count in `answered` only.
 */
export const rounds = (family: Family, optima: number, seed = 11): [Round, Round] =>
  roundsBy(family, optima, seed, (said) => said);

/** The same rounds, where the answers to the same readings are those of somebody who knows how the judge is made. */
export function roundsOfOneWhoKnows(family: Exclude<Family, 'threshold'>, optima: number, seed = 11): [Round, Round] {
  const best = knowing();
  return roundsBy(family, optima, seed, (_, readings) => {
    const { interval95, choice } = best(readings);
    return { at: choice, choice, interval95 };
  });
}

function roundsBy(
  family: Family,
  optima: number,
  seed: number,
  answer: (said: Found, readings: readonly { x: number; score: number }[]) => Found,
): [Round, Round] {
  const random = seeded(seed);
  const kept = [0, 1].map(() => ({ errors: [] as number[], losses: [] as number[], held: 0 }));
  for (let k = 0; k < optima; k++) {
    const hidden = hiddenOf(family, random, 1.5, 5.5);
    const readings = readBy(hidden, first, random);
    const one = settled(first, readings, family);
    const note = (s: Settled, round: 0 | 1, scores: ReturnType<typeof positioned>) => {
      const c = s.choices[0];
      if (!c) return;
      const found = answer(
        {
          at: positionOf(c.begins ?? c.choice),
          choice: positionOf(c.choice),
          interval95: [positionOf(c.interval95[0]), positionOf(c.interval95[1])],
        },
        scores,
      );
      kept[round]!.errors.push(Math.abs(found.at - hidden.optimum));
      kept[round]!.losses.push(
        hidden.response(hidden.optimum - (family === 'threshold' ? 1.5 : 0)) - hidden.response(found.choice),
      );
      const [low, high] = found.interval95;
      if (low <= hidden.optimum && hidden.optimum <= high) kept[round]!.held++;
    };
    note(one, 0, positioned(first, readings));
    if (!one.next) continue;
    const again = readBy(hidden, one.next, random);
    const two = settled(one.next, again, family, { trial: first, readings });
    note(two, 1, [...positioned(first, readings), ...positioned(one.next, again)]);
  }
  return kept.map(({ errors, losses, held }) => ({
    answered: errors.length / optima,
    error: { median: quantile(errors, 0.5), p95: quantile(errors, 0.95) },
    loss: { median: quantile(losses, 0.5), mean: losses.reduce((a, b) => a + b, 0) / losses.length },
    coverage: held / errors.length,
  })) as [Round, Round];
}

/** Readings by their place on the first trial's sweep. */
function positioned(trial: Trial, readings: readonly Reading[]): { x: number; score: number }[] {
  const cells = cellsOf(trial.axes);
  return readings.map((r) => ({
    x: positionOf(cells.find((c) => c.id === r.cells[0])!.levels['outer-wall-speed']!),
    score: r.value as number,
  }));
}

/**
 * How often “at the edge” is called for optima in a range of positions; of those outside only such count whose flank is
 * still seen, a point or more at the nearest level: where every cell is a zero nothing tells the side.
 */
export function edgeCalls(family: Family, from: number, to: number, optima: number, seed = 12): number {
  const random = seeded(seed);
  let called = 0;
  for (let k = 0; k < optima; k++) {
    let hidden = hiddenOf(family, random, from, to);
    while (Math.max(hidden.response(0), hidden.response(7)) < 1.5) hidden = hiddenOf(family, random, from, to);
    const s = settled(first, readBy(hidden, first, random), family);
    if (s.flags.some((f) => ['at-the-edge', 'no-fault', 'not-bracketed'].includes(f.code))) called++;
  }
  return called / optima;
}

/** How often “no visible difference” is called: of flat responses, and of those that range over two points or more. */
export function flatCalls(optima: number, seed = 13): { flat: number; differing: number } {
  const random = seeded(seed);
  const called = (hidden: Hidden) =>
    settled(first, readBy(hidden, first, random, 2), hidden.family).flags.some(
      (f) => f.code === 'no-visible-difference',
    );
  let [flat, differing, count] = [0, 0, 0];
  for (let k = 0; k < optima; k++) {
    const height = 4 * random();
    if (called({ family: 'smooth', optimum: 3, response: () => height })) flat++;
    const hidden = hiddenOf('smooth', random, 1.5, 5.5);
    const seen = cellsOf(first.axes).map((c) => hidden.response(positionOf(c.levels['outer-wall-speed']!)));
    if (Math.max(...seen) - Math.min(...seen) < 2) continue;
    count++;
    if (called(hidden)) differing++;
  }
  return { flat: flat / optima, differing: differing / count };
}
