import type { Declared, Firmware } from '#core/firmware';
import type { Role } from '#core/moves';

/** Where a level holds: heights in mm, and the box of an object where objects are told apart (bed, mm). */
export interface Band {
  cell: number;
  level: number;
  z: [number, number];
  box?: [number, number, number, number];
}

export interface FileSweep {
  factor: string;
  bands: readonly Band[];
}

export interface CarryContext {
  firmware: Firmware;
  macros?: readonly Declared[];
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

/** Speeds are written into the lines of these roles. */
export const speeds: Record<string, Role[]> = {
  'outer-wall-speed': ['outer-wall'],
  'inner-wall-speed': ['inner-wall'],
  'infill-speed': ['infill'],
  'skin-speed': ['top-skin', 'bottom-skin'],
};
