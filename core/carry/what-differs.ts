import { show } from '#core/base';
import { settingOf, type SettingId } from '#core/settings';
import type { LearntValue } from './learn';

/** A setting that differs between files, with what each of them shows of it, in words. */
export interface FileDifference {
  setting: SettingId;
  label: string;
  unit: string;
  values: string[];
  /** Whether every file shows its value plainly. */
  sure: boolean;
}

/** Values of a setting that differ by less than this share of the larger are read off the same one. */
const SAME = 0.02;

/**
 * The settings in which files differ, as far as their lines show it. What one of them only hints at counts for nothing:
 * a difference is named where at least two files show the setting, and none of them as a mere guess.
 *
 * @param learnt what was learnt of each file
 */
export function whatDiffers(learnt: readonly (readonly LearntValue[])[]): FileDifference[] {
  const each = learnt.map((values) => new Map(values.map((v) => [v.setting, v])));
  const ids = [...new Set(each.flatMap((v) => [...v.keys()]))];
  return ids.flatMap((setting): FileDifference[] => {
    const own = each.flatMap((v) => v.get(setting) ?? []);
    if (own.length < 2 || own.some((v) => v.sure === 'guess') || alike(own.map((v) => v.value))) return [];
    const { label, unit, shown = 1 } = settingOf(setting);
    const values = each.map((v) => {
      const value = v.get(setting)?.value;
      return value === undefined ? 'not seen' : typeof value === 'number' ? show(value * shown, 3) : value;
    });
    return [{ setting, label, unit, values, sure: own.every((v) => v.sure === 'sure') }];
  });
}

function alike(values: readonly (number | string)[]): boolean {
  if (values.some((v) => typeof v === 'string')) return new Set(values).size === 1;
  const [low, high] = [Math.min(...(values as number[])), Math.max(...(values as number[]))];
  return high - low <= SAME * Math.max(Math.abs(low), Math.abs(high));
}
