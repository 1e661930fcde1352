import { show } from '#core/base';
import { catalogue, settingOf, type SettingId } from '#core/settings';
import { kinds, recipeOf } from './kinds';
import type { Trial } from './schema';

/** The settings held by a trial alone, in words, with the value of the pair to which each returns. */
export const testOnlyWords = ({ baseline, frozen }: Pick<Trial, 'baseline' | 'frozen'>): string[] =>
  (Object.keys(frozen) as SettingId[])
    .filter((id) => frozen[id] !== undefined && frozen[id] !== baseline[id])
    .map((id) => `${catalogue[id].label} ${settingWords(id, frozen[id]!)} (else ${settingWords(id, baseline[id])})`);

/** The value of a setting in words, as it is shown. */
export function settingWords(id: SettingId, value: number | string): string {
  const { unit, shown = 1 } = settingOf(id);
  return typeof value === 'number' ? `${show(value * shown)} ${unit}`.trim() : value;
}

/**
 * What a person holds in a trial beside what its kind holds for the test alone (a solid inside, no brim, a weak fan): only
 * that may become the pair’s. A value is the test’s own where any kind on that specimen holds the very same.
 */
export function personal({
  context,
  baseline,
  frozen,
  specimen,
}: Pick<Trial, 'context' | 'baseline' | 'frozen' | 'specimen'>): Trial['frozen'] {
  const tests = kinds.filter((k) => k.specimen === specimen.id).map((k) => recipeOf(k, context, baseline).frozen ?? {});
  return Object.fromEntries(
    (Object.entries(frozen) as [SettingId, Trial['frozen'][SettingId]][]).filter(
      ([id, value]) => value !== undefined && value !== baseline[id] && !tests.some((t) => t[id] === value),
    ),
  );
}
