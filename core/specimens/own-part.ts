import * as z from 'zod';
import { fault } from '#core/base';
import { bedCentre } from '#core/context';
import { rectangle, solid } from '#core/geometry';
import type { Built, DrawingShape, Place, Specimen } from './specimen';

/** Slices of the silhouette. */
export const SLICES = 32;

/** Lengths mm, on the bed: what is printed lies in x0 … x1, y0 … y1, 0 … top; the bands in from … to. */
const params = z
  .object({
    x0: z.number(),
    y0: z.number(),
    x1: z.number(),
    y1: z.number(),
    top: z.number().min(0.1).max(2000),
    from: z.number().min(0).max(2000),
    to: z.number().min(0.1).max(2000),
    layer: z.number().min(0.02).max(2),
  })
  .catchall(z.number());
type Params = z.infer<typeof params>;

/** The user’s own part, sliced elsewhere: bands over its height. */
export const ownPart: Specimen<Params> = {
  id: 'own-part',
  label: 'Own part',
  purpose: 'A part of your own, sliced by your own program: the levels are written into its file.',
  params: params as unknown as z.ZodType<Params>,
  fields: [
    { key: 'from', label: 'lowest band begins', unit: 'mm', least: 0, most: 2000, step: 0.2 },
    { key: 'to', label: 'highest band ends', unit: 'mm', least: 0.1, most: 2000, step: 0.2 },
  ],
  layouts: ['height'],
  start: () => ({ x0: 90, y0: 90, x1: 110, y1: 110, top: 20, from: 0.4, to: 20, layer: 0.2 }),
  accepts: (axes) =>
    axes.length > 1 && axes.some((a) => a.along !== 'print')
      ? [fault('specimens.axes', 'axes.1', 'a finished file carries one setting', 'vary one setting in it')]
      : [],
  build(p, cells, _settings, context, axes = []): Built {
    const centre = bedCentre(context.printer);
    const box = (x0: number, y0: number, x1: number, y1: number) => [
      solid(rectangle(x0 - 0.6 - centre.x, y0 - 0.6 - centre.y, x1 + 0.6 - centre.x, y1 + 0.6 - centre.y)),
    ];
    const [left, right] = [p.x0 - centre.x, p.x1 - centre.x];
    const n = Math.max(1, cells.length);
    const steps = Math.max(1, Math.round((p.to - p.from) / p.layer));
    const at = (k: number) => (k === n ? p.to : p.from + Math.round((steps * k) / n) * p.layer);
    const places = cells.map((cell, k): Place => ({
      cell: cell.id,
      z: axes.length === 0 ? [0, p.top] : [at(k), at(k + 1)],
      area: box(p.x0, p.y0, p.x1, p.y1),
    }));
    const shapes: DrawingShape[] = [
      { cell: -1, part: 'base', path: silhouette(p, centre.x, 0, p.top) },
      ...places.map((q): DrawingShape => ({
        cell: q.cell,
        part: 'body',
        path: silhouette(p, centre.x, q.z[0], q.z[1]),
      })),
    ];
    return {
      pieces: [],
      places,
      drawing: {
        view: 'side',
        x: [left, right],
        y: [0, p.top],
        shapes,
        labels: places.map((q) => ({ cell: q.cell, x: (left + right) / 2, y: (q.z[0] + q.z[1]) / 2 })),
      },
      height: p.top,
      footprint: box(p.x0, p.y0, p.x1, p.y1),
      remarks: [],
    };
  },
};

/** The outline from the front between two heights, as the file prints it: its left and right in slices of its height. */
function silhouette(p: Params, centre: number, from: number, to: number): string {
  const points: [number, number][] = [];
  const edge = (side: 'a' | 'b', z: number) => {
    const k = Math.min(SLICES - 1, Math.max(0, Math.floor((z / p.top) * SLICES)));
    return (p[`${side}${k}`] ?? (side === 'a' ? p.x0 : p.x1)) - centre;
  };
  const heights = [from, to];
  for (let k = 1; k < SLICES; k++) {
    const z = (k * p.top) / SLICES;
    if (z > from && z < to) heights.push(z);
  }
  heights.sort((a, b) => a - b);
  for (let i = 1; i < heights.length; i++) {
    const middle = (heights[i - 1]! + heights[i]!) / 2;
    points.push([edge('b', middle), heights[i - 1]!], [edge('b', middle), heights[i]!]);
  }
  for (let i = heights.length - 1; i > 0; i--) {
    const middle = (heights[i - 1]! + heights[i]!) / 2;
    points.push([edge('a', middle), heights[i]!], [edge('a', middle), heights[i - 1]!]);
  }
  return `M${points.map(([x, y]) => `${Number(x.toFixed(2))} ${Number(y.toFixed(2))}`).join('L')}Z`;
}
