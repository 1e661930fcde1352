import * as z from 'zod';
import { fault, show } from '#core/base';
import { boundsOf, distance, distanceToEdges, offset, rectangle, solid, type Point } from '#core/geometry';
import { alongWords, cellSettings, type Axis, type Cell } from '#core/plan';
import { lineSpacing, type Settings } from '#core/settings';
import { bandsOver, baseOf, factorAlong, groupsAlong, type Band } from '../bands';
import { numeralHeight, numeralStrokes, numeralWidth, valueDigits } from '../labels';
import { boxPath, f, linePath } from '../paths';
import type {
  Built,
  DrawingShape,
  Piece,
  Place,
  Specimen,
  SpecimenField,
  SpecimenGuide,
  Stroke,
  StrokeLayer,
} from '../specimen';
import { tilesOf } from '../tiles';
import { nubs, nubWords } from './nub-code';

export const wallParams = z.strictObject({
  length: z.number().min(10).max(400),
  depth: z.number().min(10).max(400),
  bandHeight: z.number().min(1).max(40),
});
export type WallParams = z.infer<typeof wallParams>;

interface WallSpecimen<P extends WallParams> {
  id: string;
  label: string;
  purpose: string;
  guide: SpecimenGuide;
  layouts: readonly Axis['along'][];
  judges: readonly string[];
  judgesOnly?: NonNullable<Specimen['judgesOnly']>;
  measures?: readonly string[];
  /** Its own parameters beside those of every wall. */
  own?: { params: z.ZodType<P>; fields: readonly SpecimenField[] };
  start: Specimen<P>['start'];
  /** Loops beside one another. */
  loops: 1 | 2;
  /** The outline of the wall's middle line, its first point where the seam is wanted. */
  outline(p: P): Point[];
  /** Radius of its turns where it has no corners, mm. */
  turn?(p: P): number;
  /** Loops on the bed on each side of it, so that it stands; left out, three. */
  feet?(p: P): number;
}

const BASE = 0.6;
const FEET = 3;

/** A wall of one or two loops laid line by line, nothing inside: bands on it, or walls of their own side by side. */
export function wall<P extends WallParams = WallParams>(make: WallSpecimen<P>): Specimen<P> {
  const { outline, loops, own, turn, feet = () => FEET, ...rest } = make;
  return {
    ...rest,
    params: own?.params ?? (wallParams as unknown as z.ZodType<P>),
    fields: [
      { key: 'length', label: 'length', unit: 'mm', least: 10, most: 400, step: 5 },
      { key: 'depth', label: 'depth', unit: 'mm', least: 10, most: 400, step: 5 },
      { key: 'bandHeight', label: 'height of a band', unit: 'mm', least: 1, most: 40, step: 1 },
      ...(own?.fields ?? []),
    ],
    accepts: (axes) =>
      axes.flatMap((a, i) => {
        if (a.factor === 'layer-height')
          return [
            fault(
              'specimens.layers',
              `axes.${i}.factor`,
              'this wall is laid line by line at one layer height',
              'vary the layer height on a solid specimen',
            ),
          ];
        return make.layouts.includes(a.along)
          ? []
          : [
              fault(
                'specimens.layout',
                `axes.${i}.along`,
                `a wall does not carry levels ${alongWords[a.along]}`,
                `lay it out ${make.layouts.map((l) => alongWords[l]).join(' or ')}`,
              ),
            ];
      }),
    build: (p, cells, settings, context, axes = []) => {
      const ring = outline(p);
      const built = build(ring, { loops, feet: feet(p) }, p, cells, settings, axes, context.printer.head.radius);
      const speeds = speedWords(cells, settings, axes, ring, turn?.(p), context.printer.maximum.speed);
      return speeds === '' ? built : { ...built, remarks: [speeds, ...built.remarks] };
    },
  };
}

/** Which speeds a wall runs at, and how far the machine comes: √(acceleration × length), in a turn × its radius. */
function speedWords(
  cells: readonly Cell[],
  s: Settings,
  axes: readonly Axis[],
  ring: readonly Point[],
  turn: number | undefined,
  most: number,
): string {
  if (!axes.some((a) => a.factor === 'volumetric-flow' || a.factor === 'outer-wall-speed')) return '';
  const speeds = cells.map((c) => ({ ...s, ...cellSettings(c, s) }).outerWallSpeed);
  const longest = Math.max(...ring.map((q, i) => distance(q, ring[(i + 1) % ring.length]!)));
  const reach = (over: number) => show(Math.min(most, Math.sqrt(s.acceleration * over)), 0);
  const slow = turn !== undefined && Math.sqrt(s.acceleration * turn) < Math.max(...speeds);
  return `the wall runs at ${show(Math.min(...speeds), 0)} to ${show(Math.max(...speeds), 0)} mm/s; over its ${show(longest, 0)} mm, ${show(s.acceleration)} mm/s² reach up to ${reach(longest)} mm/s from standstill${slow ? `; turns of ${show(turn, 0)} mm are passed at up to ${reach(turn)} mm/s: judge the straights` : ''}`;
}

