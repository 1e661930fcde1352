import { rounded } from '#core/base';
import { dialects, lineFor, untold, type Action, type Firmware } from '#core/firmware';
import { newest, type Tuned } from './tune-sheet';

/** What puts a value in force in the firmware, where anything does. */
const actions: Record<string, (value: number) => Action> = {
  'extruder-steps': (v) => ({ kind: 'steps', axes: { e: v } }),
  'pressure-advance': (v) => ({ kind: 'advance', value: v, tool: 0 }),
  acceleration: (v) => ({ kind: 'acceleration', print: v }),
  'corner-speed': (v) => ({ kind: 'limit', of: 'corner', axes: { x: v, y: v } }),
  'junction-deviation': (v) => ({ kind: 'limit', of: 'junction-deviation', axes: { x: v } }),
  'z-offset': (v) => ({ kind: 'offset', name: '', axes: { z: v }, adds: true }),
};

/** The firmware commands that put those values in force which live in the firmware. */
export function firmwareLines(values: readonly Tuned[], firmware: Firmware): string[] {
  return newest(values).flatMap(({ factor, value }) => {
    const v = rounded(value, 5);
    const { label } = dialects[firmware];
    if (factor === 'rotation-distance')
      return firmware === 'klipper'
        ? [`; in the configuration file, under [extruder]: rotation_distance: ${v}`]
        : [`; ${label} keeps steps/mm instead of a rotation distance of ${v} mm`];
    const action = actions[factor]?.(v);
    if (!action) return [];
    const line = lineFor(action, untold(firmware));
    if (line === undefined) return [`; ${label} keeps a rotation distance instead of ${v} steps/mm`];
    return [factor === 'z-offset' ? `${line} ; shifts the nozzle now; store it with the probe offset` : line];
  });
}
