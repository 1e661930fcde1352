import { rounded } from '#core/base';
import { factorOf } from '#core/factors';
import { numeralHeight, numerals, numeralWidth, penStrokes, type Point, type Ring } from '#core/geometry';
import type { Cell } from '#core/plan';
import type { Stroke } from './specimen';

/** The value of a cell on one factor as digits; the number of the place where a level has a name, not a figure. */
export function valueDigits(cell: Cell, factor: string | undefined): string {
  const level = factor === undefined ? undefined : (cell.labelled ?? cell.levels)[factor];
  const f = factor === undefined ? undefined : factorOf(factor);
  if (level === undefined || !f) return String(cell.id + 1);
  if (!f.choices) return String(rounded(level * f.shown, 3));
  // A typed value has no place in the list: a number that no other cell has.
  return String(level < f.choices.length ? level + 1 : f.choices.length + cell.id + 1);
}

/** A number as the rectangles of its bars, the middle of its foot at `at`. */
export const barsAt = (text: string, at: Point, height: number, stroke: number): Ring[] =>
  numerals(text, height, stroke).map((ring) => ring.map((p) => ({ x: p.x + at.x, y: p.y + at.y })));

/** A number as single lines, one or two a figure, the middle of its foot at `at`. */
export const numeralStrokes = (text: string, at: Point, height: number, width: number): Omit<Stroke, 'cell'>[] =>
  penStrokes(text, height, width).map((points) => ({
    points: points.map((p) => ({ x: p.x + at.x, y: p.y + at.y })),
    role: 'other' as const,
  }));

export { numeralHeight, numeralWidth };
