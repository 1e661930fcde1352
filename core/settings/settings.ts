import * as z from 'zod';
import type { Context } from '#core/context';
import { catalogue } from './catalogue';
import type { Setting } from './setting';

/** The id of a process setting. */
export type SettingId = keyof typeof catalogue;

/** A value for every setting. */
export type Settings = { -readonly [K in SettingId]: (typeof catalogue)[K] extends Setting<infer T> ? T : never };

/** Every setting, in the order in which they are shown. */
export const settingIds = Object.keys(catalogue) as SettingId[];

/** The catalogue with one common type, for code that treats all settings alike. */
export const settingOf = (id: SettingId): Setting<number | string> =>
  catalogue[id] as unknown as Setting<number | string>;

/** The schema of a complete set of settings; what an older document does not know yet takes its neutral value. */
export const settingsSchema = z.strictObject(
  Object.fromEntries(
    settingIds.map((id) => {
      const { schema, neutral } = settingOf(id);
      return [id, neutral === undefined ? schema : (schema as z.ZodType).default(neutral)];
    }),
  ),
) as unknown as z.ZodType<Settings>;

/** The schema of some settings. */
export const someSettingsSchema = z.strictObject(
  Object.fromEntries(settingIds.map((id) => [id, (catalogue[id].schema as z.ZodType).optional()])),
) as unknown as z.ZodType<Partial<Settings>>;

/** Starting values for a printer with a filament. */
export const startingSettings = (context: Context): Settings =>
  Object.fromEntries(settingIds.map((id) => [id, catalogue[id].start(context)])) as unknown as Settings;

/** The one resolution rule: baseline ← frozen settings of the trial ← levels of the cell. */
export const resolved = (baseline: Settings, frozen: Partial<Settings>, levels: Partial<Settings>): Settings => ({
  ...baseline,
  ...frozen,
  ...levels,
});
