import type { Reading } from '#core/judge';
import { cellsOf } from '#core/plan';
import type { Trial } from '#core/trial';
import { quantile, settle, type Settled } from '../settle';
import { smallTower } from './fixtures';
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

/**
 * First trial and proposed second over hidden optima at least a step and a half inside the sweep. The error of a
 * threshold is that of where the fault is said to begin; its loss that of the value chosen. Those without an answer
 * count in `answered` only.
 */
export function rounds(family: Family, optima: number, seed = 11): [Round, Round] {
  const random = seeded(seed);
  const kept = [0, 1].map(() => ({ errors: [] as number[], losses: [] as number[], held: 0 }));
  for (let k = 0; k < optima; k++) {
    const hidden = hiddenOf(family, random, 1.5, 5.5);
    const readings = readBy(hidden, first, random);
    const one = settled(first, readings, family);
    const note = (s: Settled, round: 0 | 1) => {
      const choice = s.choices[0];
      if (!choice) return;
      const at = positionOf(choice.begins ?? choice.choice);
      kept[round]!.errors.push(Math.abs(at - hidden.optimum));
      kept[round]!.losses.push(
        hidden.response(hidden.optimum - (family === 'threshold' ? 1.5 : 0)) -
          hidden.response(positionOf(choice.choice)),
      );
      const [low, high] = choice.interval95.map(positionOf) as [number, number];
      if (low <= hidden.optimum && hidden.optimum <= high) kept[round]!.held++;
    };
    note(one, 0);
    if (!one.next) continue;
    const again = readBy(hidden, one.next, random);
    note(settled(one.next, again, family, { trial: first, readings }), 1);
  }
  return kept.map(({ errors, losses, held }) => ({
    answered: errors.length / optima,
    error: { median: quantile(errors, 0.5), p95: quantile(errors, 0.95) },
    loss: { median: quantile(losses, 0.5), mean: losses.reduce((a, b) => a + b, 0) / losses.length },
    coverage: held / errors.length,
  })) as [Round, Round];
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
