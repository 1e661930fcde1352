import * as z from 'zod';
import { difference, rectangle, solid, union, type Polygon } from '#core/geometry';
import { lineSpacing, type Settings } from '#core/settings';
import { formed } from '../form';
import { boxPath } from '../paths';

const params = z.strictObject({ side: z.number().min(12).max(120), height: z.number().min(0.8).max(20) });

/** The air round the island is at least so wide, and the island about so broad, mm. */
const MOAT = 1.2;
const ISLAND = 7;
/** Rows of the field between the moat and the edge of the tile, and of the neck that holds the island. */
const BESIDE = 6;
const NECK = 2;

/**
 * The tile from above. Its edges lie so that a whole number of lines fits between all walls, along and across: a flow
 * that is right leaves nothing open and nothing over.
 */
function tile(side: number, s: Settings): { half: number; section: Polygon[] } {
  const line = lineSpacing(s.lineWidth, s.layerHeight, s.lineVolume);
  // From an edge to where the field begins.
  const walls = s.wallCount === 0 ? 0 : s.lineWidth / 2 + (s.wallCount - 0.5) * line;
  const rows = Math.max(3, Math.round((side - 2 * walls) / line));
  const half = (rows * line) / 2 + walls;
  const plain = [solid(rectangle(-half, -half, half, half))];
  const around = Math.ceil((2 * walls + MOAT) / line - 1e-9);
  const island = Math.min(Math.round((ISLAND - 2 * walls) / line), rows - 2 * around - 2 * BESIDE);
  if (island < NECK) return { half, section: plain };
  const last = rows - BESIDE;
  const at = (row: number) => row * line - (rows * line) / 2;
  const box = (from: number, to: number, by: number) =>
    solid(rectangle(at(from) - by, at(from) - by, at(to) + by, at(to) + by));
  const inner = last - around;
  const neck = inner - island + Math.floor((island - NECK) / 2);
  const section = union([
    ...difference(plain, [box(last - island - 2 * around, last, -walls)]),
    box(inner - island, inner, walls),
    solid(rectangle(at(neck) - walls, at(inner), at(neck + NECK) + walls, at(last))),
  ]);
  return { half, section };
}

/** A broad tile with a moat round an island: its top skin meets walls outside and inside, along its lines and across. */
export const flowTile = formed({
  id: 'flow-tile',
  label: 'Flow tile',
  purpose:
    'A broad flat tile with an island in a moat: the top skin meets walls on all sides. Gaps or ridges show there, under the eye and a fingertip.',
  guide: {
    look: 'At the top, under the eye and a fingertip, along the walls, the moat and the neck.',
    why: 'A whole number of lines fits between all walls, along and across: what is open or heaped is the flow.',
    weak: 'It says nothing of walls: their thickness is measured on the gauge box.',
  },
  params,
  fields: [
    { key: 'side', label: 'side', unit: 'mm', least: 12, most: 120, step: 1 },
    { key: 'height', label: 'thickness', unit: 'mm', least: 0.8, most: 20, step: 0.2 },
  ],
  layouts: ['tile'],
  judges: ['top-skin', 'skin-joint', 'surface'],
  measures: ['mass', 'thickness'],
  start: () => ({ side: 21, height: 1.8 }),
  form: ({ side, height }, settings) => {
    const { half: h, section } = tile(side, settings);
    return {
      width: 2 * h,
      depth: 2 * h,
      height,
      breaks: [],
      at: () => [{ outline: section }],
      side: boxPath(-h, 0, h, height),
      above: section,
      number: { x: -0.72 * h, y: -0.72 * h },
    };
  },
});
