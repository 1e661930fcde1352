import type { Corner, Printer } from '#core/context';

/** What bounds the motion: speeds mm/s, accelerations mm/s². */
export interface MotionLimits {
  speed: number;
  zSpeed: number;
  acceleration: number;
  /** What holds where a file has said no acceleration yet. */
  unsaid?: number | undefined;
  zAcceleration: number;
  extruderSpeed: number;
  extruderAcceleration: number;
  corner: Corner;
}

/**
 * The limits of a printer’s firmware.
 *
 * @param unsaid the acceleration that it goes by until a file says one, mm/s²; left out, its highest
 */
export const limitsOf = (printer: Printer, unsaid?: number): MotionLimits => ({
  unsaid,
  speed: printer.maximum.speed,
  zSpeed: printer.maximum.zSpeed,
  acceleration: printer.maximum.acceleration,
  zAcceleration: printer.maximum.zAcceleration,
  extruderSpeed: printer.extruder.maximumSpeed,
  extruderAcceleration: printer.extruder.acceleration,
  corner: printer.corner,
});
