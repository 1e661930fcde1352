import type { Inspection } from '#core/inspect';
import { conditionDifferences, settleWhole, type LevelCost, type WholeSettled } from '#core/settle';
import { planned } from '#core/trial';
import type { Beside } from './confirming';
import { measuresOf } from './measured';
import { pairingOf } from './pairing';
import type { TrialRecord } from './record';

/** What a trial is settled by, of all that is kept of it. */
type Kept = Pick<TrialRecord, 'trial' | 'prints' | 'readings' | 'rule' | 'weights' | 'pairs' | 'measures' | 'enough'>;

/** A trial that is to be settled, with what is known of it beside its record. */
export interface Settling extends Kept {
  /** What else was read for this answer. */
  earlier: readonly Beside[];
  /** What reading its file back showed; none of a trial by print, whose file holds some of its cells only. */
  inspection: Inspection | undefined;
  /** What each level costs. */
  costs: readonly LevelCost[];
}

/** What a trial is settled by, and no more of its record. */
export const keptOf = ({ trial, prints, readings, rule, weights, pairs, measures, enough }: TrialRecord): Kept => ({
  trial,
  prints,
  readings,
  rule,
  weights,
  pairs,
  measures,
  enough,
});

/** The prints of a trial that are read. */
export function readPrints({ prints, readings }: Pick<Kept, 'prints' | 'readings'>): TrialRecord['prints'] {
  const used = new Set(readings.map((r) => r.print));
  return prints.filter((p) => used.has(p.id));
}

/** What all that was read of a trial comes to; undefined before it is printed, and where it cannot be planned. */
export function settledOf({ earlier, inspection, costs, ...kept }: Settling): WholeSettled | undefined {
  const plan = planned(kept.trial);
  if (!plan.ok || kept.prints.length === 0) return undefined;
  const read = readPrints(kept);
  return settleWhole(plan.value, kept.readings, {
    rule: kept.rule,
    weights: kept.weights,
    inspection,
    // Of the newest print that is read.
    heated: read.at(-1)?.heated,
    costs,
    differed: conditionDifferences(read),
    earlier,
    preferred: kept.pairs?.length ? pairingOf(plan.value, kept.pairs).order() : undefined,
    quantities: measuresOf(kept),
    enough: kept.enough ?? {},
  });
}
