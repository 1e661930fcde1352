import type { Settings } from './settings';

/** From this density on an infill is laid as solid lines. */
export const SOLID_FROM = 0.99;

/**
 * Area of the cross-section of a line, mm²: (w − h)·h + π h²/4 with rounded edges, or w·h as a plain rectangle.
 *
 * @param width mm
 * @param height mm
 */
export function lineArea(width: number, height: number, volume: Settings['lineVolume'] = 'rounded'): number {
  if (volume === 'rectangle') return width * height;
  return width >= height ? (width - height) * height + (Math.PI / 4) * height * height : (Math.PI / 4) * width * width;
}

/** Distance of neighbouring lines that fill the plane exactly, mm: area / height. */
export const lineSpacing = (width: number, height: number, volume: Settings['lineVolume'] = 'rounded'): number =>
  lineArea(width, height, volume) / height;

/** The width of a line of a given area and height, mm; the inverse of `lineArea` with rounded edges. */
export const lineWidthOf = (area: number, height: number): number =>
  area >= (Math.PI / 4) * height * height
    ? area / height + height * (1 - Math.PI / 4)
    : Math.sqrt((4 * area) / Math.PI);
