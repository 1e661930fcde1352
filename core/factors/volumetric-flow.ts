import { roleNumber } from '#core/moves';
import { lineArea, type Settings } from '#core/settings';
import type { Factor } from './factor';

/** Cross-section of an outer wall's line with its flow, mm². */
const sectionOf = (s: Settings): number => lineArea(s.lineWidth, s.layerHeight, s.lineVolume) * s.flow;

/**
 * Volumetric flow of the outer wall: the speed follows from the line's cross-section. A level of 12 mm³/s through a
 * line of 0.45 × 0.2 mm (0.081 mm²) is 147 mm/s.
 */
export const volumetricFlow: Factor = {
  id: 'volumetric-flow',
  label: 'volumetric flow',
  unit: 'mm³/s',
  shown: 1,
  setting: 'outerWallSpeed',
  settable: 0.1,
  layouts: ['height', 'tile', 'row', 'print'],
  refusals: {},
  lifts: ['flow-cap', 'layer-time'],
  // Gloss changes with the speed of any ramp, and is even again at each single speed: it tells no limit.
  qualities: ['wall-fullness', 'layer-strength'],
  tolerance: (level) => 0.05 * level,
  rounding: 0.05,
  // What no printer here reaches: the room of the trial goes beyond what the melt zone is said to bear.
  limits: ({ printer }) => ({ min: 0.5, max: printer.extruder.meltZone === 'high-flow' ? 45 : 30 }),
  start(context) {
    const rigid = context.printer.extruder.meltZone === 'high-flow' ? 35 : 20;
    // A soft filament gives way in the drive before the hotend is at its end.
    const high = context.filament.material === 'TPU' ? rigid / 2 : rigid;
    const step = high / 10;
    return Array.from({ length: 9 }, (_, i) => Math.round((i + 2) * step * 10) / 10);
  },
  kept: ({ extruder }) => extruder.maximumFlow,
  sets: (level, s) => ({ outerWallSpeed: level / sectionOf(s) }),
  observe({ moves }, i) {
    const flat = moves.role[i] === roleNumber['outer-wall'] && moves.e[i]! > 0 && moves.z[i]! > moves.height[i]! + 1e-3;
    if (!flat) return null;
    // The writer's own width and height are read back from the file's comments.
    const area = lineArea(moves.width[i]!, moves.height[i]!, 'rounded');
    return { value: Math.round(area * moves.speed[i]! * 100) / 100, weight: moves.e[i]! };
  },
  reached: ({ speed, asked }, seen) => (asked > 0 ? (seen * speed) / asked : seen),
};
