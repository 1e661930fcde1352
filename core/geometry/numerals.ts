import { rectangle, type Point, type Polyline, type Ring } from './shapes';

// Strokes of a digit on a seven-bar frame: top, upper right, lower right, bottom, lower left, upper left, middle.
const bars: Record<string, string> = {
  '0': 'tubmlk',
  '1': 'ub',
  '2': 'tugmc',
  '3': 'tugbm',
  '4': 'kgub',
  '5': 'tkgbm',
  '6': 'tkgbml',
  '7': 'tub',
  '8': 'tubmlkg',
  '9': 'tkgubm',
  '-': 'g',
};

/** Numerals are at least 5 mm high and five and a half strokes, so that they stay open. */
export const numeralHeight = (stroke: number): number => Math.max(5, 5.5 * stroke);

/** Numerals cut into a band leave so much of it above and below them together, mm. */
export const NUMERAL_ROOM = 0.4;

/** A band this high, mm, in halves, has room for the numerals that are cut with lines of a width. */
export const numeralBand = (width: number): number => Math.ceil(2 * (numeralHeight(2 * width) + NUMERAL_ROOM)) / 2;

/** The width of a numeral text of the given height and stroke, mm. */
export function numeralWidth(text: string, height: number, stroke: number): number {
  let width = 0;
  for (const letter of text) width += (letter === '.' ? stroke : 0.58 * height) + stroke;
  return width - stroke;
}

/**
 * A number as rectangles of one stroke width, standing on y = 0 and centred on x = 0.
 *
 * @param text digits, point and minus
 * @param height mm
 * @param stroke width of a stroke, mm
 */
export function numerals(text: string, height: number, stroke: number): Ring[] {
  const rings: Ring[] = [];
  const w = 0.58 * height;
  let x = -numeralWidth(text, height, stroke) / 2;
  for (const letter of text) {
    if (letter === '.') {
      rings.push(rectangle(x, 0, x + stroke, stroke));
      x += 2 * stroke;
      continue;
    }
    const half = (height + stroke) / 2;
    for (const bar of bars[letter] ?? '') {
      if (bar === 't') rings.push(rectangle(x, height - stroke, x + w, height));
      if (bar === 'm') rings.push(rectangle(x, 0, x + w, stroke));
      if (bar === 'g') rings.push(rectangle(x, half - stroke, x + w, half));
      if (bar === 'u') rings.push(rectangle(x + w - stroke, half - stroke, x + w, height));
      if (bar === 'b') rings.push(rectangle(x + w - stroke, 0, x + w, half));
      if (bar === 'k') rings.push(rectangle(x, half - stroke, x + stroke, height));
      if (bar === 'l' || bar === 'c') rings.push(rectangle(x, 0, x + stroke, half));
    }
    x += w + stroke;
  }
  return rings;
}

// Corners of the frame: a b above, c d in the middle, e f below; each figure in few strokes, none of them closed: a ring would be a wall.
const strokes: Record<string, string[]> = {
  '0': ['abf', 'aef'],
  '1': ['bf'],
  '2': ['abdcef'],
  '3': ['abfe', 'cd'],
  '4': ['acd', 'bf'],
  '5': ['bacdfe'],
  '6': ['baefdc'],
  '7': ['abf'],
  '8': ['abf', 'aef', 'cd'],
  '9': ['dcabfe'],
  '-': ['cd'],
};

/**
 * A number as the ways of a pen of one stroke width, standing on y = 0 and centred on x = 0: one to three a figure.
 *
 * @param text digits, point and minus
 * @param height mm, ends included
 * @param stroke width of a stroke, mm
 */
export function penStrokes(text: string, height: number, stroke: number): Polyline[] {
  const lines: Polyline[] = [];
  const half = stroke / 2;
  const w = 0.58 * height;
  let x = -numeralWidth(text, height, stroke) / 2;
  for (const letter of text) {
    if (letter === '.') {
      lines.push([
        { x, y: half },
        { x: x + stroke, y: half },
      ]);
      x += 2 * stroke;
      continue;
    }
    const at = (corner: string): Point => ({
      x: 'ace'.includes(corner) ? x + half : x + w - half,
      y: 'ab'.includes(corner) ? height - half : 'cd'.includes(corner) ? height / 2 : half,
    });
    for (const way of strokes[letter] ?? []) lines.push([...way].map(at));
    x += w + stroke;
  }
  return lines;
}
