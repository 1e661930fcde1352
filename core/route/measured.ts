import { measuredOn, type Measure } from '#core/judge';
import type { TrialRecord } from './record';

/** What is measured on a trial: quantities of the catalogue, and the user's own. */
export const measuresOf = ({ trial, measures }: Pick<TrialRecord, 'trial' | 'measures'>): Measure[] => [
  ...measuredOn(trial),
  ...(measures ?? []).map((m): Measure => ({ ...m, how: m.error > 0 ? `± ${m.error} ${m.unit}` : '' })),
];
