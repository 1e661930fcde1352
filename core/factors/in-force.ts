import type { Context, Printer } from '#core/context';
import type { Settings } from '#core/settings';
import type { Factor } from './factor';

/** The level of a factor that is in force; undefined where neither settings nor printer say it. */
export function levelInForce(factor: Factor, settings: Settings, printer: Printer): number | undefined {
  if (factor.kept) return factor.kept(printer);
  if (factor.typed) return factor.typed.held(settings);
  if (factor.choices) {
    const named = factor.choices.findIndex((_, level) => isHeld(factor, level, settings));
    return named < 0 ? undefined : named;
  }
  const value = factor.setting && !factor.sets ? settings[factor.setting] : undefined;
  return typeof value === 'number' ? value : undefined;
}

/** The settings that a level of a factor changes, given those beneath. */
export const settingsAt = (factor: Factor, level: number, settings: Settings): Partial<Settings> =>
  factor.sets?.(level, settings) ?? {
    ...(factor.setting && { [factor.setting]: factor.choices ? (factor.choices[level] ?? '') : level }),
  };

/** Whether a named level is what the settings have. */
function isHeld(factor: Factor, level: number, settings: Settings): boolean {
  const own = Object.entries(settingsAt(factor, level, settings));
  return own.length > 0 && own.every(([id, value]) => settings[id as keyof Settings] === value);
}

/** Of the usual range, a move by less than this share changes nothing that rests on it. */
const MATTERS = 1 / 20;

/**
 * By how much a factor must move before what was found at its old value is in doubt, in its own unit: a twentieth of the
 * usual range, never less than can be set. A name is another name.
 */
export function mattersOf(factor: Factor, context: Context): number {
  if (factor.choices) return 0.5;
  const { min, max } = (factor.usual ?? factor.limits)(context);
  return Math.max(factor.settable, (max - min) * MATTERS);
}
