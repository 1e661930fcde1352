import * as z from 'zod';
import type { Context } from '#core/context';
import { distance, lengthOf, type Point } from '#core/geometry';
import { wall, wallParams, type WallParams } from './wall';

const params = wallParams.extend({ runs: z.int().min(2).max(16).default(2) });
type LoopParams = z.infer<typeof params>;

/** So long a layer has time to cool, however fast it is laid, mm. */
const LONG = 700;
/** Radius of the turns, mm: 1500 mm/s² pass the widest at 173 mm/s, and the flow is what is asked all the way round. */
const [TIGHT, WIDE] = [8, 20];

/** One long loop of a single wall, for what changes with height: how much melts, and how thick a wall is. */
export const loopWall = wall<LoopParams>({
  id: 'loop-wall',
  label: 'Loop wall',
  purpose:
    'One plain loop of a single wall, long and without corners, to and fro: where it grows thin, dull or torn the hotend no longer melts what is asked.',
  guide: {
    look: 'Along the straights, from the side in raking light, at where the wall turns dull, thin or torn; the height is the answer.',
    why: 'Straights and wide turns keep the flow at what is asked; the loop goes to and fro, so that each layer has seconds to cool and the wall stands by itself.',
    weak: 'Turns that the acceleration does not allow at full speed are slower: the straights count. On a small bed the loop is short, and near the limit a soft wall can be taken for a starved one.',
  },
  layouts: ['height', 'tile'],
  judges: ['wall-fullness', 'gloss', 'layer-strength', 'surface'],
  // As fast as it melts its surface is that of the flow; of temperature it tells what a slower print does not show.
  judgesOnly: { 'nozzle-temperature': ['layer-strength'] },
  measures: ['wall-thickness'],
  own: {
    params,
    fields: [{ key: 'runs', label: 'runs to and fro', unit: '', least: 2, most: 16, step: 2 }],
  },
  start: (context) => ({ ...loopFor(context), bandHeight: 3 }),
  loops: 1,
  outline: serpentine,
  turn: ({ depth, runs }) => turnOf(depth, runs),
  // To and fro it stands by itself.
  feet: ({ runs }) => (runs > 2 ? 1 : 3),
});

const even = (runs: number) => 2 * Math.floor(runs / 2);
const turnOf = (depth: number, runs: number) => depth / (even(runs) - 1) / 2;

/** The loop with the widest turns that is long enough for a layer to cool; on a small bed the longest. */
function loopFor({ printer: { bed } }: Context): Omit<LoopParams, 'bandHeight'> {
  const room = bed.shape === 'round' ? bed.diameter * 0.62 : Math.min(bed.width, bed.depth) * 0.75;
  // As long as the bed allows, so that the machine comes up to speed.
  const length = Math.max(40, Math.min(160, Math.floor(room / 10) * 10));
  const loops = [4, 6, 8, 10].flatMap((runs) => {
    const turn = Math.min(WIDE, Math.floor(length / (2 * (runs - 1))));
    return turn < TIGHT ? [] : [{ length, depth: 2 * turn * (runs - 1), runs }];
  });
  return loops.find((p) => loopLength(p) >= LONG) ?? loops.at(-1) ?? { length, depth: Math.min(40, length), runs: 2 };
}

function loopLength(p: Pick<LoopParams, 'length' | 'depth' | 'runs'>): number {
  const ring = serpentine(p);
  return lengthOf([...ring, ring[0]!]);
}

/**
 * A long loop without corners: straights to and fro, joined by half circles, and one straight that leads back; begun in
 * the middle of that, where nothing is judged. Two runs are two straights and two half circles.
 *
 * @returns points from the front on, counter-clockwise, mm
 */
export function serpentine({ length, depth, runs }: Pick<WallParams, 'length' | 'depth'> & { runs: number }): Point[] {
  const count = even(runs);
  const pitch = Math.min(depth, length) / (count - 1);
  const r = pitch / 2;
  const right = length / 2 - r;
  // The half circles at the left keep from the straight that leads back.
  const left = -length / 2 + (count > 2 ? 2 * r : r);
  // Chords that leave the arc by at most 0.02 mm.
  const n = Math.max(12, Math.ceil(Math.PI / Math.acos(1 - 0.02 / r)));
  const y = (run: number) => run * pitch - (pitch * (count - 1)) / 2;
  const arc = (cx: number, cy: number, from: number, turn: number, parts = n) =>
    Array.from({ length: parts + 1 }, (_, i) => {
      const a = from + (turn * i) / parts;
      return { x: cx + r * Math.cos(a), y: cy + r * Math.sin(a) };
    });
  const back = -length / 2 + r;
  const quarter = Math.ceil(n / 2);
  const points: Point[] =
    count === 2
      ? [{ x: 0, y: y(0) }]
      : [{ x: -length / 2, y: 0 }, ...arc(back, y(0) + r, Math.PI, Math.PI / 2, quarter)];
  for (let run = 0; run < count - 1; run++)
    points.push(
      ...(run % 2 === 0
        ? arc(right, y(run) + r, -Math.PI / 2, Math.PI)
        : arc(left, y(run) + r, -Math.PI / 2, -Math.PI)),
    );
  points.push(
    ...(count === 2
      ? arc(back, 0, Math.PI / 2, Math.PI)
      : arc(back, y(count - 1) - r, Math.PI / 2, Math.PI / 2, quarter)),
  );
  return points.filter((q, i, all) => i === 0 || distance(q, all[i - 1]!) > 1e-6);
}
