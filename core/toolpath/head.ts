import type { Settings } from '#core/settings';
import { Seams } from './seam';

/** Where the head stands and what it carries from one layer to the next. */
export interface Head {
  x: number;
  y: number;
  z: number;
  /** How far the nozzle runs above (or below) the height of the layer, mm. */
  shift: number;
  /** Filament drawn back, mm. */
  back: number;
  /** How far it is lifted over its layer on a way, mm. */
  hop: number;
  /** Share of the fan in force, −1 while nothing is told, and for how long it has been, s. */
  fan: number;
  fanHeld: number;
  advance: number;
  acceleration: string;
  /** Where the head is along X and Y is not known yet: the first travel goes high above the bed. */
  positionUnknown: boolean;
  seams: Seams;
  tool: number;
  /** The settings under which the last line was laid: what is left behind is drawn back by them. */
  by: { settings: Settings; cell: number } | undefined;
  /** Temperature asked of the first filament, °C; other tools follow it within their own limits. */
  nozzle: number;
  /** The limit in corners that is in force, mm/s or mm of junction deviation; 0 for the printer’s own. */
  corner: number;
  /** The bed’s target, °C. */
  bed: number;
  /** Filament drawn back in tools that are not in hand, mm. */
  backs: Record<number, number>;
}

/** The head after the start code. */
export const freshHead = (seed = 0): Head => ({
  x: 0,
  y: 0,
  z: 0,
  shift: 0,
  back: 0,
  hop: 0,
  fan: -1,
  fanHeld: 0,
  advance: NaN,
  acceleration: '',
  positionUnknown: true,
  seams: new Seams(seed),
  tool: 0,
  by: undefined,
  nozzle: 0,
  corner: 0,
  bed: 0,
  backs: {},
});

/** A head that can go its own way. */
export const copyOf = (head: Head): Head => ({ ...head, seams: head.seams.copy(), backs: { ...head.backs } });
