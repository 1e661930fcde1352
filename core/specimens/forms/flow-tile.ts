import * as z from 'zod';
import { circle, difference, rectangle, solid, union, type Polygon } from '#core/geometry';
import { formed } from '../form';
import { boxPath } from '../paths';

const params = z.strictObject({ side: z.number().min(12).max(120), height: z.number().min(0.8).max(20) });

const MOAT = 1.4;
const ISLAND = 4;

/** A broad tile with a moat round an island: its top skin meets walls outside and inside. */
export const flowTile = formed({
  id: 'flow-tile',
  label: 'Flow tile',
  purpose:
    'A broad flat tile with an island in a moat: the top skin meets walls on all sides. Gaps or ridges show there, under the eye and a fingertip.',
  params,
  fields: [
    { key: 'side', label: 'side', unit: 'mm', least: 12, most: 120, step: 1 },
    { key: 'height', label: 'thickness', unit: 'mm', least: 0.8, most: 20, step: 0.2 },
  ],
  layouts: ['tile'],
  judges: ['top-skin', 'skin-joint', 'surface'],
  measures: ['mass', 'thickness'],
  start: () => ({ side: 21, height: 1.8 }),
  form: ({ side, height }) => {
    const h = side / 2;
    const [x, y] = [h * 0.35, h * 0.35];
    const section: Polygon[] = union([
      ...difference([solid(rectangle(-h, -h, h, h))], [solid(circle(x, y, ISLAND + MOAT, 48))]),
      solid(circle(x, y, ISLAND, 48)),
      // A causeway holds the island.
      solid(rectangle(x - 1, y + ISLAND - 0.5, x + 1, y + ISLAND + MOAT + 0.5)),
    ]);
    return {
      width: side,
      depth: side,
      height,
      breaks: [],
      at: () => [{ outline: section }],
      side: boxPath(-h, 0, h, height),
      above: section,
      number: { x: -0.5 * h, y: -0.5 * h },
    };
  },
});
