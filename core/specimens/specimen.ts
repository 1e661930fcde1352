import type * as z from 'zod';
import type { Fault } from '#core/base';
import type { Context } from '#core/context';
import type { Polygon } from '#core/geometry';
import type { Axis, Cell } from '#core/plan';
import type { Settings } from '#core/settings';

/** A labelled piece of a cross-section; cell −1 belongs to no cell (a base). */
export interface Region {
  outline: Polygon[];
  cell: number;
}

/** A body as its cross-sections. `breaks` are heights at which the section jumps, mm. */
export interface Solid {
  breaks: number[];
  top: number;
  at(z: number): Region[];
}

/** One object on the bed; with `cell` all of it belongs to that cell. */
export interface Piece {
  kind: 'solid';
  solid: Solid;
  name?: string;
  cell?: number;
}

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
}

export interface DrawingShape {
  cell: number;
  part: 'base' | 'body' | 'bridge' | 'ledge' | 'spike' | 'mast' | 'level' | 'numeral' | 'air';
  /** SVG path data in mm, y up. */
  path: string;
}

/** What a specimen builds for a trial. */
export interface Built {
  pieces: Piece[];
  places: Place[];
  drawing: Drawing;
  /** Highest point, mm. */
  height: number;
  /** Height of what lies beneath the specimen (a raft with its gap), mm. */
  foot?: number;
  /** Footprint without adhesion, specimen coordinates, mm. */
  footprint: Polygon[];
  remarks: string[];
}

/** A parameter of a specimen with its words. */
export interface SpecimenField {
  key: string;
  label: string;
  unit: string;
  least: number;
  most: number;
  step: number;
}

export interface Specimen<P = Record<string, number>> {
  id: string;
  label: string;
  /** What it is and what is judged on it, in a sentence. */
  purpose: string;
  params: z.ZodType<P>;
  fields: readonly SpecimenField[];
  layouts: readonly Axis['along'][];
  start(context: Context): P;
  accepts(axes: readonly Axis[]): Fault[];
  build(params: P, cells: readonly Cell[], settings: Settings, context: Context, axes?: readonly Axis[]): Built;
}
