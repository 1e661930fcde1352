import * as z from 'zod';
import { rectangle, solid } from '#core/geometry';
import { formed } from '../form';
import { boxPath } from '../paths';

const params = z.strictObject({
  side: z.number().min(10).max(100),
  layers: z.int().min(2).max(20),
  /** Copies that a later run prints together: its purge falls on all of them. */
  copies: z.int().min(1).max(1000).default(4),
});

/** Layers of two colours over one another and beside one another. */
export const purgeCoupon = formed({
  id: 'purge-coupon',
  label: 'Purge coupon',
  purpose:
    'A pale field beside and over a dark one: colour that bleeds into the pale field shows that too little was purged.',
  guide: {
    look: 'At the pale field along its border with the dark one.',
    why: 'Pale over and beside dark is the hardest change that there is.',
    weak: 'Dark over pale needs less: its figure is not known from here.',
  },
  params,
  fields: [
    { key: 'side', label: 'side', unit: 'mm', least: 10, most: 100, step: 1 },
    { key: 'layers', label: 'layers', unit: '', least: 2, most: 20, step: 1 },
    { key: 'copies', label: 'copies in a run', unit: '', least: 1, most: 1000, step: 1 },
  ],
  layouts: ['tile'],
  judges: ['bleed', 'streaks', 'hairs'],
  measures: ['mass'],
  start: () => ({ side: 24, layers: 6, copies: 4 }),
  form: ({ side, layers }, s) => {
    const h = side / 2;
    const height = s.firstLayerHeight + (layers - 1) * s.layerHeight;
    return {
      width: side,
      depth: side,
      height,
      breaks: [],
      at: () => [
        { outline: [solid(rectangle(-h, -h, 0, h))], own: { partTool: 1, infillTool: 1 } },
        { outline: [solid(rectangle(0.02, -h, h, h))], own: { partTool: 2, infillTool: 2 } },
      ],
      above: [solid(rectangle(-h, -h, 0, h)), solid(rectangle(0, -h, h, h))],
      side: boxPath(-h, 0, 0, height) + boxPath(0, 0, h, height),
    };
  },
});
