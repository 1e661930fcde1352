import { dayOf } from '#core/base';
import type { TrialRecord } from './record';
import { freeStop, isOnRoute, stopOf } from './stops';
import { newest, type Tuned } from './tune-sheet';

/**
 * The trial of a pair to go on with: the newest that is not settled. What was set aside, or planned and never printed before
 * its stop was settled some other way, stays behind.
 *
 * @param records those of the pair, the newest last
 */
export function inHand(records: readonly TrialRecord[], values: readonly Tuned[]): TrialRecord | undefined {
  return records.findLast((r) => {
    if (r.settledOn !== undefined || r.aside || r.stop === freeStop || !isOnRoute(r)) return false;
    const factors = stopOf(r.stop)?.factors ?? [];
    const since = newest(values).some(
      (v) => factors.includes(v.factor) && v.state !== 'shaken' && v.on >= dayOf(r.created),
    );
    return r.prints.length > 0 || !since;
  });
}
