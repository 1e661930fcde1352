import type { Context } from '#core/context';
import { middleOf, type LabFaults } from './traits';

/** How much is printed: the height of the print, mm, and the filament that it takes, mm. */
export interface Extent {
  height: number;
  length: number;
}

/** Something that can go wrong with a print when it is asked for. */
export interface Mishap {
  id: string;
  label: string;
  /** What was wrong, as it is told afterwards. */
  told: string;
  /** What goes wrong in the machine; undefined where it cannot go wrong on this one. */
  faults(context: Context, extent: Extent): LabFaults | undefined;
}

/** Many times too slow near the target: bands of a few minutes do not reach theirs. */
const LAGS = 60;
/** A loss of steps that the eye finds, mm. */
const SHIFT = 2.5;
/** A tool’s own temperature lies so far below the filament’s middle, °C. */
const COLDER = 15;

/** Everything that can be asked to go wrong. */
export const mishaps: readonly Mishap[] = [
  {
    id: 'heater-lags',
    label: 'heater lags',
    told: 'the heater closed the last degrees far too slowly',
    faults: () => ({ heaterLags: LAGS }),
  },
  {
    id: 'tool-restores',
    label: 'a tool change sets its own temperature',
    told: 'each tool change set a temperature of its own',
    faults: ({ printer, filament }) =>
      printer.tools > 1 ? { toolRestores: Math.round(middleOf(filament)) - COLDER } : undefined,
  },
  {
    id: 'lost-steps',
    label: 'loses steps',
    told: 'the head lost its place at three fifths of the height',
    faults: (_, { height }) => ({ losesSteps: { at: 0.6 * height, x: SHIFT, y: 0 } }),
  },
  {
    id: 'filament-out',
    label: 'filament runs out',
    told: 'the filament ended at seven tenths of what the print takes',
    faults: (_, { length }) => ({ filamentOut: 0.7 * length }),
  },
  { id: 'damp', label: 'damp spool', told: 'the spool was soaked', faults: () => ({ damp: true }) },
  {
    id: 'other-nozzle',
    label: 'another nozzle than said',
    told: 'a nozzle of another diameter was fitted than the shelf says',
    faults: ({ printer }) => ({ nozzle: Math.abs(printer.nozzle.diameter - 0.4) < 0.05 ? 0.6 : 0.4 }),
  },
  {
    id: 'comes-loose',
    label: 'comes loose',
    told: 'the print came loose from the bed at half its height',
    faults: (_, { height }) => ({ comesLoose: 0.5 * height }),
  },
];

/** What can go wrong on a printer with a filament. */
export const mishapsOn = (context: Context): Mishap[] =>
  mishaps.filter((m) => m.faults(context, { height: 1, length: 1 }) !== undefined);

/** What goes wrong in the machine for mishaps by their ids; ids that nobody knows do nothing. */
export const faultsOf = (ids: readonly string[], context: Context, extent: Extent): LabFaults =>
  Object.assign({}, ...mishaps.filter((m) => ids.includes(m.id)).map((m) => m.faults(context, extent))) as LabFaults;
