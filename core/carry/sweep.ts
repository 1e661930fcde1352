import type { Firmware } from '#core/firmware';
import type { Role } from '#core/moves';
import type { StateKey } from './walk';

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

/** What is set once and holds until it is set anew. */
export const states: Record<string, StateKey> = {
  'nozzle-temperature': 'nozzle',
  fan: 'fan',
  'pressure-advance': 'advance',
  acceleration: 'acceleration',
};
/** Speeds are written into the lines of these roles. */
export const speeds: Record<string, Role[]> = {
  'outer-wall-speed': ['outer-wall'],
  'inner-wall-speed': ['inner-wall'],
  'infill-speed': ['infill'],
  'skin-speed': ['top-skin', 'bottom-skin'],
};
