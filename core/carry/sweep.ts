import type { Printer } from '#core/context';
import type { Declared, Firmware } from '#core/firmware';

/** Where a level holds: heights in mm, and the box of an object where objects are told apart (bed, mm). */
export interface Band {
  cell: number;
  level: number;
  z: [number, number];
  box?: [number, number, number, number];
}

/** What is carried into a file: a factor, and where each level holds. */
export interface FileSweep {
  factor: string;
  bands: readonly Band[];
  /** How far each tool keeps from the first in temperature, °C; left out, not at all. */
  apart?: (tool: number) => number;
}

/** What carrying has to know of a pair. */
export interface CarryContext {
  firmware: Firmware;
  macros?: readonly Declared[];
  /** How the printer limits speed in corners. */
  corner: Printer['corner'];
  /** How the firmware draws back until the file says it, mm and mm/s. */
  drawing?: { length: number; speed: number } | undefined;
  /** Filament, mm. */
  diameter: number;
  /** What holds where the file says nothing of it. */
  baseline: {
    flow: number;
    pressureAdvance: number;
    acceleration: number;
    retractionDistance: number;
    retractionSpeed: number;
  };
}
