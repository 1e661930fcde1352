import * as z from 'zod';
import { fault, rounded, show } from '#core/base';
import { filamentArea, MOST_DRAWN_BACK } from '#core/context';
import { factorOf } from '#core/factors';
import { rectangle, solid } from '#core/geometry';
import { alongWords, cellSettings, type Axis, type Cell } from '#core/plan';
import { lineArea, lineSpacing, settingOf, type Settings } from '#core/settings';
import { bandsOver, baseOf, factorAlong, groupsAlong, SOLID_BASE } from '../bands';
import { numeralHeight, numeralStrokes, numeralWidth, valueDigits } from '../labels';
import { boxPath } from '../paths';
import type { Built, DrawingShape, Piece, Place, Region, Specimen, Stroke, StrokeLayer } from '../specimen';
import { tilesOf } from '../tiles';
import { nubs, nubWords } from './nub-code';

const params = z.strictObject({
  gap: z.number().min(3).max(60),
  fin: z.number().min(6).max(60),
  bandHeight: z.number().min(1).max(40),
  gaps: z.int().min(1).max(24),
});
type Params = z.infer<typeof params>;

const BASE = 0.4;
/** Room in front of the fins, mm. */
const AROUND = 2;

/** Behind the fins the way back keeps so far from them, mm. */
const BEHIND = 2;

/** A rail behind the fins is so many layers high, at the top of each band. */
const RAIL_LAYERS = 2;

/**
 * Slender fins in a row. Each gap is crossed one way only, at its own cell's settings; the way back leads behind them
 * at the trial's own. Bands upward and gaps along the row make two factors one map.
 */
export const fence: Specimen<Params> = {
  id: 'fence',
  label: 'Retraction fence',
  purpose:
    'Slender fins with air between: strings in the gap, a missing start on the fin after it. Each gap is crossed one way, at its own values.',
  guide: {
    look: 'In each gap for strings, and on the front edge of the fin after it for a missing start.',
    why: 'Each gap is crossed one way only and at its own values, so that neighbours do not soil one another. Fins are tied at the back, by rails where gaps differ and by a wall where they are alike, so that none sways under the nozzle.',
    weak: 'Strings are judged at the front edges: what drips on the way back lands behind, on rail or wall, and tells nothing.',
  },
  params,
  fields: [
    { key: 'gap', label: 'air between fins', unit: 'mm', least: 3, most: 60, step: 1 },
    { key: 'fin', label: 'length of a fin', unit: 'mm', least: 6, most: 60, step: 1 },
    { key: 'bandHeight', label: 'height of a band', unit: 'mm', least: 1, most: 40, step: 1 },
    { key: 'gaps', label: 'gaps otherwise', unit: '', least: 1, most: 24, step: 1 },
  ],
  layouts: ['row', 'height', 'tile'],
  judges: ['stringing', 'restart', 'surface'],
  start: ({ printer }) => ({ gap: printer.extruder.type === 'direct' ? 7 : 9, fin: 11, bandHeight: 4, gaps: 4 }),
  accepts: (axes) =>
    axes.flatMap((a, i) => {
      const setting = factorOf(a.factor)?.setting;
      if (a.along === 'print')
        return [
          fault(
            'specimens.layout',
            `axes.${i}.along`,
            `a fence does not carry levels ${alongWords.print}`,
            'lay it out in a row',
          ),
        ];
      // A fin stands between two gaps: only what happens on the way between fins belongs to one of them.
      return a.along === 'row' && (!setting || settingOf(setting).scope !== 'travel' || setting === 'pressureAdvance')
        ? [
            fault(
              'specimens.travel',
              `axes.${i}.factor`,
              'from gap to gap only what happens on travel can change',
              'vary retraction, un-retract, Z-hop, wipe or travel in a row, and this by height or as tiles',
            ),
          ]
        : [];
    }),
  build(p, cells, s, context, axes = []): Built {
    const groups = groupsAlong(cells, axes, 'tile');
    const tiled = axes.some((a) => a.along === 'tile');
    const byRow = factorAlong(axes, 'row');
    const longest = Math.max(
      s.retractionDistance,
      ...cells.map((c) => ({ ...s, ...cellSettings(c, s) }).retractionDistance),
    );
    const line = lineArea(s.lineWidth, s.layerHeight, s.lineVolume);
    // Each fin feeds 2 × its length of line; a piece of filament passes twice for every retraction that covers it.
    const least = (longest / MOST_DRAWN_BACK.own) * (filamentArea(context.filament) / (2 * line));
    const fin = Math.max(p.fin, Math.ceil(least));
    const rows = groupsAlong(groups[0]!, axes, 'row').length;
    const gaps = byRow === undefined ? p.gaps : rows;
    const high = numeralHeight(s.lineWidth);
    const widest =
      byRow === undefined ? 0 : Math.max(...cells.map((c) => numeralWidth(valueDigits(c, byRow), high, s.lineWidth)));
    const spacing = lineSpacing(s.lineWidth, s.layerHeight, s.lineVolume);
    const thick = s.lineWidth + spacing;
    const pitch = Math.max(p.gap + thick, widest + 2.4);
    const apron = byRow === undefined ? AROUND + 1 : high + 2 + AROUND;
    const size = { width: gaps * pitch + thick + 6, depth: fin + apron + 4 };
    const spots = tilesOf(groups.length, size, s, context.printer.head.radius, axes);
    const base = baseOf(BASE, s);
    const finished = groups.map((own, i) =>
      oneFence(own, axes, { ...p, gaps }, s, {
        fin,
        pitch,
        thick,
        spacing,
        web: byRow === undefined,
        apron,
        base,
        high,
        x: spots[i]!.x,
        y: spots[i]!.y,
        tile: i + 1,
      }),
    );
    const footprint = spots.map(({ x, y }) =>
      solid(rectangle(x - size.width / 2, y - size.depth / 2, x + size.width / 2, y + size.depth / 2)),
    );
    const xs = footprint.flatMap((q) => q.outer.map((o) => o.x));
    const ys = footprint.flatMap((q) => q.outer.map((o) => o.y));
    const top = Math.max(...finished.map((q) => q.top));
    return {
      pieces: finished.map((q) => q.piece),
      places: finished.flatMap((q) => q.places),
      drawing: tiled
        ? {
            view: 'above',
            x: [Math.min(...xs), Math.max(...xs)],
            y: [Math.min(...ys), Math.max(...ys)],
            shapes: finished.flatMap((q) => q.above),
          }
        : {
            view: 'side',
            x: [-size.width / 2, size.width / 2],
            y: [0, top],
            shapes: finished[0]!.side,
            labels: finished[0]!.labels,
          },
      height: top,
      footprint,
      remarks: [
        ...(axes.some((a) => a.along === 'height' && a.levels.length > 1)
          ? [nubWords('at the left, from the rear,')]
          : []),
        byRow === undefined
          ? 'a wall behind the fins ties them and gives each layer its time'
          : 'rails behind the fins tie them, at the top of each band',
        ...(fin > p.fin
          ? [
              `fins are ${show(fin, 0)} mm long, not ${show(p.fin, 0)} mm: no piece of filament is to be drawn back more than ${MOST_DRAWN_BACK.own} times`,
            ]
          : []),
      ],
    };
  },
};

