import { show } from '#core/base';
import { catalogue, settingOf, type SettingId } from '#core/settings';
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
