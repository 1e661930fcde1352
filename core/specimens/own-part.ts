import * as z from 'zod';
import { fault, type Fault } from '#core/base';
import { bedCentre } from '#core/context';
import { carriedFactors, factorOf } from '#core/factors';
import { rectangle, solid } from '#core/geometry';
import type { Axis, Cell } from '#core/plan';
import type { Built, Drawing, DrawingShape, Place, Specimen } from './specimen';

/** Slices of the silhouette. */
export const SLICES = 32;

/** Stripes of the outline of an object from above. */
export const STRIPES_ABOVE = 16;

/**
 * Lengths mm, on the bed: what is printed lies in x0 … x1, y0 … y1, 0 … top; the bands in from … to. Beside these, as the
 * file shows them: `a0` … and `b0` …, left and right in slices of the height; `e1` …, borders between `bands` bands where
 * they are not equal; `objects`, and of each `o0x0` `o0y0` `o0x1` `o0y1` `o0top`, `o0a0` …, `o0b0` …
 */
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

/** The borders of its bands, from below, mm: as they were given for so many bands, else equal parts in whole layers. */
export function bordersOf(p: Pick<Params, 'from' | 'to' | 'layer'> & Record<string, number>, bands: number): number[] {
  const own = p['bands'] === bands && Array.from({ length: bands - 1 }, (_, k) => p[`e${k + 1}`]);
  if (own && own.every((v) => v !== undefined)) return [p.from, ...(own as number[]), p.to];
  const steps = Math.max(1, Math.round((p.to - p.from) / p.layer));
  return Array.from({ length: bands + 1 }, (_, k) =>
    k === bands ? p.to : p.from + Math.round((steps * k) / bands) * p.layer,
  );
}

/** The measures with other borders of the bands, from below, mm: one more than there are bands. */
export function withBorders(p: Record<string, number>, borders: readonly number[]): Record<string, number> {
  const rest = Object.entries(p).filter(([key]) => !/^(e\d+|bands)$/.test(key));
  const inner = borders.slice(1, -1).map((v, k): [string, number] => [`e${k + 1}`, v]);
  return {
    ...Object.fromEntries([...rest, ...inner]),
    from: borders[0]!,
    to: borders.at(-1)!,
    bands: borders.length - 1,
  };
}

/** The user’s own part, sliced elsewhere: bands over its height, or one object beside another. */
export const ownPart: Specimen<Params> = {
  id: 'own-part',
  label: 'Own part',
  purpose: 'A part of your own, sliced by your own program: the levels are written into its file.',
  guide: {
    look: 'Where the part itself shows the fault.',
    why: 'Nothing is nearer to what is printed in the end than the part itself.',
    weak: 'What else the file does stays as it is: look at what differs from band to band.',
  },
  params: params as unknown as z.ZodType<Params>,
  fields: [
    { key: 'from', label: 'lowest band begins', unit: 'mm', least: 0, most: 2000, step: 0.2, along: 'height' },
    { key: 'from', label: 'values hold from', unit: 'mm', least: 0, most: 2000, step: 0.2, along: 'tile' },
    { key: 'to', label: 'highest band ends', unit: 'mm', least: 0.1, most: 2000, step: 0.2, along: 'height' },
    ...[1, 2, 3].map((tool) => ({
      key: `tool${tool}`,
      label: `tool ${tool + 1} differs from the first by`,
      unit: '°C',
      least: -150,
      most: 150,
      step: 1,
      factor: 'nozzle-temperature',
    })),
  ],
  layouts: ['height', 'tile'],
  words: { tile: { laid: 'by object', one: 'object', many: 'objects' } },
  start: () => ({ x0: 90, y0: 90, x1: 110, y1: 110, top: 20, from: 0.4, to: 20, layer: 0.2 }),
  accepts(axes, p) {
    if (axes.length > 1)
      return [fault('specimens.axes', 'axes.1', 'a finished file carries one setting', 'vary one setting in it')];
    return axes.flatMap((axis) => [...unwritable(axis), ...(p ? misplaced(axis, p) : [])]);
  },
  build(p, cells, _settings, context, axes = []): Built {
    const centre = bedCentre(context.printer);
    const byObject = axes.some((a) => a.along === 'tile');
    const borders = bordersOf(p, Math.max(1, cells.length));
    const places = cells.map((cell, k): Place => {
      if (byObject) return { cell: cell.id, z: [p.from, p[`o${k}top`] ?? p.top], area: around(p, `o${k}`, centre) };
      return {
        cell: cell.id,
        z: axes.length === 0 ? [0, p.top] : [borders[k]!, borders[k + 1]!],
        area: around(p, '', centre),
      };
    });
    return {
      pieces: [],
      places,
      drawing: byObject ? fromAbove(p, cells, centre) : fromTheFront(p, places, centre),
      height: p.top,
      footprint: around(p, '', centre),
      remarks: [],
    };
  },
};

