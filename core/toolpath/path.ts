import type { Point } from '#core/geometry';
import type { Settings } from '#core/settings';

/** A path to be extruded in one go. A closed path repeats its first point at the end. */
export interface Path {
  points: Point[];
  /** Role number of each segment, one fewer than points. */
  roles: number[];
  /** Cross-section before flow, mm². */
  area: number;
  width: number;
  height: number;
  cell: number;
  settings: Settings;
}

/** One layer ready to be ordered and emitted. Paths of an island stay together, in the order given. */
export interface LayerPlan {
  index: number;
  /** Nozzle height, mm. */
  z: number;
  height: number;
  /** Printed before everything else (a brim). */
  first: Path[];
  islands: { paths: Path[]; outline: Point[][] }[];
  /** The cell of most of the layer, −1 for a base. */
  cell: number;
}
