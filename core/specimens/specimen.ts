import type * as z from 'zod';
import type { Fault } from '#core/base';
import type { Context } from '#core/context';
import type { Point, Polygon } from '#core/geometry';
import type { Role } from '#core/moves';
import type { PartNamed } from '#core/part';
import type { Axis, Cell } from '#core/plan';
import type { Settings } from '#core/settings';

/** A labelled piece of a cross-section; cell −1 belongs to no cell (a base). */
export interface Region {
  outline: Polygon[];
  cell: number;
  /** Settings of this region alone, such as its tool. */
  own?: Partial<Settings>;
}

/** A body as its cross-sections. `breaks` are heights at which the section jumps, mm. */
export interface Solid {
  breaks: number[];
  top: number;
  at(z: number): Region[];
}

/** A line laid as it stands, in its order. Cell −1 is printed at the trial's own settings. mm, specimen coordinates. */
export interface Stroke {
  cell: number;
  points: Point[];
  role: Role;
  /** Speed of each segment, mm/s, exactly so; left out, the speed of the role. */
  speeds?: number[];
  /** Line width, mm; left out, the setting's. */
  width?: number;
  /** The way there belongs to this stroke's cell: filament is drawn back at its values. */
  crossing?: boolean;
  /** The way there leads over these points, at the trial's own settings: round the specimen, not through it. */
  way?: Point[];
  /** On that way filament is drawn back at the values of the cell that is left. */
  leaves?: true;
  /** Rest of the head before it, s. */
  pause?: number;
}

/** Strokes at one height of the nozzle, mm. */
export interface StrokeLayer {
  z: number;
  height: number;
  strokes: Stroke[];
}

/** One object on the bed: a solid, lines laid as they stand, or a solid with lines on it. */
export interface Piece {
  solid?: Solid;
  strokes?: StrokeLayer[];
  name?: string;
  /** With it all of the piece belongs to that cell. */
  cell?: number;
}

/** The highest point of a piece, mm. */
export const topOf = (piece: Piece): number => Math.max(piece.solid?.top ?? 0, piece.strokes?.at(-1)?.z ?? 0);

/** Where a cell is: a range of heights and an area, air included. mm, specimen coordinates (Z 0 at the bed). */
export interface Place {
  cell: number;
  z: [number, number];
  area: Polygon[];
}

/** A line drawing for the sheet, mm, y up: from the side, or from above where cells lie beside one another. */
export interface Drawing {
  view: 'side' | 'above';
  x: [number, number];
  y: [number, number];
  shapes: DrawingShape[];
  /** Where the value of a cell is written. */
  labels?: { cell: number; x: number; y: number }[];
}

/** One outline of the drawing, of a cell or of none (−1). */
export interface DrawingShape {
  cell: number;
  part: 'base' | 'body' | 'bridge' | 'ledge' | 'spike' | 'mast' | 'level' | 'numeral' | 'air' | 'line' | 'edge';
  /** SVG path data in mm, y up. */
  path: string;
}

/** A part of the user’s own on the bed, and what it sets for itself. */
export interface PlatePart {
  part: PartNamed;
  own: Partial<Settings>;
}

/** An id that regions have in the place of their cell’s: there some settings are their own. */
export interface OwnCell {
  id: number;
  cell: number;
  own: Partial<Settings>;
}

/** What a specimen builds for a trial. */
export interface Built {
  pieces: Piece[];
  places: Place[];
  own?: OwnCell[];
  drawing: Drawing;
  /** Highest point, mm. */
  height: number;
  /** Height of what lies beneath the specimen (a raft with its gap), mm. */
  beneath?: number;
  /** Footprint without adhesion, specimen coordinates, mm. */
  footprint: Polygon[];
  remarks: string[];
  /** Filament pushed with the nozzle high above the bed, instead of printing: pieces in mm, speed in mm/s of filament. */
  pushes?: { lengths: number[]; speed: number };
}

/** A parameter of a specimen with its words. */
export interface SpecimenField {
  key: string;
  label: string;
  unit: string;
  least: number;
  most: number;
  step: number;
  /** It counts only where this factor varies, and it has a value. */
  factor?: string;
  /** It counts only where the cells are laid out so. */
  along?: Axis['along'];
}

/** Where to look at a specimen, why it has this shape, and what it cannot tell: a sentence or two each. */
export interface SpecimenGuide {
  look: string;
  why: string;
  weak: string;
}

/** A specimen of the catalogue: what it is, its parameters, what it can carry, and how it is built for cells. */
export interface Specimen<P = Record<string, number>> {
  id: string;
  label: string;
  /** What it is and what is judged on it, in a sentence. */
  purpose: string;
  /** What a person who prints it has to know; a body that only checks the engine has none. */
  guide?: SpecimenGuide;
  params: z.ZodType<P>;
  fields: readonly SpecimenField[];
  layouts: readonly Axis['along'][];
  /** How a layout and its cells are called where “tile” would be the wrong word. */
  words?: Partial<Record<Axis['along'], { laid: string; one: string; many: string }>>;
  /** Qualities that can be judged on it; left out, any. */
  judges?: readonly string[];
  /** Factors of which it tells less than that: the qualities that can be judged on it where they vary. */
  judgesOnly?: Readonly<Record<string, readonly string[]>>;
  /** Quantities that can be measured on it. */
  measures?: readonly string[];
  start(context: Context): P;
  /** Why it cannot carry the axes; `params` and `parts` are left out while there are none yet. */
  accepts(axes: readonly Axis[], params?: P, parts?: readonly PlatePart[]): Fault[];
  /** @param parts those that the trial names */
  build(
    params: P,
    cells: readonly Cell[],
    settings: Settings,
    context: Context,
    axes?: readonly Axis[],
    parts?: readonly PlatePart[],
  ): Built;
}