interface Measures {
  fin: number;
  pitch: number;
  thick: number;
  spacing: number;
  /** Alike gaps have a wall behind them all the way up, others a rail at each band’s top. */
  web: boolean;
  apron: number;
  base: number;
  high: number;
  x: number;
  y: number;
  tile: number;
}

function oneFence(own: readonly Cell[], axes: readonly Axis[], p: Params, s: Settings, m: Measures) {
  const byRow = factorAlong(axes, 'row');
  const stacks = groupsAlong(own, axes, 'height');
  const columns = groupsAlong(own, axes, 'row');
  const bands = bandsOver(
    stacks.map((g) => g[0]!),
    m.base,
    p.bandHeight,
    s,
  );
  const top = bands[bands.length - 1]!.to;
  const half = (p.gaps * m.pitch) / 2;
  const [y0, y1] = [m.y - m.fin / 2 + m.apron / 2, m.y + m.fin / 2 + m.apron / 2];
  const finX = (k: number) => m.x - half + k * m.pitch;
  // Back to the first fin behind all of them: what drips there touches no judged edge.
  const [right, left, back] = [finX(p.gaps) + m.thick / 2 + 1.5, finX(0) - m.thick / 2 - 1.5, y1 + BEHIND];
  const [outward, homeward] = [[y0, back].map((y) => ({ x: right, y })), [back, y0].map((y) => ({ x: left, y }))];
  /** The cell of the gap left of fin k in a band. */
  const cellAt = (k: number, band: number): Cell | undefined => {
    if (k === 0) return undefined;
    const column = byRow === undefined ? undefined : columns[k - 1]?.map((c) => c.id);
    return stacks[band]!.find((c) => column === undefined || column.includes(c.id));
  };
  const layers: StrokeLayer[] = [];
  const step = m.thick - s.lineWidth;
  let tiedBelow = false;
  for (let bottom = m.base; bottom < top - 1e-6;) {
    const z = Math.round((bottom + s.layerHeight) * 1e6) / 1e6;
    const band = bands.findIndex((b) => bottom + 1e-6 < b.to);
    const tied = m.web || z > bands[band]!.to - (RAIL_LAYERS - 0.5) * s.layerHeight;
    // Where a rail lies over the fins' rears, they end one line before it.
    const rear = tied ? y1 - m.spacing : y1;
    const strokes = Array.from({ length: p.gaps + 1 }, (_, k): Stroke => {
      const x = finX(k) - step / 2;
      return {
        cell: cellAt(k, band)?.id ?? -1,
        role: 'outer-wall',
        crossing: k > 0,
        points: [
          { x, y: y0 },
          // The outer face of the first fin, up from its rear, has the nubs to its right when it is laid from there.
          ...(k === 0 && bands.length > 1 ? nubs({ x, y: y1 }, { x, y: y0 }, band + 1, z, bands[band]!).reverse() : []),
          { x, y: rear },
          { x: x + step, y: rear },
          { x: x + step, y: y0 },
        ],
        ...(k === 0 && { way: tiedBelow ? homeward : [...outward, ...homeward] }),
      };
    });
    if (tied)
      strokes.push({
        cell: -1,
        role: m.web || tiedBelow ? 'inner-wall' : 'bridge',
        // The way back is laid: from the last fin to the first.
        points: [finX(p.gaps) + step / 2, finX(0) - step / 2].map((x) => ({ x, y: y1 })),
        way: outward,
      });
    tiedBelow = tied;
    layers.push({ z, height: s.layerHeight, strokes });
    bottom = z;
  }
  const places: Place[] = bands.flatMap((b, band) =>
    Array.from({ length: p.gaps }, (_, k): Place[] => {
      const cell = cellAt(k + 1, band);
      return cell
        ? [{ cell: cell.id, z: [b.from, b.to], area: [solid(rectangle(finX(k), y0 - 1, finX(k + 1), y1 + 1))] }]
        : [];
    }).flat(),
  );
  // The value of each gap stands on the plate before it.
  const apron = byRow === undefined ? 1.5 : m.apron - 0.5;
  const plate = [solid(rectangle(finX(0) - 2.5, y0 - apron, finX(p.gaps) + 2.5, y1 + 1.5))];
  const figures: Stroke[] =
    byRow === undefined
      ? []
      : columns.flatMap((g, k) =>
          numeralStrokes(
            valueDigits(g[0]!, byRow),
            { x: (finX(k) + finX(k + 1)) / 2, y: y0 - m.apron + 1 },
            m.high,
            s.lineWidth,
          ).map((n) => ({ ...n, cell: -1 })),
        );
  layers[0]?.strokes.unshift(...figures);
  const piece: Piece = {
    name: `fence ${m.tile}`,
    ...(own.length === 1 && { cell: own[0]!.id }),
    strokes: layers,
    solid: {
      breaks: [m.base],
      top: m.base,
      at: (z): Region[] => (z < 0 || z >= m.base ? [] : [{ cell: -1, outline: plate, own: SOLID_BASE }]),
    },
  };
  const merged = mergedByCell(places);
  const side: DrawingShape[] = [{ cell: -1, part: 'base', path: boxPath(finX(0) - 3, 0, finX(p.gaps) + 3, m.base) }];
  const above: DrawingShape[] = [
    { cell: -1, part: 'base', path: boxPath(finX(0) - 3, y0 - m.apron, finX(p.gaps) + 3, y1 + 2) },
  ];
  const labels: NonNullable<Built['drawing']['labels']> = [];
  bands.forEach((b, band) => {
    if (!m.web)
      side.push({
        cell: -1,
        part: 'bridge',
        path: boxPath(finX(0), b.to - RAIL_LAYERS * s.layerHeight, finX(p.gaps), b.to),
      });
    for (let k = 0; k <= p.gaps; k++) {
      const cell = cellAt(k, band);
      if (cell)
        side.push({
          cell: cell.id,
          part: 'air',
          path: boxPath(finX(k - 1) + m.thick / 2, b.from, finX(k) - m.thick / 2, b.to),
        });
      side.push({ cell: -1, part: 'body', path: boxPath(finX(k) - m.thick / 2, b.from, finX(k) + m.thick / 2, b.to) });
    }
    if (stacks.length > 1)
      labels.push({ cell: stacks[band]![0]!.id, x: finX(0) + m.pitch / 2, y: (b.from + b.to) / 2 });
  });
  for (let k = 0; k <= p.gaps; k++)
    above.push({
      cell: cellAt(k, 0)?.id ?? -1,
      part: 'body',
      path: boxPath(finX(k) - m.thick / 2, y0, finX(k) + m.thick / 2, y1),
    });
  return { piece, places: merged, top: rounded(top, 6), side, above, labels };
}

/** A cell that holds several gaps has one place of several areas. */
function mergedByCell(places: readonly Place[]): Place[] {
  const known = new Map<number, Place>();
  for (const p of places) {
    const before = known.get(p.cell);
    if (before) before.area = [...before.area, ...p.area];
    else known.set(p.cell, { ...p });
  }
  return [...known.values()];
}
