import type { Corner, Printer } from '#core/context';

/** What bounds the motion: speeds mm/s, accelerations mm/s². */
export interface MotionLimits {
  speed: number;
  zSpeed: number;
  acceleration: number;
  zAcceleration: number;
  extruderSpeed: number;
  extruderAcceleration: number;
  corner: Corner;
}

/** The limits of a printer's firmware. */
export const limitsOf = (printer: Printer): MotionLimits => ({
  speed: printer.maximum.speed,
  zSpeed: printer.maximum.zSpeed,
  acceleration: printer.maximum.acceleration,
  zAcceleration: printer.maximum.zAcceleration,
  extruderSpeed: printer.extruder.maximumSpeed,
  extruderAcceleration: printer.extruder.acceleration,
  corner: printer.corner,
});
