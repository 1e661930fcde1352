import * as z from 'zod';
import { rectangle, solid } from '#core/geometry';
import type { Form } from '../form';
import { boxPath } from '../paths';

/** The measures of a plain plate, mm. */
export const plateParams = z.strictObject({
  length: z.number().min(10).max(300),
  width: z.number().min(4).max(100),
  height: z.number().min(1).max(40),
});

/** The parameters that all plates share. */
export const plateFields = [
  { key: 'length', label: 'length', unit: 'mm', least: 10, most: 300, step: 5 },
  { key: 'width', label: 'width', unit: 'mm', least: 4, most: 100, step: 1 },
  { key: 'height', label: 'height', unit: 'mm', least: 1, most: 40, step: 0.5 },
];

/** A plain plate; `section` where something is cut out of it. */
export function plate(
  { length, width, height }: z.infer<typeof plateParams>,
  section = [solid(rectangle(-length / 2, -width / 2, length / 2, width / 2))],
): Form {
  return {
    width: length,
    depth: width,
    height,
    breaks: [],
    at: () => [{ outline: section }],
    above: section,
    side: boxPath(-length / 2, 0, length / 2, height),
  };
}
