import { filamentOf, labOf, type Context } from '#core/context';
import type { RiskOf } from './crossings';

/** Drawn back by less than this share of what the pair draws back, filament hangs loose. */
export const LOOSE = 0.5;
/** A way so long gives what is drawn back the time to run out, mm, where the nozzle is hot. */
export const LONG = 20;
/** Hot is above this share of the filament’s range of temperature. */
export const HOT = 2 / 3;
/** So much darker (CIE L*) leaves a streak on a lighter wall. */
export const DARKER = 20;

/**
 * What a way across outer walls may leave there, by the pair’s filaments.
 *
 * @param retraction what the pair draws back, mm
 */
export function wayRisk(context: Context, retraction: number): RiskOf {
  const lightness = new Map<number, number | undefined>();
  const lightOf = (tool: number) => {
    if (!lightness.has(tool)) lightness.set(tool, labOf(filamentOf(context, tool).colour)?.[0]);
    return lightness.get(tool);
  };
  return ({ back, tool, nozzle, length }, wallTools) => {
    const own = lightOf(tool);
    const darker = (wall: number) => {
      const light = lightOf(wall);
      return wall !== tool && own !== undefined && light !== undefined && light - own >= DARKER;
    };
    if (wallTools.some(darker)) return 'streak';
    if (back < LOOSE * retraction) return 'loose';
    const { min, max } = filamentOf(context, tool).temperature;
    return length >= LONG && nozzle > min + HOT * (max - min) ? 'hot' : undefined;
  };
}
