import * as z from 'zod';
import { fault } from '#core/base';
import { rectangle, solid, type Point } from '#core/geometry';
import { alongWords } from '#core/plan';
import { lineSpacing } from '#core/settings';
import { groupsAlong } from '../bands';
import { numeralHeight, numeralStrokes, numeralWidth, valueDigits } from '../labels';
import { boxPath } from '../paths';
import type { Built, DrawingShape, Piece, Place, Specimen, Stroke, StrokeLayer } from '../specimen';
import { tilesOf } from '../tiles';

const params = z.strictObject({
  dashes: z.int().min(3).max(30),
  gap: z.number().min(2).max(30),
  dash: z.number().min(6).max(60),
  layers: z.int().min(2).max(20),
});
type Params = z.infer<typeof params>;

/** A strip of interrupted lines, a few layers high: what strings and starts tell, in a minute or two. */
export const dashes: Specimen<Params> = {
  id: 'dash-strips',
  label: 'Dash strips',
  purpose:
    'Short lines with air between, a few layers on the bed: strings, missing starts and torn lines, in a minute a strip.',
  guide: {
    look: 'Between the dashes, and at the first millimetre of each.',
    why: 'Quick: a minute a strip, so that the range is found before a taller print is risked.',
    weak: 'All lies near the bed, where air is warm and the fan weak: settle on the fence or the tower.',
  },
  params,
  fields: [
    { key: 'dashes', label: 'dashes', unit: '', least: 3, most: 30, step: 1 },
    { key: 'gap', label: 'air between', unit: 'mm', least: 2, most: 30, step: 1 },
    { key: 'dash', label: 'length of a dash', unit: 'mm', least: 6, most: 60, step: 1 },
    { key: 'layers', label: 'layers', unit: '', least: 2, most: 20, step: 1 },
  ],
  layouts: ['tile'],
  judges: ['stringing', 'restart', 'surface', 'layer-strength'],
  start: () => ({ dashes: 8, gap: 6, dash: 12, layers: 6 }),
  accepts: (axes) =>
    axes.flatMap((a, i) =>
      a.along === 'tile' && a.factor !== 'layer-height'
        ? []
        : [
            fault(
              'specimens.layout',
              `axes.${i}.along`,
              `strips do not carry this ${alongWords[a.along]}`,
              'lay it out as tiles or by print, at one layer height',
            ),
          ],
    ),
  build(p, cells, s, context, axes = []): Built {
    const groups = groupsAlong(cells, axes, 'tile');
    const by = axes.length === 1 ? axes[0]!.factor : undefined;
    const digits = (i: number) => (by === undefined ? String(cells[i]!.id + 1) : valueDigits(cells[i]!, by));
    const step = lineSpacing(s.lineWidth, s.layerHeight, s.lineVolume);
    const thick = step + s.lineWidth;
    const high = numeralHeight(s.lineWidth);
    const room = Math.max(...groups.map((_, i) => numeralWidth(digits(i), high, s.lineWidth))) + 4;
    const body = p.dashes * thick + (p.dashes - 1) * p.gap;
    const size = { width: room + body + 2, depth: p.dash + 2 };
    const spots = tilesOf(groups.length, size, s, context.printer.head.radius, axes);
    const strips: StrokeLayer[][] = [];
    const places: Place[] = [];
    const shapes: DrawingShape[] = [];
    groups.forEach((own, i) => {
      const cell = own[0]!.id;
      const { x, y } = spots[i]!;
      const left = x - size.width / 2 + room + 1;
      const [y0, y1] = [y - p.dash / 2, y + p.dash / 2];
      const layers: StrokeLayer[] = Array.from({ length: p.layers }, (_, k) => {
        const height = k === 0 ? s.firstLayerHeight : s.layerHeight;
        const strokes: Stroke[] = Array.from({ length: p.dashes }, (_, n): Stroke => {
          const at = left + s.lineWidth / 2 + n * (thick + p.gap);
          return {
            cell,
            role: 'outer-wall',
            points: [
              { x: at, y: y0 },
              { x: at, y: y1 },
              { x: at + step, y: y1 },
              { x: at + step, y: y0 },
            ],
          };
        });
        const figures = numeralStrokes(
          digits(i),
          { x: x - size.width / 2 + room / 2, y: y - high / 2 },
          high,
          s.lineWidth,
        );
        return {
          z: Math.round((s.firstLayerHeight + k * s.layerHeight) * 1e6) / 1e6,
          height,
          strokes: k === 0 ? [...figures.map((n) => ({ ...n, cell })), ...strokes] : strokes,
        };
      });
      strips.push(layers);
      const area = [solid(rectangle(x - size.width / 2 - 1, y0 - 2, x + size.width / 2 + 1, y1 + 2))];
      places.push({ cell, z: [0, layers.at(-1)!.z], area });
      for (let n = 0; n < p.dashes; n++) {
        const at = left + n * (thick + p.gap);
        shapes.push({ cell, part: 'body', path: boxPath(at, y0, at + thick, y1) });
      }
    });
    const apart = s.arrangement === 'one after the other';
    const pieces: Piece[] = apart
      ? strips.map((strokes, i) => ({ strokes, name: `strip ${i + 1}`, cell: groups[i]![0]!.id }))
      : [{ strokes: together(strips, spots, size), name: 'strips' }];
    const footprint = spots.map(({ x, y }) =>
      solid(rectangle(x - size.width / 2, y - size.depth / 2, x + size.width / 2, y + size.depth / 2)),
    );
    const xs = footprint.flatMap((q) => q.outer.map((o) => o.x));
    const ys = footprint.flatMap((q) => q.outer.map((o) => o.y));
    return {
      pieces,
      places,
      drawing: { view: 'above', x: [Math.min(...xs), Math.max(...xs)], y: [Math.min(...ys), Math.max(...ys)], shapes },
      height: strips[0]!.at(-1)!.z,
      footprint,
      remarks: [],
    };
  },
};

/** Between strips the nozzle keeps so far from them, mm: half of the air between tiles. */
const CLEAR = 2;

/** The strips of each layer one after the other; every way from one to the next leads round those that stand. */
function together(
  strips: readonly StrokeLayer[][],
  spots: readonly Point[],
  size: { width: number; depth: number },
): StrokeLayer[] {
  return strips[0]!.map((first, k) => ({
    ...first,
    strokes: strips.flatMap((layers, i) => {
      const before = i > 0 ? i - 1 : k > 0 ? strips.length - 1 : undefined;
      const [start, ...others] = layers[k]!.strokes;
      const from = before === undefined ? undefined : strips[before]![i > 0 ? k : k - 1]!.strokes.at(-1)!.points.at(-1);
      if (!from || strips.length === 1) return layers[k]!.strokes;
      // Down into the alley before its row, along it, and up the alley left of the next.
      const alley = spots[before!]!.y - size.depth / 2 - CLEAR;
      const left = spots[i]!.x - size.width / 2 - CLEAR;
      const way = [
        { x: from.x, y: alley },
        { x: left, y: alley },
        { x: left, y: start!.points[0]!.y },
      ];
      return [{ ...start!, way, leaves: true as const }, ...others];
    }),
  }));
}
