import * as z from 'zod';
import { show } from '#core/base';
import { bedArea, bedCentre, reachOf } from '#core/context';
import { difference, intersection, rectangle, solid, type Polygon } from '#core/geometry';
import { lineSpacing } from '#core/settings';
import { numeralHeight, numeralStrokes, numeralWidth, valueDigits } from '../labels';
import { polygonPath, rasterOf } from '../paths';
import type { Built, DrawingShape, Place, Specimen, Stroke } from '../specimen';
import { onlyInRow } from './in-row';

const params = z.strictObject({
  pad: z.number().min(6).max(60),
  distance: z.number().min(5).max(200),
  corners: z.int().min(0).max(1),
});
type Params = z.infer<typeof params>;

/** Pads of one layer: a row that varies in the middle of the bed, and plain ones at its corners. */
export const bedPads: Specimen<Params> = {
  id: 'bed-pads',
  label: 'Bed pads',
  purpose:
    'Pads of one layer over the bed: pushed together and rough where the nozzle is too low, lines apart that lift under a finger where it is too high.',
  guide: {
    look: 'At the face of each pad, and with a finger along its edge.',
    why: 'Broad enough that lines press against lines, as in a first layer.',
    weak: 'The corner pads are all at the height in force: they show a tilt, not its cure.',
  },
  params,
  fields: [
    { key: 'pad', label: 'side of a pad', unit: 'mm', least: 6, most: 60, step: 1 },
    { key: 'distance', label: 'from the edge', unit: 'mm', least: 5, most: 200, step: 1 },
    { key: 'corners', label: 'corner pads', unit: '', least: 0, most: 1, step: 1 },
  ],
  layouts: ['row'],
  judges: ['first-layer'],
  start: () => ({ pad: 14, distance: 25, corners: 1 }),
  accepts: onlyInRow('pads', 'lay them out in a row'),
  build(p, cells, s, context, axes = []): Built {
    const by = axes[0]?.factor;
    const high = numeralHeight(s.lineWidth);
    const step = lineSpacing(s.lineWidth, s.firstLayerHeight, s.lineVolume);
    const widest = Math.max(...cells.map((c) => numeralWidth(valueDigits(c, by), high, s.lineWidth)));
    const pitch = Math.max(p.pad, widest) + 4;
    const reach = reachOf(context.printer);
    const centre = bedCentre(context.printer);
    const free = bedArea(context.printer);
    const wide = reach.x1 - reach.x0;
    const columns = Math.max(1, Math.min(cells.length, Math.floor((wide - 2 * p.distance) / pitch)));
    const rows = Math.ceil(cells.length / columns);
    const deep = p.pad + high + 5;
    const spots = cells.map((_, i) => ({
      x: ((i % columns) - (columns - 1) / 2) * pitch,
      y: ((rows - 1) / 2 - Math.floor(i / columns)) * deep,
    }));
    const square = (x: number, y: number): Polygon =>
      solid(rectangle(x - p.pad / 2, y - p.pad / 2, x + p.pad / 2, y + p.pad / 2));
    const strokes: Stroke[] = [];
    // Plain pads go to the corners, or where a round bed still has room, unless a clip is there.
    const round = context.printer.bed.shape === 'round';
    const far = (from: number, to: number) =>
      round ? ((to - from) / 2 - p.distance) * Math.SQRT1_2 : (to - from) / 2 - p.distance - p.pad / 2;
    const outer = p.corners
      ? [-1, 1].flatMap((sx) =>
          [-1, 1].map((sy) => ({ x: sx * far(reach.x0, reach.x1), y: sy * far(reach.y0, reach.y1) })),
        )
      : [];
    const held = spots.map(({ x, y }) => solid(rectangle(x - pitch / 2, y - deep / 2, x + pitch / 2, y + deep / 2)));
    const isFree = (q: Polygon) => {
      const there = [{ outer: q.outer.map((o) => ({ x: o.x + centre.x, y: o.y + centre.y })), holes: [] }];
      return difference(there, free).length === 0 && intersection([q], held).length === 0;
    };
    const plain = outer.map((o) => square(o.x, o.y)).filter(isFree);
    for (const q of plain) strokes.push({ cell: -1, role: 'bottom-skin', points: rasterOf(q.outer, step) });
    cells.forEach((cell, i) => {
      const { x, y } = spots[i]!;
      const at = { x, y: y - p.pad / 2 - high - 2 };
      strokes.push(
        ...numeralStrokes(valueDigits(cell, by), at, high, s.lineWidth).map((n): Stroke => ({ ...n, cell: -1 })),
      );
    });
    cells.forEach((cell, i) =>
      strokes.push({
        cell: cell.id,
        role: 'bottom-skin',
        points: rasterOf(square(spots[i]!.x, spots[i]!.y).outer, step),
      }),
    );
    const pads = spots.map(({ x, y }) => square(x, y));
    const places: Place[] = cells.map((c, i) => ({ cell: c.id, z: [0, s.firstLayerHeight + 0.3], area: [pads[i]!] }));
    const footprint = [
      ...plain,
      ...spots.map(({ x, y }) =>
        solid(rectangle(x - pitch / 2 + 1, y - p.pad / 2 - high - 2.5, x + pitch / 2 - 1, y + p.pad / 2)),
      ),
    ];
    const xs = footprint.flatMap((q) => q.outer.map((o) => o.x));
    const ys = footprint.flatMap((q) => q.outer.map((o) => o.y));
    const shapes: DrawingShape[] = [
      ...plain.map((q): DrawingShape => ({ cell: -1, part: 'base', path: polygonPath([q]) })),
      ...pads.map((q, i): DrawingShape => ({ cell: cells[i]!.id, part: 'body', path: polygonPath([q]) })),
    ];
    const missing = outer.length - plain.length;
    return {
      pieces: [{ name: 'pads', strokes: [{ z: s.firstLayerHeight, height: s.firstLayerHeight, strokes }] }],
      places,
      drawing: { view: 'above', x: [Math.min(...xs), Math.max(...xs)], y: [Math.min(...ys), Math.max(...ys)], shapes },
      height: s.firstLayerHeight,
      footprint,
      remarks:
        missing > 0 ? [`${show(missing)} of the corners are taken by clips or by the row: no pad stands there`] : [],
    };
  },
};