function build(
  ring: Point[],
  { loops, feet }: { loops: number; feet: number },
  p: WallParams,
  cells: readonly Cell[],
  s: Settings,
  axes: readonly Axis[],
  headRadius: number,
): Built {
  const groups = groupsAlong(cells, axes, 'tile');
  const tiled = axes.some((a) => a.along === 'tile');
  const box = boundsOf([solid(ring)])!;
  const high = numeralHeight(s.lineWidth);
  const margin = (feet + 1) * s.lineWidth;
  const by = factorAlong(axes, 'tile');
  // A figure stands in the middle, as far from every line as a line is wide.
  const middle = { x: (box.x0 + box.x1) / 2, y: (box.y0 + box.y1) / 2 };
  const inside = distanceToEdges([solid(ring)], middle) > 1.2 * high;
  const size = { width: box.x1 - box.x0 + 2 * margin, depth: box.y1 - box.y0 + 2 * margin };
  const spots = tilesOf(groups.length, size, s, headRadius, axes);
  const banded = axes.some((a) => a.along === 'height');
  const base = banded ? baseOf(BASE, s) : 0;
  const pieces: Piece[] = [];
  const places: Place[] = [];
  const above: DrawingShape[] = [];
  const side: DrawingShape[] = [];
  const labels: NonNullable<Built['drawing']['labels']> = [];
  groups.forEach((own, i) => {
    const at = spots[i]!;
    const moved = (points: readonly Point[]) =>
      points.map((q) => ({ x: q.x - (box.x0 + box.x1) / 2 + at.x, y: q.y - (box.y0 + box.y1) / 2 + at.y }));
    const main = moved(ring);
    const rings = [
      ...(loops > 1 ? inner(main, lineSpacing(s.lineWidth, s.layerHeight, s.lineVolume)) : []),
      { points: main, role: 'outer-wall' as const },
    ];
    const bands = banded ? bandsOver(own, base, p.bandHeight, s) : bandsOver(own.slice(0, 1), 0, p.bandHeight, s);
    const top = bands[bands.length - 1]!.to;
    const layers: StrokeLayer[] = [];
    for (let bottom = 0, k = 0; bottom < top - 1e-6; k++) {
      const height = k === 0 ? s.firstLayerHeight : s.layerHeight;
      const z = Math.round((bottom + height) * 1e6) / 1e6;
      const on = bands.findIndex((b) => bottom + height / 2 >= b.from && bottom + height / 2 < b.to);
      // The last layer of the base is laid as the first band is, which else would begin on what a slow layer let cool.
      const leads = k > 0 && on < 0 && z + s.layerHeight / 2 >= bands[0]!.from;
      const cell = bands[leads ? 0 : on]?.cell.id ?? -1;
      const strokes: Stroke[] = [];
      if (k === 0) {
        strokes.push(...feetOf(main, feet, s).map((points): Stroke => ({ cell: -1, points, role: 'brim' })));
        if (tiled && inside)
          strokes.push(
            ...numeralStrokes(valueDigits(own[0]!, by), { x: at.x, y: at.y - high / 2 }, high, s.lineWidth).map(
              (n) => ({
                ...n,
                cell: -1,
              }),
            ),
          );
      }
      const coded = bands.length > 1 && on >= 0 ? withNubs(main, on + 1, z, bands[on]!) : main;
      for (const { points, role } of rings) {
        const ring = role === 'outer-wall' ? coded : points;
        strokes.push({ cell, role, points: [...ring, ring[0]!] });
      }
      layers.push({ z, height, strokes });
      bottom = z;
    }
    pieces.push({ strokes: layers, name: `wall ${i + 1}`, ...(own.length === 1 && { cell: own[0]!.id }) });
    const half = { x: size.width / 2 + 1, y: size.depth / 2 + 1 };
    const area = [solid(rectangle(at.x - half.x, at.y - half.y, at.x + half.x, at.y + half.y))];
    places.push(...bands.map((b) => ({ cell: b.cell.id, z: [b.from, b.to] as [number, number], area })));
    above.push({ cell: own[0]!.id, part: 'line', path: linePath(main, true) });
    if (i === 0) {
      const [left, right] = [box.x0 - (box.x0 + box.x1) / 2, (box.x1 - box.x0) / 2];
      if (base > 0) side.push({ cell: -1, part: 'base', path: boxPath(left - 1, 0, right + 1, base) });
      for (const b of bands) {
        side.push({ cell: b.cell.id, part: 'body', path: boxPath(left, b.from, right, b.to) });
        side.push({
          cell: b.cell.id,
          part: 'level',
          path: boxPath(right - (right - left) * 0.04, b.from, right, b.to),
        });
        labels.push({ cell: b.cell.id, x: 0, y: (b.from + b.to) / 2 });
      }
      // Where the wall turns, seen from the side.
      for (const q of corners(moved(ring))) side.push({ cell: -1, part: 'edge', path: `M${f(q)} 0V${f(top)}` });
    }
  });
  const footprint = spots.map(({ x, y }) =>
    solid(rectangle(x - size.width / 2, y - size.depth / 2, x + size.width / 2, y + size.depth / 2)),
  );
  const all = boundsOf(footprint)!;
  const top = Math.max(...pieces.map((q) => q.strokes!.at(-1)!.z));
  return {
    pieces,
    places,
    drawing: tiled
      ? { view: 'above', x: [all.x0, all.x1], y: [all.y0, all.y1], shapes: above }
      : { view: 'side', x: [-size.width / 2, size.width / 2], y: [0, top], shapes: side, labels },
    height: top,
    footprint,
    remarks:
      tiled && inside && numeralWidth(valueDigits(cells[0]!, by), high, s.lineWidth) < size.width
        ? []
        : [
            banded && cells.length > 1
              ? nubWords('at the rear')
              : 'a wall this slim carries no figures: measure, or use the label map',
          ],
  };
}

