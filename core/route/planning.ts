import { checkedTrial, type Trial } from '#core/trial';
import type { TrialRecord } from './record';

/** The plan of a record as it stands on the sheet: what was typed last, sound or not. */
export const planOf = ({ draft, trial }: Pick<TrialRecord, 'draft' | 'trial'>): Trial =>
  (draft as Trial | undefined) ?? trial;

/** A record with another plan: kept as such where it can be made, else as a draft beside the last good one. */
export function withPlan(record: TrialRecord, plan: Trial): TrialRecord {
  const { draft: _, ...rest } = record;
  return checkedTrial(plan).ok ? { ...rest, trial: plan } : { ...rest, draft: plan };
}
