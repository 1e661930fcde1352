import { fault, fromUtf8, refuse, type Result } from '#core/base';
import { checkedTrial, carriedTrial, type Trial } from '#core/trial';

/** So much of each end of a file is read at most. */
const MOST_READ = 2 << 20;

/** What of a chosen file is read: G-code carries its trial in its last lines, older files in their first. */
export async function endsOf(file: Blob): Promise<Uint8Array> {
  const parts = file.size <= 2 * MOST_READ ? [file] : [file.slice(0, MOST_READ), '\n', file.slice(-MOST_READ)];
  return new Uint8Array(await new Blob(parts).arrayBuffer());
}

/** The trial of a trial file (JSON), or the one that a G-code file of ours carries. */
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
    const carried = carriedTrial(bytes);
    if (!carried.ok) return wrong(carried.faults[0]!.wrong);
    value = carried.value;
  }
  const plan = checkedTrial(value);
  return plan.ok ? { ok: true, value: plan.value.trial } : plan;
}
