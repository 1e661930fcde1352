import * as z from 'zod';
import { fault, show } from '#core/base';
import { rectangle, solid } from '#core/geometry';
import { alongWords } from '#core/plan';
import { lineSpacing } from '#core/settings';
import { numeralHeight, numeralStrokes, numeralWidth, valueDigits } from '../labels';
import { boxPath, f, rasterOf } from '../paths';
import type { Built, DrawingShape, Place, Specimen, Stroke } from '../specimen';

const params = z.strictObject({
  slow: z.number().min(5).max(100),
  fast: z.number().min(10).max(200),
  slowSpeed: z.number().min(5).max(200),
  fastSpeed: z.number().min(10).max(600),
  pitch: z.number().min(3).max(20),
});
type Params = z.infer<typeof params>;

const BASE_LAYERS = 3;
const BASE_LINES = 5;
/** Layers of the bar at the end that joins the ribbons and carries their values. */
const BAR_LAYERS = 2;

/**
 * Lines that run slow, fast, slow over a base of three layers, so that the first layer does not decide: where the speed
 * rises a line thins, where it drops it swells, unless pressure advance is right.
 */
export const surgeRibbon: Specimen<Params> = {
  id: 'surge-ribbon',
  label: 'Surge ribbon',
  purpose:
    'Lines that run slow, fast and slow again over three base layers: look for the line that is even at both changes of speed.',
  guide: {
    look: 'At both changes of speed, marked by the spurs: thin after the first, thick before the second, or even.',
    why: 'The third base layer is even, so that the line itself and not the bed decides.',
    weak: 'Lines of one layer cool at once: what corners do in tall walls shows on the star wall.',
  },
  params,
  fields: [
    { key: 'slow', label: 'slow ends', unit: 'mm', least: 5, most: 100, step: 5 },
    { key: 'fast', label: 'fast middle', unit: 'mm', least: 10, most: 200, step: 5 },
    { key: 'slowSpeed', label: 'slow speed', unit: 'mm/s', least: 5, most: 200, step: 5 },
    { key: 'fastSpeed', label: 'fast speed', unit: 'mm/s', least: 10, most: 600, step: 10 },
    { key: 'pitch', label: 'from line to line', unit: 'mm', least: 3, most: 20, step: 0.5 },
  ],
  layouts: ['row'],
  judges: ['speed-change'],
  start: ({ printer }) => ({
    slow: 18,
    fast: 36,
    slowSpeed: 20,
    fastSpeed: Math.min(100, printer.maximum.speed),
    pitch: Math.ceil(2 * (numeralHeight(1.2 * printer.nozzle.diameter) + 0.6)) / 2,
  }),
  accepts(axes) {
    if (axes.length > 1) return [fault('specimens.axes', 'axes', 'the ribbon carries one factor', 'choose one factor')];
    return axes.flatMap((a, i) =>
      a.along === 'row' && a.factor !== 'layer-height'
        ? []
        : [
            fault(
              'specimens.layout',
              `axes.${i}.along`,
              `the ribbon does not carry this ${alongWords[a.along]}`,
              'lay it out in a row, at one layer height',
            ),
          ],
    );
  },
  build(p, cells, s, _context, axes = []): Built {
    const high = numeralHeight(s.lineWidth);
    const by = axes[0]?.factor;
    const figures = high + 0.4 <= p.pitch;
    const room = figures ? Math.max(...cells.map((c) => numeralWidth(valueDigits(c, by), high, s.lineWidth))) + 3 : 1;
    const long = 2 * p.slow + p.fast;
    const step = lineSpacing(s.lineWidth, s.layerHeight, s.lineVolume);
    const wide = (BASE_LINES - 1) * step;
    const width = long + room + 2;
    const depth = (cells.length - 1) * p.pitch + Math.max(wide, figures ? high + 0.4 : 0) + s.lineWidth + 1;
    const [x0, y1] = [-width / 2, depth / 2];
    const a = x0 + 1;
    const rowY = (i: number) => ((cells.length - 1) / 2 - i) * p.pitch;
    const heights = Array.from(
      { length: BASE_LAYERS + 1 },
      (_, k) => Math.round((s.firstLayerHeight + k * s.layerHeight) * 1e6) / 1e6,
    );
    const [base, top] = [heights[BASE_LAYERS - 1]!, heights[BASE_LAYERS]!];
    const changes = [a + p.slow, a + p.slow + p.fast];
    const bedOf = (i: number): Stroke[] =>
      Array.from({ length: BASE_LINES }, (_, n): Stroke => {
        const y = rowY(i) - wide / 2 + n * step;
        const [from, to] = n % 2 === 0 ? [a - 0.5, a + long + 0.5] : [a + long + 0.5, a - 0.5];
        return {
          cell: -1,
          role: 'bottom-skin',
          points: [
            { x: from, y },
            { x: to, y },
          ],
        };
      });
    // Short spurs at the ends of the row show where the speed changes.
    const spurs = [rowY(0) + wide / 2 + step, rowY(cells.length - 1) - wide / 2 - step - 2].flatMap((y) =>
      changes.map((x): Stroke => ({
        cell: -1,
        role: 'other',
        points: [
          { x, y },
          { x, y: y + 2 },
        ],
      })),
    );
    const reach = Math.max(wide, high) / 2 + 0.6;
    const [bx0, bx1] = [a + long + 0.5 + step / 2, a + long + room];
    const [by0, by1] = [rowY(cells.length - 1) - reach, rowY(0) + reach];
    const bar = rasterOf(rectangle(bx0, by0, bx1, by1), step);
    const marks = figures
      ? cells.flatMap((c, i) =>
          numeralStrokes(
            valueDigits(c, by),
            { x: a + long + room / 2 + 0.5, y: rowY(i) - high / 2 },
            high,
            s.lineWidth,
          ).map((n): Stroke => ({ ...n, cell: -1 })),
        )
      : [];
    const lines = cells.map((cell, i): Stroke => ({
      cell: cell.id,
      role: 'outer-wall',
      points: [a, ...changes, a + long].map((x) => ({ x, y: rowY(i) })),
      speeds: [p.slowSpeed, p.fastSpeed, p.slowSpeed],
    }));
    const shapes: DrawingShape[] = [
      ...(figures ? [{ cell: -1, part: 'base' as const, path: boxPath(bx0, by0, bx1, by1) }] : []),
      ...cells.flatMap((cell, i): DrawingShape[] => [
        { cell: -1, part: 'base', path: boxPath(a - 0.5, rowY(i) - wide / 2, a + long + 0.5, rowY(i) + wide / 2) },
        {
          cell: cell.id,
          part: 'line',
          path: [a, ...changes, a + long].map((x, k) => (k === 0 ? `M${f(x)} ${f(rowY(i))}` : `H${f(x)}`)).join(''),
        },
      ]),
    ];
    const places: Place[] = cells.map((c, i) => ({
      cell: c.id,
      z: [base, top],
      area: [solid(rectangle(a - 0.5, rowY(i) - p.pitch / 2, a + long + 0.5, rowY(i) + p.pitch / 2))],
    }));
    return {
      pieces: [
        {
          name: 'ribbon',
          strokes: heights.map((z, k) => ({
            z,
            height: k === 0 ? s.firstLayerHeight : s.layerHeight,
            strokes:
              k < BASE_LAYERS
                ? [
                    ...(k === 0 ? spurs : []),
                    ...(figures && k < BAR_LAYERS ? [{ cell: -1, role: 'bottom-skin' as const, points: bar }] : []),
                    ...(k === BAR_LAYERS ? marks : []),
                    ...cells.flatMap((_, i) => bedOf(i)),
                  ]
                : lines,
          })),
        },
      ],
      places,
      drawing: {
        view: 'above',
        x: [x0, -x0],
        y: [-y1, y1],
        shapes,
        labels: cells.map((c, i) => ({ cell: c.id, x: a + long + room / 2 + 0.5, y: rowY(i) })),
      },
      height: top,
      footprint: [solid(rectangle(x0, -y1 - 3, -x0, y1 + 3))],
      remarks: [
        ...(p.fastSpeed <= p.slowSpeed
          ? [`the fast middle, ${show(p.fastSpeed)} mm/s, is not faster than the ends: nothing will show`]
          : []),
        ...(figures
          ? []
          : ['lines this near have no room for figures: count them from the back, or use the label map']),
      ],
    };
  },
};
