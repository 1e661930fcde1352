import type { Printer } from '#core/context';
import type { Factor } from './factor';

/** What the firmware knows of the extruder: found by the feed check, kept in the printer, never swept. */
function feed(
  id: string,
  label: string,
  unit: string,
  settable: number,
  kept: (extruder: Printer['extruder']) => number | undefined,
): Factor {
  const why = 'it is a property of the extruder, found by the feed check';
  return {
    id,
    label,
    unit,
    shown: 1,
    settable,
    layouts: [],
    refusals: { height: why, row: why, tile: why, print: why },
    qualities: [],
    tolerance: () => 0,
    limits: () => ({ min: 0, max: 10_000 }),
    start: () => [],
    usual: ({ printer }) => {
      const now = kept(printer.extruder);
      return now === undefined ? { min: 0, max: 10_000 } : { min: 0.9 * now, max: 1.1 * now };
    },
    kept: ({ extruder }) => kept(extruder),
    sets: () => ({}),
  };
}

/** How far the motor turns for a millimetre of filament, steps/mm. */
export const extruderSteps = feed('extruder-steps', 'extruder steps', 'steps/mm', 0.01, (e) => e.stepsPerMm);
/** How much filament a turn of the motor feeds, mm. */
export const rotationDistance = feed('rotation-distance', 'rotation distance', 'mm', 0.001, (e) => e.rotationDistance);
/** How much more the extruder is to feed than it does: for a printer whose steps are not known here. */
export const feedCorrection = feed('feed-correction', 'extruder feed', '×', 0.0001, () => 1);
