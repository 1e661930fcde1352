import type { Context } from '#core/context';
import type { Chunk } from '#core/moves';
import type { SettingId } from '#core/settings';

/** How the cells of an axis are laid out. */
export type Layout = 'height' | 'row' | 'tile' | 'print';

/** What a machine gets to at a move, by the models of heater and motion. */
export interface Reach {
  /** Nozzle temperature, °C. */
  nozzle: number;
  /** Highest speed on the move, mm/s. */
  speed: number;
}

/** A setting that a trial can vary. */
export interface Factor {
  id: string;
  label: string;
  unit: string;
  /** What is multiplied for show (100 for %). */
  shown: number;
  setting: SettingId;
  /** The finest figure that a person can set, in the factor's own unit. */
  settable: number;
  layouts: readonly Layout[];
  /** Why the other layouts cannot carry it. */
  refusals: Partial<Record<Layout, string>>;
  /** Protections that would touch it, off in its trials. */
  lifts?: readonly ('flow-cap' | 'layer-time')[];
  /** Qualities to judge, in the order in which they are read. */
  qualities: readonly string[];
  /** The lowest and highest level that printer and filament allow. */
  limits(context: Context): { min: number; max: number };
  /** Levels to start from. */
  start(context: Context): number[];
  /** The named values of a choice; a level is then the place in this list. */
  choices?: readonly string[];
  /**
   * The value in force at a move, with its weight: extruded length, or 1 for an event; null where it says nothing. Left
   * out where a program does not show it.
   */
  observe?(chunk: Chunk, move: number): { value: number; weight: number } | null;
  /** How far a value in the file may lie from the planned one by rounding; 0 where left out. */
  rounding?: number;
  /** The value reached at a move; the same as in the file where nothing is said. */
  reached?(reach: Reach): number;
  /** How far a reached value may lie from the planned one and still count as reached. */
  tolerance: number;
}
