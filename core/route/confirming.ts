import type { Moved } from '#core/trial';
import type { TrialRecord } from './record';
import { newest, type Tuned } from './tune-sheet';

/** What a confirmation holds against one another: one setting, or two that move together. */
export const movedIn = ({ factor, old, new: now, also }: NonNullable<TrialRecord['confirms']>): Moved[] => [
  { factor, old, new: now },
  ...(also ? [also] : []),
];

/** The values with the newest one of a factor confirmed: steady, with what the confirmation showed. */
export function steadied(values: readonly Tuned[], factor: string, why: string): Tuned[] {
  const now = newest(values).find((v) => v.factor === factor);
  return values.map((v) =>
    v === now ? { ...v, state: 'steady', shakenBy: undefined, why: `${v.why}; confirmed: ${why}`.slice(0, 600) } : v,
  );
}

/** The old value of a factor, to be in force again since the confirmation spoke for it; nothing where none stands. */
export function reverted(
  values: readonly Tuned[],
  factor: string,
  old: number,
  why: string,
  on: string,
): Tuned | undefined {
  const now = newest(values).find((v) => v.factor === factor);
  if (!now) return undefined;
  const before = values.findLast((v) => v.factor === factor && v !== now && Math.abs(v.value - old) < 1e-9);
  const { shakenBy: _, shakenFor: __, ...rest } = before ?? now;
  return {
    ...rest,
    value: old,
    low: before?.low ?? old,
    high: before?.high ?? old,
    interval95: before?.interval95 ?? [old, old],
    rule: 'confirmation',
    why: `put back by the confirmation: ${why}`.slice(0, 600),
    on,
    state: 'settled',
  };
}
