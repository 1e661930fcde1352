import type { Context } from '#core/context';
import { drawTraits, hiddenBehind } from '#core/lab';
import { valueInForce, type PairValues } from '#core/route';
import type { Settings } from '#core/settings';
import { holds } from './coverage';
import { DAY, walked, walkEvenly, walkRoute, type Spent, type Walk } from './walk';
import { Judge, type Sheet } from './worth';

/** What came of one hidden pair. Worths are 0–4; regrets are points of them below the best attainable. */
export interface PairWalked {
  seed: number;
  best: number;
  start: number;
  settled: number;
  evenly: number;
  spent: Spent;
  spentEvenly: Spent;
  stops: {
    stop: string;
    value: number | undefined;
    evenly: number | undefined;
    best: number;
    held: boolean | undefined;
    confirmed: string | undefined;
    none: boolean;
    /** Worth of this stop’s piece: settled, evenly, best. */
    worth: [number, number, number];
  }[];
}

const sum = (all: readonly Spent[]): Spent =>
  all.reduce((a, b) => ({ prints: a.prints + b.prints, time: a.time + b.time, mass: a.mass + b.mass }));

/** Walks a hidden pair both ways and holds both sheets against the best that can be found. */
export function walkPair(context: Context, baseline: Settings, seed: number): PairWalked {
  const traits = drawTraits(context, seed, DAY);
  const start: PairValues = { baseline, values: [] };
  const ours = walkRoute(context, start, traits, seed);
  const even = walkEvenly(
    context,
    start,
    traits,
    seed + 1,
    ours.stops.map((s) => s.spent),
  );
  const sheetOf = ({ pair }: Pick<Walk, 'pair'>): Sheet =>
    Object.fromEntries(walked.map(({ factor }) => [factor, valueInForce(pair, context, factor) ?? 0]));
  const [first, settled, evenly] = [sheetOf({ pair: start }), sheetOf(ours), sheetOf(even)];
  const judge = new Judge(context, baseline, traits);
  // What is hidden is where the best is looked for, too.
  const told = walked.map(({ factor }) => {
    const hidden = hiddenBehind(factor, traits, context, settled['nozzle-temperature']!);
    return [factor, hidden?.best ?? (hidden ? (hidden.from! + hidden.to!) / 2 : settled[factor]!)] as const;
  });
  const best = judge.best([settled, evenly, first, { ...settled, ...Object.fromEntries(told) }]);
  const [worthSettled, worthEvenly] = [judge.worth(settled), judge.worth(evenly)];
  return {
    seed,
    best: best.worth.all,
    start: judge.worth(first).all,
    settled: worthSettled.all,
    evenly: worthEvenly.all,
    spent: sum(ours.stops.map((s) => s.spent)),
    spentEvenly: sum(even.stops.map((s) => s.spent)),
    stops: ours.stops.map((s, i) => ({
      stop: s.stop,
      value: settled[s.factor],
      evenly: evenly[s.factor],
      best: best.sheet[s.factor]!,
      held: s.choice && s.trials.length > 0 ? holds(s.trials, s.choice, traits) : undefined,
      confirmed: s.confirmed,
      none: !s.choice,
      worth: [worthSettled, worthEvenly, best.worth].map((w) => w.of[walked[i]!.stop] ?? 0) as [number, number, number],
    })),
  };
}
