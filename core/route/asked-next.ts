import { show } from '#core/base';
import { hottest, type Context } from '#core/context';
import { factorOf, levelWords } from '#core/factors';
import { FAULT_AT, type Choice, type Settled } from '#core/settle';
import { specimenOf } from '#core/specimens';
import { kindOf, type Trial } from '#core/trial';
import type { TrialRecord } from './record';
import { newest, type Tuned } from './tune-sheet';

/** A trial of another stop that an answer asks for, with the reason. */
export interface AskedNext {
  kind: string;
  stop: string;
  /** The trial that it goes on from, whose readings count with its own. */
  after: string | undefined;
  why: string;
}

const KIND = 'temperature-at-limit';

/**
 * What a settled flow limit asks of the temperature: layers that do not hold at the limit hold on a hotter nozzle, and a
 * tower, which is printed at a moderate speed, does not show it. Nothing where they hold, where it cannot be hotter, and
 * where the temperature in force was found at the limit already.
 *
 * @param trialOf a trial of the pair by the id of its record
 */
export function askedNext(
  trial: Trial,
  { choices, byQuality }: Pick<Settled, 'choices' | 'byQuality'>,
  context: Context,
  values: readonly Tuned[],
  trialOf: (id: string) => Trial | undefined,
): AskedNext | undefined {
  const choice = choices.find((c) => c.factor === 'volumetric-flow');
  const [temperature, kind] = [factorOf('nozzle-temperature')!, kindOf(KIND)!];
  const now = trial.frozen.nozzleTemperature ?? trial.baseline.nozzleTemperature;
  if (!choice || trial.specimen.id !== kind.specimen || now + temperature.settable > hottest(context).value)
    return undefined;
  const holds = strengthAt(choice, byQuality);
  if (holds === undefined || holds >= FAULT_AT) return undefined;
  const found = newest(values).find((v) => v.factor === temperature.id);
  const by = found && trialOf(found.trial)?.specimen.id;
  if (by === kind.specimen) return undefined;
  const limit = levelWords(factorOf(choice.factor)!, choice.choice);
  return {
    kind: KIND,
    stop: kind.stop,
    after: by === undefined ? undefined : found!.trial,
    why: `Layers score ${show(holds, 1)} of 4 in strength at ${limit} and ${levelWords(temperature, now)}: they may hold on a hotter nozzle. ${by === undefined ? 'A tower does not show it: it is printed at a moderate speed.' : `What was read on the ${specimenOf(by)!.label.toLowerCase()} counts with it.`}`,
  };
}

/** The record of such a trial that is begun already, and not settled yet. */
export const nextBegun = (
  { kind, stop }: Pick<AskedNext, 'kind' | 'stop'>,
  records: readonly TrialRecord[],
): TrialRecord | undefined =>
  records.findLast(
    (r) =>
      r.stop === stop &&
      r.settledOn === undefined &&
      !r.aside &&
      r.confirms === undefined &&
      r.trial.specimen.id === kindOf(kind)?.specimen,
  );

/** The strength of layers at a choice, 0–4; undefined where it was not read. */
function strengthAt({ choice }: Choice, byQuality: Settled['byQuality']): number | undefined {
  const curve = byQuality['layer-strength'];
  if (!curve || curve.level.length === 0) return undefined;
  const nearest = curve.level.reduce(
    (best, level, i) => (Math.abs(level - choice) < Math.abs(curve.level[best]! - choice) ? i : best),
    0,
  );
  return curve.mean[nearest];
}
