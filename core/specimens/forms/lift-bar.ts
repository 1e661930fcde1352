import * as z from 'zod';
import { rectangle, solid } from '#core/geometry';
import { formed } from '../form';
import { boxPath } from '../paths';

const params = z.strictObject({
  length: z.number().min(20).max(300),
  width: z.number().min(4).max(60),
  height: z.number().min(1).max(30),
});

/** A long low bar with sharp ends: they lift where the bed does not hold. */
export const liftBar = formed({
  id: 'lift-bar',
  label: 'Lift bar',
  purpose:
    'A long low bar with sharp corners: they lift from a bed that does not hold, and it must still come off without harm.',
  params,
  fields: [
    { key: 'length', label: 'length', unit: 'mm', least: 20, most: 300, step: 5 },
    { key: 'width', label: 'width', unit: 'mm', least: 4, most: 60, step: 1 },
    { key: 'height', label: 'height', unit: 'mm', least: 1, most: 30, step: 0.5 },
  ],
  layouts: ['tile'],
  judges: ['corner-lift', 'release'],
  measures: ['lift'],
  start: ({ printer }) => ({ length: printer.bed.shape === 'round' ? 80 : 100, width: 10, height: 4 }),
  form: ({ length, width, height }) => {
    const section = [solid(rectangle(-length / 2, -width / 2, length / 2, width / 2))];
    return {
      width: length,
      depth: width,
      height,
      breaks: [],
      at: () => [{ outline: section }],
      above: section,
      side: boxPath(-length / 2, 0, length / 2, height),
    };
  },
});
