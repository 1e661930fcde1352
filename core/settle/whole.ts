import { counted, type Reading } from '#core/judge';
import type { Planned } from '#core/trial';
import { heightsOf, settleHeights } from './heights';
import { settleMeasured } from './measured';
import { settleQuantity, type Quantity, type QuantityAnswer } from './quantities';
import { settle, usualRule } from './settle';
import type { Choice, Settled, SettleOptions } from './settled';

/** What settling goes by where quantities count too. */
export interface WholeOptions extends SettleOptions {
  /** What can be measured on this trial. */
  quantities?: readonly Quantity[];
  /** Of a quantity, how much is enough, in the unit that is shown. */
  enough?: Readonly<Record<string, number>>;
}

/** What all that was judged and measured of a trial comes to. */
export interface WholeSettled extends Settled {
  /** The sums behind measured values, in words. */
  words: string[];
  /** What quantities say of the levels. */
  quantities: QuantityAnswer[];
}

/** What a limit keeps free, as a share: by its rule, else as is usual for the trial. */
const marginOf = (plan: Planned, rule = usualRule(plan.trial)): number =>
  Number(/^less-(\d+)$/.exec(rule)?.[1] ?? 5) / 100;

/** Flags that stay, however a value was found. */
const grave = new Set(['void', 'confounded']);

/**
 * Everything that was read of a trial → its value, or the plain reason why there is none. A height by caliper decides
 * alone; sums follow from what was measured of a plain specimen; scores choose among levels; where nothing is scored,
 * quantities do.
 */
export function settleWhole(plan: Planned, readings: readonly Reading[], options: WholeOptions = {}): WholeSettled {
  const judged = settle(plan, readings, options);
  const measured = settleMeasured(plan, readings);
  const quantities = (options.quantities ?? [])
    .map((q) => settleQuantity(plan, readings, q, options.costs ?? [], options.enough?.[q.id]))
    .filter((a) => a.levels.length > 0);
  const whole = { ...judged, words: measured.words, quantities };
  const instead = (choices: Choice[], flags = judged.flags.filter((f) => grave.has(f.code))): WholeSettled => ({
    ...whole,
    choices,
    flags,
    next: null,
    nextWhy: '',
  });
  if (plan.trial.axes.length === 0) return instead(measured.choices, []);
  const byHeight = settleHeights(plan, readings, marginOf(plan, options.rule));
  if (byHeight) return { ...instead([byHeight]), response: judged.response, scores: judged.scores };
  // Measured, and no value below it: that is an answer too.
  if (counted(readings).some((r) => r.track === 'height-fails') && heightsOf(plan))
    return instead(
      [],
      [
        ...judged.flags.filter((f) => grave.has(f.code)),
        {
          code: 'at-the-edge',
          message: 'it fails from the lowest band on: plan a sweep that begins better',
          cells: [],
        },
      ],
    );
  const scored = judged.scores.some((s) => s.together !== undefined);
  // What is asked for decides before what tells more.
  const telling = quantities.filter((a) => a.choices.length > 0 || a.flags.length > 0);
  const own = telling.find((a) => options.enough?.[a.quantity.id] !== undefined) ?? telling[0];
  if (own && (!scored || options.rule === 'measured'))
    return instead(own.choices, [...judged.flags.filter((f) => grave.has(f.code)), ...own.flags]);
  return whole;
}
