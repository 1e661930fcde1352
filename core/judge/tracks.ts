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
  const specimen = specimenOf(trial.specimen.id);
  const wanted = new Set<string>();
  const both = new Set<string>();
  // Of each factor what the specimen tells of it: of two that vary together one may show more.
  for (const factor of variedIn(trial.axes)) {
    const shown = specimen?.judgesOnly?.[factor] ?? specimen?.judges;
    for (const id of factorOf(factor)?.qualities ?? []) {
      wanted.add(id);
      if (shown?.includes(id) ?? true) both.add(id);
    }
  }
  const ids = [...(both.size > 0 ? both : (specimen?.judges ?? wanted))];
  const said = new Set(readings.map((r) => r.track));
  return [...ids, ...[...said].filter((id) => !ids.includes(id))].flatMap(
    (id) => qualities.find((q) => q.id === id) ?? [],
  );
}

/** The quantities to measure on a trial's specimen. */
export const measuredOn = (trial: Trial): Measure[] =>
  (specimenOf(trial.specimen.id)?.measures ?? []).flatMap((id) => measureOf(id) ?? []);