/** The wall with its number at its rear, on the later half of the edge there: far from where corners are judged. */
function withNubs(ring: readonly Point[], number: number, z: number, band: Band): Point[] {
  const far = Math.max(...ring.map((q) => q.y));
  const edge = ring.findIndex((q, i) => {
    const next = ring[(i + 1) % ring.length]!;
    return far - q.y < 1e-6 && far - next.y < 1e-6 && distance(q, next) > 5;
  });
  if (edge < 0) return [...ring];
  const [a, b] = [ring[edge]!, ring[(edge + 1) % ring.length]!];
  const middle = { x: (a.x + b.x) / 2, y: far };
  return [...ring.slice(0, edge + 1), ...nubs(middle, b, number, z, band), ...ring.slice(edge + 1)];
}

/** Corners as X, where the outline turns by more than 30°. */
function corners(ring: readonly Point[]): number[] {
  return ring.flatMap((p, i) => {
    const a = ring[(i + ring.length - 1) % ring.length]!;
    const b = ring[(i + 1) % ring.length]!;
    const turn = Math.abs(
      Math.atan2(
        (p.x - a.x) * (b.y - p.y) - (p.y - a.y) * (b.x - p.x),
        (p.x - a.x) * (b.x - p.x) + (p.y - a.y) * (b.y - p.y),
      ),
    );
    return turn > Math.PI / 6 ? [p.x] : [];
  });
}

/** The loop inside a loop, begun near where that begins. */
function inner(ring: Point[], by: number): { points: Point[]; role: 'inner-wall' }[] {
  const inside = offset([solid(ring)], -by)[0]?.outer;
  if (!inside) return [];
  let best = 0;
  inside.forEach((q, i) => {
    if (distance(q, ring[0]!) < distance(inside[best]!, ring[0]!)) best = i;
  });
  return [{ points: [...inside.slice(best), ...inside.slice(0, best)], role: 'inner-wall' }];
}

/** Loops on the bed outside and inside of a slim wall, so that it stands. */
function feetOf(ring: Point[], count: number, s: Settings): Point[][] {
  const step = lineSpacing(s.lineWidth, s.firstLayerHeight, s.lineVolume);
  return Array.from({ length: count }, (_, i) => [(count - i) * step, (i - count) * step])
    .flat()
    .flatMap((by) => offset([solid(ring)], by).map((q) => [...q.outer, q.outer[0]!]));
}

/**
 * Corners of 45, 90 and three of 135° (540° in all), with edges long enough to come up to speed; begun on the longest
 * edge.
 */
export function fiveCorners({ length, depth }: Pick<WallParams, 'length' | 'depth'>): Point[] {
  const cut = depth * 0.35;
  return [
    { x: length * 0.4, y: 0 },
    { x: length - cut, y: 0 },
    { x: length, y: cut },
    { x: length, y: depth },
    { x: depth, y: depth },
    { x: 0, y: 0 },
  ];
}
