import { fault, fromUtf8, refuse, type Result } from '#core/base';
import { checkedTrial, trialInHeader, type Trial } from '#core/trial';

/** So much of a file is read at most: a trial stands in its first lines. */
export const MOST_READ = 2 << 20;

/** The trial of a trial file (JSON), or the one that a G-code file of ours carries in its first lines. */
export function readTrialFile(name: string, bytes: Uint8Array): Result<Trial> {
  const wrong = (what: string) =>
    refuse(fault('data.trial', name, what, 'choose a trial file, or G-code made by Steady Tune'));
  let value: unknown;
  if (/\.json$/i.test(name)) {
    try {
      value = JSON.parse(fromUtf8(bytes));
    } catch {
      return wrong('this is not JSON');
    }
  } else {
    const carried = trialInHeader(bytes);
    if (!carried.ok) return wrong(carried.faults[0]!.wrong);
    value = carried.value;
  }
  const plan = checkedTrial(value);
  return plan.ok ? { ok: true, value: plan.value.trial } : plan;
}
