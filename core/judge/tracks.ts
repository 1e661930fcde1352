import { variedIn } from '#core/plan';
import { factorOf } from '#core/factors';
import { specimenOf } from '#core/specimens';
import type { Trial } from '#core/trial';
import { qualities } from './catalogue';
import { measureOf, type Measure } from './measures';
import type { Quality } from './quality';

/** The qualities to judge on a trial: what its factors change and its specimen shows, in the order of the factors. */
export function judgedOn(trial: Trial): Quality[] {
  const wanted = [...new Set(variedIn(trial.axes).flatMap((id) => factorOf(id)?.qualities ?? []))];
  const shown = specimenOf(trial.specimen.id)?.judges;
  const both = wanted.filter((id) => shown?.includes(id) ?? true);
  const ids = both.length > 0 ? both : (shown ?? wanted);
  return ids.flatMap((id) => qualities.find((q) => q.id === id) ?? []);
}

/** The quantities to measure on a trial's specimen. */
export const measuredOn = (trial: Trial): Measure[] =>
  (specimenOf(trial.specimen.id)?.measures ?? []).flatMap((id) => measureOf(id) ?? []);
