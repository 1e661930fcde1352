import { lengthOf } from '#core/geometry';
import type { FillLine } from './fill';
import { thinLines, type Parted } from './thin';

/** A rest is filled from this width on, and by two lines from this, in spacings. */
const [LEAST, MOST] = [0.3, 1.6];
/** Shorter lines, twigs of others, do not pay for the way there, in spacings. */
const SHORT = 0.25;

/** Lines through the slim rests of a fill, each as wide as its room. */
export const restLines = (parts: Parted, spacing: number): FillLine[] =>
  thinLines(parts, LEAST * spacing, LEAST * spacing, MOST * spacing)
    .filter((line) => line.closed || lengthOf(line.points) > SHORT * spacing)
    .map((line): FillLine => ({
      points: line.points,
      share: 1,
      widths: line.points.slice(1).map((_, i) => (line.widths[i]! + line.widths[i + 1]!) / 2),
      ...(line.closed && { closed: true as const }),
    }));
