import * as z from 'zod';
import { fault, rounded } from '#core/base';
import { areaOf, type Polygon } from '#core/geometry';
import { cellSettings, type Axis, type Cell } from '#core/plan';
import type { Settings } from '#core/settings';
import type { Built, DrawingShape, Piece, Place, Specimen } from '../specimen';
import { tilesOf } from '../tiles';
import type { Body } from './body';

const params = z.strictObject({ scale: z.number().min(0.3).max(5) });
type Params = z.infer<typeof params>;

/** Makes a specimen of a body of known measures: cells as bands by height, as tiles side by side, or both. */
export const checkSpecimen = (body: Body): Specimen<Params> => ({
  id: body.id,
  label: body.label,
  purpose: body.purpose,
  params,
  fields: [{ key: 'scale', label: 'scale', unit: '×', least: 0.3, most: 5, step: 0.1 }],
  layouts: ['tile', 'height'],
  start: () => ({ scale: 1 }),
  accepts: (axes) =>
    axes.flatMap((a, i) =>
      a.along === 'height' || a.along === 'tile'
        ? []
        : [
            fault(
              'specimens.layout',
              `axes.${i}.along`,
              'this specimen carries levels by height or as tiles',
              'choose height or tiles',
            ),
          ],
    ),
  build: (p, cells, settings, context, axes = []) =>
    build(body, p.scale, cells, axes, settings, context.printer.head.radius),
});

function build(
  body: Body,
  scale: number,
  cells: readonly Cell[],
  axes: readonly Axis[],
  settings: Settings,
  headRadius: number,
): Built {
  const tiled = axes.some((a) => a.along === 'tile');
  const key = (cell: Cell) => cell.index.filter((_, k) => axes[k]?.along === 'tile').join(',');
  const keys = [...new Set(cells.map(key))];
  const size = { width: body.width * scale, depth: body.depth * scale };
  const spots = tilesOf(keys.length, size, settings, headRadius, axes);
  const heights: number[] = [];
  const pieces: Piece[] = [];
  const places: Place[] = [];
  const shapes: DrawingShape[] = [];
  const outlineOf = (x: number, y: number): Polygon => ({
    outer: [
      { x: x - size.width / 2, y: y - size.depth / 2 },
      { x: x + size.width / 2, y: y - size.depth / 2 },
      { x: x + size.width / 2, y: y + size.depth / 2 },
      { x: x - size.width / 2, y: y + size.depth / 2 },
    ],
    holes: [],
  });
  keys.forEach((k, tile) => {
    const { x, y } = spots[tile]!;
    const own = cells.filter((c) => key(c) === k);
    const bands = bandsOf(own, body.height * scale, settings);
    const top = bands[bands.length - 1]!.to;
    // A body that is banded keeps its shape; its last band ends with it.
    heights.push(top);
    const at = (height: number) => {
      const cell = bands.find((b) => height < b.to - 1e-9)?.cell ?? own[own.length - 1]!;
      const outline = body
        .at((height / top) * body.height)
        .map((q) => ({ outer: moved(q.outer, scale, x, y), holes: q.holes.map((h) => moved(h, scale, x, y)) }));
      return outline.length > 0 ? [{ cell: cell.id, outline }] : [];
    };
    pieces.push({
      name: tiled ? `tile ${tile + 1}` : body.label,
      ...(own.length === 1 && { cell: own[0]!.id }),
      solid: {
        breaks: [...body.breaks.map((b) => (b / body.height) * top), ...bands.map((b) => b.to)],
        top,
        at: (height) => (height < 0 || height >= top ? [] : at(height)),
      },
    });
    for (const band of bands) {
      places.push({ cell: band.cell.id, z: [rounded(band.from, 6), rounded(band.to, 6)], area: [outlineOf(x, y)] });
      if (!tiled) shapes.push({ cell: band.cell.id, part: 'level', path: bar(size.width / 2 + 1, band.from, band.to) });
    }
    if (tiled) shapes.push({ cell: own[0]!.id, part: 'body', path: pathOf(broadest(body), scale, x, y) });
  });
  const high = Math.max(...heights);
  if (!tiled) {
    const path = body.side.replace(/-?\d+(\.\d+)?(e-?\d+)?/g, (v) => String(rounded(Number(v) * scale, 3)));
    // The flags of an arc are no lengths.
    shapes.unshift({
      cell: -1,
      part: 'body',
      path: body.side.includes('A') && scale !== 1 ? bar(-size.width / 2, 0, high, size.width) : path,
    });
  }
  const footprint = spots.map(({ x, y }) => outlineOf(x, y));
  const xs = footprint.flatMap((q) => q.outer.map((o) => o.x));
  const ys = footprint.flatMap((q) => q.outer.map((o) => o.y));
  return {
    pieces,
    places,
    drawing: tiled
      ? { view: 'above', x: [Math.min(...xs), Math.max(...xs)], y: [Math.min(...ys), Math.max(...ys)], shapes }
      : { view: 'side', x: [-size.width / 2 - 1, size.width / 2 + 3], y: [0, high], shapes },
    height: high,
    footprint,
    remarks: [],
  };
}

/** Bands of equal height, each a whole number of its own layers. */
function bandsOf(
  cells: readonly Cell[],
  height: number,
  settings: Settings,
): { cell: Cell; from: number; to: number }[] {
  let from = 0;
  return cells.map((cell, i) => {
    const s = { ...settings, ...cellSettings(cell, settings) };
    const first = i === 0 ? s.firstLayerHeight - s.layerHeight : 0;
    const layers = Math.max(1, Math.round((height / cells.length - first) / s.layerHeight));
    const to = cells.length === 1 ? height : from + first + layers * s.layerHeight;
    const band = { cell, from, to };
    from = to;
    return band;
  });
}

/** The section that covers most: what is seen from above. */
function broadest(body: Body): Polygon[] {
  const sections = [0.01, 0.5, 0.97].map((share) => body.at(share * body.height));
  return sections.reduce((a, b) => (areaOf(b) > areaOf(a) + 1e-6 ? b : a));
}

const moved = (ring: Polygon['outer'], scale: number, x: number, y: number) =>
  ring.map((p) => ({ x: p.x * scale + x, y: p.y * scale + y }));

const bar = (x: number, y0: number, y1: number, width = 1.2): string =>
  `M${rounded(x, 3)} ${rounded(y0, 3)}h${rounded(width, 3)}V${rounded(y1, 3)}h${rounded(-width, 3)}Z`;

const pathOf = (polygons: readonly Polygon[], scale: number, x: number, y: number): string =>
  polygons
    .flatMap((p) => [p.outer, ...p.holes])
    .map(
      (ring) =>
        `M${moved(ring, scale, x, y)
          .map((p) => `${rounded(p.x, 2)} ${rounded(p.y, 2)}`)
          .join('L')}Z`,
    )
    .join('');
