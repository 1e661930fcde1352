import type { Result } from '#core/base';
import type { Context, Printer } from '#core/context';
import type { Chunk } from '#core/moves';
import type { SettingId, Settings } from '#core/settings';
import type { CellReading } from './seen';

/** How the cells of an axis are laid out. */
export type Layout = 'height' | 'row' | 'tile' | 'print';

/** What a machine gets to at a move, by the models of heater and motion. */
export interface Reach {
  /** Nozzle temperature, °C. */
  nozzle: number;
  /** Highest speed on the move, mm/s; on a move of the extruder alone, of the filament. */
  speed: number;
  /** The speed that the file asks of it, mm/s. */
  asked: number;
}

/** What is known beside a move: the height that its layer says it has, mm, and the settings planned for its cell. */
export interface Around {
  layerZ: number;
  settings: Settings;
}

/** A setting that a trial can vary. */
export interface Factor {
  id: string;
  label: string;
  unit: string;
  /** What is multiplied for show (100 for %). */
  shown: number;
  /** The setting; a condition of the print or a measure of the specimen has none. */
  setting?: SettingId;
  /** The finest figure that a person can set, in the factor's own unit. */
  settable: number;
  layouts: readonly Layout[];
  /** Why the other layouts cannot carry it. */
  refusals: Partial<Record<Layout, string>>;
  /** Protections that would touch it, off in its trials. */
  lifts?: readonly ('flow-cap' | 'layer-time')[];
  /** Qualities to judge, in the order in which they are read. */
  qualities: readonly string[];
  /** The lowest and highest level that can be set, and that printer and filament allow: nothing lies beyond. */
  limits(context: Context): { min: number; max: number };
  /** The range in which values mostly lie, and within which a person need not be asked; as `limits` where left out. */
  usual?(context: Context): { min: number; max: number };
  /** Levels to start from. */
  start(context: Context): number[];
  /** The named values of a choice; a level is then the place in this list. */
  choices?: readonly string[];
  /** Beside the named values, levels that a person types. */
  typed?: {
    hint: string;
    words(level: number): string;
    of(text: string): Result<number>;
    /** The level that the settings have. */
    held(settings: Settings): number | undefined;
  };
  /**
   * The value in force at a move, with its weight: extruded length, or 1 for an event; null where it says nothing. Left
   * out where a program does not show it.
   */
  observe?(chunk: Chunk, move: number, around: Around): { value: number; weight: number } | null;
  /** The values that all that is printed of a cell shows together, where no single move does. */
  read?: CellReading;
  /** It says how much is fed for the same line: less filament is no saving then. */
  feeds?: true;
  /** It is meant for the first layer, which otherwise follows values of its own. */
  firstLayer?: true;
  /** How far a value in the file may lie from the planned one by rounding; 0 where left out. */
  rounding?: number;
  /** The value reached at a move whose value in the file is `seen`; the same where nothing is said. */
  reached?(reach: Reach, seen: number): number;
  /** How far a reached value may lie from the planned level and still count as reached. */
  tolerance(level: number): number;
  /** Where the printer keeps it, not the settings: its value there. */
  kept?(printer: Printer): number | undefined;
  /** What a level sets, where it is not the setting itself. */
  sets?(level: number, settings: Settings): Partial<Settings>;
}
