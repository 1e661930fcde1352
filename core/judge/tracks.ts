import { variedIn } from '#core/plan';
import { factorOf } from '#core/factors';
import { specimenOf } from '#core/specimens';
import type { Trial } from '#core/trial';
import { qualities } from './catalogue';
import { measureOf, type Measure } from './measures';
import type { Quality } from './quality';
import type { Reading } from './readings';

/**
 * The qualities to judge on a trial: what its factors change and its specimen shows, in the order of the factors.
 *
 * @param readings what was said already: what counts is seen, though it would not be asked for
 */
export function judgedOn(trial: Trial, readings: readonly Pick<Reading, 'track'>[] = []): Quality[] {
  const wanted = [...new Set(variedIn(trial.axes).flatMap((id) => factorOf(id)?.qualities ?? []))];
  const specimen = specimenOf(trial.specimen.id);
  const only = trial.axes.map((a) => specimen?.judgesOnly?.[a.factor]).find((own) => own !== undefined);
  const shown = only ?? specimen?.judges;
  const both = wanted.filter((id) => shown?.includes(id) ?? true);
  const ids = both.length > 0 ? both : (shown ?? wanted);
  const said = new Set(readings.map((r) => r.track));
  return [...ids, ...[...said].filter((id) => !ids.includes(id))].flatMap(
    (id) => qualities.find((q) => q.id === id) ?? [],
  );
}

/** The quantities to measure on a trial's specimen. */
export const measuredOn = (trial: Trial): Measure[] =>
  (specimenOf(trial.specimen.id)?.measures ?? []).flatMap((id) => measureOf(id) ?? []);
