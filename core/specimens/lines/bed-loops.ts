import * as z from 'zod';
import { bedArea, bedCentre } from '#core/context';
import { rectangle, solid, type Point, type Polygon } from '#core/geometry';
import { edgeRings } from '../edge-rings';
import { polygonPath } from '../paths';
import type { Built, Place, Specimen, Stroke } from '../specimen';
import { onlyInRow } from './in-row';

const params = z.strictObject({
  distance: z.number().min(3).max(200),
  pitch: z.number().min(1).max(30),
  pause: z.number().min(0).max(120),
});
type Params = z.infer<typeof params>;

/** Loops along the edge of the bed, each at a nozzle height of its own, from the outermost. */
export const bedLoops: Specimen<Params> = {
  id: 'bed-loops',
  label: 'Bed loops',
  purpose:
    'Loops of one line along the edge of the bed, from the outermost at the highest nozzle: what does not stick, what sticks by the finger, what is scraped thin; and whether one side of the bed is higher.',
  guide: {
    look: 'At each loop in turn from the outermost: under a finger, and from the side in raking light.',
    why: 'A loop runs past every corner of the bed, so that a tilted bed shows at once.',
    weak: 'One line is narrow: a bed that is dirty in one spot looks like one that is low there.',
  },
  params,
  fields: [
    { key: 'distance', label: 'from the edge', unit: 'mm', least: 3, most: 200, step: 1 },
    { key: 'pitch', label: 'from loop to loop', unit: 'mm', least: 1, most: 30, step: 0.5 },
    { key: 'pause', label: 'rest between loops', unit: 's', least: 0, most: 120, step: 1 },
  ],
  layouts: ['row'],
  words: { row: { laid: 'loop by loop', one: 'loop', many: 'loops' } },
  judges: ['first-layer'],
  start: () => ({ distance: 12, pitch: 5, pause: 8 }),
  accepts: onlyInRow('loops', 'lay them out loop by loop'),
  build(p, cells, s, { printer }): Built {
    const centre = bedCentre(printer);
    // Apart, so that each is judged by itself.
    const pitch = Math.max(p.pitch, 3 * s.lineWidth);
    const rings = edgeRings(bedArea(printer), cells.length, p.distance, pitch).map((ways) =>
      ways.map((way) => way.map((q) => ({ x: q.x - centre.x, y: q.y - centre.y }))),
    );
    const strokes = cells.flatMap((cell, i) =>
      rings[i]!.map((points, k): Stroke => ({
        cell: cell.id,
        role: 'outer-wall',
        points,
        ...(p.pause > 0 && k === 0 && i > 0 && { pause: p.pause }),
      })),
    );
    const high = s.firstLayerHeight;
    const places = cells.map((c, i): Place => ({
      cell: c.id,
      z: [0, high + 0.3],
      area: rings[i]!.flatMap(legs(pitch / 2)),
    }));
    const all = rings.flat(2);
    const missing = rings.filter((ways) => ways.length === 0).length;
    return {
      pieces: [{ name: 'loops', strokes: [{ z: high, height: high, strokes }] }],
      places,
      drawing: {
        view: 'above',
        x: ends(all.map((q) => q.x)),
        y: ends(all.map((q) => q.y)),
        shapes: cells.flatMap((c, i) =>
          rings[i]!.map((way) => ({
            cell: c.id,
            part: 'line' as const,
            path: polygonPath([{ outer: way.slice(0, -1), holes: [] }]),
          })),
        ),
        labels: cells.map((c, i) => label(c.id, rings[i]!.flat(), (i + 1) / (cells.length + 1))),
      },
      height: high,
      footprint: rings.flat().flatMap(legs(s.lineWidth / 2)),
      remarks: [
        'touch each loop while the head rests: it should be flat and hold to the finger all the way round',
        ...(missing > 0 ? [`${missing} of the loops have no room on this bed: take fewer, or lay them closer`] : []),
      ],
    };
  },
};

/** Thin boxes over the pieces of a way, half as wide as `half`. */
const legs =
  (half: number) =>
  (way: readonly Point[]): Polygon[] =>
    way.slice(1).map((b, i) => {
      const a = way[i]!;
      const [x0, x1] = ends([a.x, b.x]);
      const [y0, y1] = ends([a.y, b.y]);
      return solid(rectangle(x0 - half, y0 - half, x1 + half, y1 + half));
    });

const ends = (v: readonly number[]): [number, number] => (v.length === 0 ? [-1, 1] : [Math.min(...v), Math.max(...v)]);

/** A number on the near side of a loop, the next one farther along, so that none lies over another. */
function label(cell: number, way: readonly Point[], share: number): { cell: number; x: number; y: number } {
  const [x0, x1] = ends(way.map((q) => q.x));
  const x = x0 + share * (x1 - x0);
  const near = way.slice(1).flatMap((b, i) => {
    const a = way[i]!;
    const [from, to] = ends([a.x, b.x]);
    return from <= x && x <= to && to > from ? [a.y + ((b.y - a.y) * (x - a.x)) / (b.x - a.x)] : [];
  });
  return { cell, x, y: ends(near)[0] };
}
