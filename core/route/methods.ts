import { specimenOf } from '#core/specimens';
import type { TrialRecord } from './record';

/**
 * The name of the method by which a trial found a value, by the id of its record: its specimen. None of a trial that
 * another goes on from: what was read of it is part of that one's answer.
 *
 * @param records those of the pair
 */
export const methodsIn =
  (records: readonly TrialRecord[]): ((trial: string) => string | undefined) =>
  (trial) => {
    if (records.some((r) => r.after === trial && r.readings.length > 0)) return undefined;
    return specimenOf(records.find((r) => r.id === trial)?.trial.specimen.id ?? '')?.label;
  };
