import type { Point, Polygon } from '#core/geometry';
import type { Settings } from '#core/settings';

/** A path to be extruded in one go. A closed path repeats its first point at the end. */
export interface Path {
  points: Point[];
  /** Role number of each segment, one fewer than points. */
  roles: number[];
  /** Cross-section before the general flow, mm²; `areas` of each segment where it changes along the way. */
  area: number;
  areas?: number[];
  width: number;
  height: number;
  /** Highest speed of each segment, mm/s, where something holds it back. */
  speeds?: number[];
  /** A loop that may begin anywhere: the seam is chosen when it is laid. */
  closed?: true;
  /** Neither turned round nor put in another order. */
  fixed?: true;
  /** Its speeds are meant as they stand, not as the highest. */
  exact?: true;
  /** Filament is drawn back on the way there where it is longer than this, mm, whatever lies between. */
  apart?: number;
  /** The way there is what its cell varies: it is drawn back at this path's settings, not at those of the one before. */
  crossing?: true;
  /** Before it the nozzle rises and waits, s. */
  pause?: number;
  /** The way there, at settings of its own. */
  way?: { points: Point[]; settings: Settings; leaves?: true };
  cell: number;
  settings: Settings;
}

/** A path of an island before it is known in which cell it is printed. */
export type Shape = Omit<Path, 'cell' | 'settings'>;

/** An island ready to be laid: stage after stage; within a stage the nearest path comes next. */
export interface IslandPlan {
  cell: number;
  stages: Path[][];
  outline: Polygon;
}

/** One layer ready to be ordered and emitted. */
export interface LayerPlan {
  index: number;
  /** Nozzle height, mm. */
  z: number;
  height: number;
  /** Printed before everything else (skirt, brim, pillar). */
  first: Path[];
  islands: IslandPlan[];
  /** The cell of most of the layer, −1 for a base. */
  cell: number;
}