/** Why a finished file cannot carry an axis. */
function unwritable(axis: Axis): Fault[] {
  if (!carriedFactors.includes(axis.factor))
    return [
      fault(
        'specimens.factor',
        'axes.0.factor',
        `${factorOf(axis.factor)?.label ?? axis.factor} cannot be changed in a finished file`,
        'choose a temperature, fan, flow, pressure advance, a speed, acceleration, retraction or nozzle height',
      ),
    ];
  return axis.kind === 'ramp'
    ? [
        fault(
          'specimens.ramp',
          'axes.0.kind',
          'a finished file carries its values in steps, not running on',
          'take the tick away, or take more bands',
        ),
      ]
    : [];
}

/** Why levels do not go over the part as it is measured. */
function misplaced({ along, levels }: Axis, p: Params): Fault[] {
  if (along === 'tile') {
    const objects = p['objects'] ?? 0;
    if (levels.length <= objects) return [];
    return [
      fault(
        'specimens.objects',
        'axes.0.levels',
        objects === 0
          ? 'in this file no objects can be told apart'
          : `${levels.length} values, and ${objects} objects stand on the bed`,
        objects === 0 ? 'lay the values out by height' : `give at most ${objects} values`,
      ),
    ];
  }
  const borders = bordersOf(p, levels.length);
  return borders.some((v, k) => k > 0 && !(v > borders[k - 1]! + 1e-6))
    ? [
        fault(
          'specimens.bands',
          'specimen.params.from',
          'a band ends where it begins, or below',
          'give borders that rise from band to band',
        ),
      ]
    : [];
}

/** A box of the part with room for the width of its lines, about the middle of the bed. */
const around = (p: Params, of: string, centre: { x: number; y: number }) => [
  solid(
    rectangle(
      p[`${of}x0`]! - 0.6 - centre.x,
      p[`${of}y0`]! - 0.6 - centre.y,
      p[`${of}x1`]! + 0.6 - centre.x,
      p[`${of}y1`]! + 0.6 - centre.y,
    ),
  ),
];

function fromTheFront(p: Params, places: readonly Place[], centre: { x: number; y: number }): Drawing {
  const [left, right] = [p.x0 - centre.x, p.x1 - centre.x];
  return {
    view: 'side',
    x: [left, right],
    y: [0, p.top],
    shapes: [
      { cell: -1, part: 'base', path: silhouette(p, centre.x, 0, p.top) },
      ...places.map((q): DrawingShape => ({
        cell: q.cell,
        part: 'body',
        path: silhouette(p, centre.x, q.z[0], q.z[1]),
      })),
    ],
    labels: places.map((q) => ({ cell: q.cell, x: (left + right) / 2, y: (q.z[0] + q.z[1]) / 2 })),
  };
}

/** Every object as it stands on the bed; those without a value are drawn as base. */
function fromAbove(p: Params, cells: readonly Cell[], centre: { x: number; y: number }): Drawing {
  const objects = Array.from({ length: p['objects'] ?? 0 }, (_, k) => k);
  const middle = (k: number, axis: 'x' | 'y') => (p[`o${k}${axis}0`]! + p[`o${k}${axis}1`]!) / 2 - centre[axis];
  return {
    view: 'above',
    x: [p.x0 - centre.x, p.x1 - centre.x],
    y: [p.y0 - centre.y, p.y1 - centre.y],
    shapes: objects.map((k): DrawingShape => ({
      cell: cells[k]?.id ?? -1,
      part: k < cells.length ? 'body' : 'base',
      path: outline(p, k, centre),
    })),
    labels: cells.map((c, k) => ({ cell: c.id, x: middle(k, 'x'), y: middle(k, 'y') })),
  };
}

/** The outline of an object from above: its left and right in stripes from front to back. */
function outline(p: Params, object: number, centre: { x: number; y: number }): string {
  const [y0, y1] = [p[`o${object}y0`]! - centre.y, p[`o${object}y1`]! - centre.y];
  const y = (k: number) => y0 + ((y1 - y0) * k) / STRIPES_ABOVE;
  const side = (letter: 'a' | 'b', k: number) =>
    (p[`o${object}${letter}${k}`] ?? p[`o${object}${letter === 'a' ? 'x0' : 'x1'}`]!) - centre.x;
  const stripes = Array.from({ length: STRIPES_ABOVE }, (_, k) => k);
  const right = stripes.flatMap((k): [number, number][] => [
    [side('b', k), y(k)],
    [side('b', k), y(k + 1)],
  ]);
  const left = [...stripes].reverse().flatMap((k): [number, number][] => [
    [side('a', k), y(k + 1)],
    [side('a', k), y(k)],
  ]);
  return pathOf([...right, ...left]);
}

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
  return pathOf(points);
}

const pathOf = (points: readonly [number, number][]): string =>
  `M${points.map(([x, y]) => `${Number(x.toFixed(2))} ${Number(y.toFixed(2))}`).join('L')}Z`;
