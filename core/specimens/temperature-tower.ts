import * as z from 'zod';
import { fault, rounded } from '#core/base';
import {
  circle,
  difference,
  numerals,
  numeralWidth,
  rectangle,
  solid,
  union,
  type Polygon,
  type Ring,
} from '#core/geometry';
import type { Cell } from '#core/plan';
import { usualLine, type Settings } from '#core/settings';
import { SOLID_BASE } from './bands';
import { numeralHeight } from './labels';
import type { Built, DrawingShape, Region, Specimen } from './specimen';

const params = z.strictObject({
  bandHeight: z.number().min(5).max(20),
  baseHeight: z.number().min(0.6).max(5),
  span: z.number().min(6).max(40),
  air: z.number().min(4).max(40),
});
type Params = z.infer<typeof params>;

const STEEPEST = (75 * Math.PI) / 180;

/** All measures of one tower, mm. x from the left, y from the front (negative) to the back, t up from a band's foot. */
interface Measures {
  w: number;
  layer: number;
  base: number;
  band: number;
  depth: number;
  outer: [number, number];
  broad: [number, number];
  mast: [number, number];
  /** A plate at the mast’s rear that reaches so far beyond it, and its thickness. */
  brace: { reach: number; thick: number };
  ledge: { radius: number; foot: number; rise: number; reach: number; lip: number };
  spike: { foot: number; top: number; radius: number; tip: number; x: number };
  waist: { middle: number; half: number };
  ribbon: { foot: number; top: number; half: number };
  numeral: { height: number; stroke: number; foot: number } | undefined;
  groove: number;
}

function measuresOf(p: Params, cells: readonly Cell[], s: Settings): Measures {
  const w = s.lineWidth;
  const k = Math.max(1, w / 0.45);
  const layer = s.layerHeight;
  const base = s.firstLayerHeight + Math.max(2, Math.round((p.baseHeight - s.firstLayerHeight) / layer)) * layer;
  const band = Math.max(1, Math.round(p.bandHeight / layer)) * layer;
  const stroke = 2 * w;
  const height = numeralHeight(stroke);
  const numeral = band >= height + 0.8 ? { height, stroke, foot: (band - height) / 2 } : undefined;
  const longest = Math.max(0, ...cells.map((c) => numeralWidth(numeralOf(c), height, stroke)));
  const broadWidth = Math.max(14 * k, numeral ? longest + 3 * k : 0);
  const radius = 3 * k;
  const reach = radius * (1 - Math.cos(STEEPEST));
  const rise = radius * Math.sin(STEEPEST);
  const lip = 2 * layer;
  const outerWidth = 6 * k;
  const mastWidth = 4 * k;
  const brace = { reach: 3 * k, thick: 2 * w };
  const total = reach + outerWidth + p.span + broadWidth + p.air + mastWidth + brace.reach;
  const x0 = -total / 2 + reach;
  const outer: [number, number] = [x0, x0 + outerWidth];
  const broad: [number, number] = [outer[1] + p.span, outer[1] + p.span + broadWidth];
  const mast: [number, number] = [broad[1] + p.air, broad[1] + p.air + mastWidth];
  const ledgeTop = 0.3 + rise + lip;
  const half = Math.min(0.9, (band - 1.2 - 2.1) / 2 + 0.2);
  return {
    w,
    layer,
    base,
    band,
    depth: 6 * k,
    outer,
    broad,
    mast,
    brace,
    ledge: { radius, foot: 0.3, rise, reach, lip },
    spike: {
      foot: ledgeTop,
      top: Math.min(band - 0.3, ledgeTop + 1.9 * k),
      radius: Math.min(1.5 * w, reach / 2),
      tip: 0.8 * w,
      x: outer[0] - reach / 2,
    },
    waist: { middle: Math.max(2.05 + half, 0.62 * band), half },
    ribbon: { foot: band - 1.2, top: band - 0.4, half: 2 * k },
    numeral,
    groove: Math.max(0.6, 1.2 * w),
  };
}

/** The level of a cell as it stands on the pier. */
const numeralOf = (cell: Cell): string => {
  const value = Object.values(cell.labelled ?? cell.levels)[0];
  return value === undefined ? String(cell.id + 1) : String(rounded(value, 3));
};

/** How far the quarter-round ledge stands out at height t of a band; 0 where there is none. */
export function ledgeReach(ledge: Measures['ledge'], t: number): number {
  const up = t - ledge.foot;
  if (up <= 0 || up > ledge.rise + ledge.lip) return 0;
  const rise = Math.min(up, ledge.rise);
  return ledge.radius - Math.sqrt(ledge.radius * ledge.radius - rise * rise);
}

/** Depth of the waist's notch at height t, mm. */
const notch = (m: Measures, t: number): number => Math.max(0, m.waist.half - Math.abs(t - m.waist.middle));

function section(m: Measures, cell: Cell, t: number): Polygon[] {
  const back = m.depth / 2;
  const front = -back;
  const cut = notch(m, t);
  const reach = ledgeReach(m.ledge, t);
  const rects: Ring[] = [];
  rects.push(rectangle(m.outer[0], front + cut, m.outer[1] - cut, back - cut));
  if (reach > 0.02) rects.push(rectangle(m.outer[0] - reach, front + cut, m.outer[0] + 0.5, back - cut));
  rects.push(rectangle(m.broad[0] + cut, front, m.broad[1] - cut, back - cut));
  if (t > m.ribbon.foot && t <= m.ribbon.top) {
    rects.push(rectangle((m.outer[0] + m.outer[1]) / 2, -m.ribbon.half, (m.broad[0] + m.broad[1]) / 2, m.ribbon.half));
  }
  const mast = (m.mast[1] - m.mast[0]) / 2;
  rects.push(rectangle(m.mast[0], -mast, m.mast[1], mast));
  rects.push(rectangle(m.mast[0], mast - m.brace.thick, m.mast[1] + m.brace.reach, mast));
  let polygons = union(rects.map(solid));
  const marks = markSlots(m, cell, t);
  if (marks.length > 0) polygons = difference(polygons, marks.map(solid));
  if (t > m.spike.foot && t < m.spike.top) {
    const share = (t - m.spike.foot) / (m.spike.top - m.spike.foot);
    polygons = [...polygons, solid(circle(m.spike.x, 0, m.spike.radius + (m.spike.tip - m.spike.radius) * share, 20))];
  }
  return polygons;
}

/** Slots in the front of the broad pier at height t: the numerals, or a binary notch code where there is no room. */
function markSlots(m: Measures, cell: Cell, t: number): Ring[] {
  const front = -m.depth / 2;
  const middle = (m.broad[0] + m.broad[1]) / 2;
  const slot = (x0: number, x1: number) => rectangle(x0, front - 1, x1, front + m.groove);
  if (m.numeral) {
    const up = t - m.numeral.foot;
    return numerals(numeralOf(cell), m.numeral.height, m.numeral.stroke)
      .filter((ring) => up >= ring[0]!.y && up < ring[2]!.y)
      .map((ring) => slot(middle + ring[0]!.x, middle + ring[2]!.x));
  }
  if (t < 0.5 || t > m.band - 0.5) return [];
  return [0, 1, 2, 3, 4]
    .filter((bit) => ((cell.id + 1) >> bit) & 1)
    .map((bit) => {
      const x = middle + (2 - bit) * 4 * m.w;
      return slot(x - m.w, x + m.w);
    });
}

/**
 * Two unequal piers joined in each band by a flat ribbon, a braced mast apart, a quarter-round ledge, a fine spike, the value
 * in numerals, and a waist in each band at least 2 mm above the change of temperature.
 */
export const temperatureTower: Specimen<Params> = {
  id: 'temperature-tower',
  label: 'Temperature tower',
  purpose:
    'Two piers, a ribbon between them, a ledge, a spike and a mast apart: strings, overhang, bridge, surface and strength in every band.',
  guide: {
    look: 'Strings between the broad pier and the mast; the ledge’s underside; the ribbon’s middle; the face of the piers; the waist, by snapping it off.',
    why: 'One print shows all that temperature changes, and each band has a waist of its own to break, well above the change.',
    weak: 'A band takes up its temperature over its first millimetre or two: judge its upper half. The mast is slim: a plate at its rear keeps it from swaying, and towers of more than ten bands want a second print instead.',
  },
  params,
  fields: [
    { key: 'bandHeight', label: 'band height', unit: 'mm', least: 5, most: 20, step: 1 },
    { key: 'baseHeight', label: 'base', unit: 'mm', least: 0.6, most: 5, step: 0.2 },
    { key: 'span', label: 'ribbon span', unit: 'mm', least: 6, most: 40, step: 1 },
    { key: 'air', label: 'air to the mast', unit: 'mm', least: 4, most: 40, step: 1 },
  ],
  layouts: ['height'],
  // High enough for numerals that this nozzle can draw.
  start: ({ printer }) => ({
    bandHeight: Math.ceil(numeralHeight(2 * usualLine(printer.nozzle.diameter)) + 0.8),
    baseHeight: 1.2,
    span: 12,
    air: 8,
  }),
  accepts(axes) {
    if (axes.length !== 1)
      return [fault('specimens.axes', 'axes', `the tower carries one factor, not ${axes.length}`, 'choose one factor')];
    return axes[0]!.along === 'height'
      ? []
      : [fault('specimens.layout', 'axes.0.along', 'the tower carries levels by height only', 'choose height')];
  },
  build(p, cells, settings): Built {
    const m = measuresOf(p, cells, settings);
    const top = m.base + cells.length * m.band;
    const base = rectangle(
      m.outer[0] - m.ledge.reach - 2,
      -m.depth / 2 - 2.5,
      m.mast[1] + m.brace.reach + 2,
      m.depth / 2 + 2.5,
    );
    const bandFoot = (i: number) => m.base + i * m.band;
    const all = [solid(rectangle(base[0]!.x - 50, base[0]!.y - 50, base[2]!.x + 50, base[2]!.y + 50))];
    return {
      pieces: [
        {
          solid: {
            breaks: [
              m.base,
              ...cells.flatMap((_, i) => [m.ribbon.foot, m.ribbon.top, m.band].map((t) => bandFoot(i) + t)),
            ],
            top,
            at(z): Region[] {
              if (z < 0 || z >= top) return [];
              if (z < m.base) return [{ cell: -1, outline: [solid(base)], own: SOLID_BASE }];
              const i = Math.min(cells.length - 1, Math.floor((z - m.base) / m.band + 1e-9));
              const cell = cells[i]!;
              return [{ cell: cell.id, outline: section(m, cell, z - bandFoot(i)) }];
            },
          },
        },
      ],
      places: cells.map((cell, i) => ({
        cell: cell.id,
        z: [rounded(bandFoot(i), 6), rounded(bandFoot(i + 1), 6)],
        area: all,
      })),
      drawing: drawingOf(m, cells, base),
      height: top,
      footprint: [solid(base)],
      remarks: m.numeral
        ? []
        : [
            'bands this low have no room for numerals: grooves in the front of the broad pier count the band in binary, right to left',
          ],
    };
  },
};

function drawingOf(m: Measures, cells: readonly Cell[], base: Ring): Built['drawing'] {
  const shapes: DrawingShape[] = [];
  const box = (x0: number, y0: number, x1: number, y1: number) => `M${f(x0)} ${f(y0)}H${f(x1)}V${f(y1)}H${f(x0)}Z`;
  const [left, right] = [base[0]!.x, base[2]!.x];
  shapes.push({ cell: -1, part: 'base', path: box(left, 0, right, m.base) });
  cells.forEach((cell, i) => {
    const y = m.base + i * m.band;
    const add = (part: DrawingShape['part'], path: string) => shapes.push({ cell: cell.id, part, path });
    const low = y + m.waist.middle - m.waist.half;
    const mid = y + m.waist.middle;
    const high = y + m.waist.middle + m.waist.half;
    const d = m.waist.half;
    add('air', box(m.broad[1], y, m.mast[0], y + m.band));
    const [a0, a1] = m.outer;
    add(
      'body',
      `M${f(a0)} ${f(y)}H${f(a1)}V${f(low)}L${f(a1 - d)} ${f(mid)}L${f(a1)} ${f(high)}V${f(y + m.band)}H${f(a0)}Z`,
    );
    const { radius, foot, rise, reach, lip } = m.ledge;
    add(
      'ledge',
      `M${f(a0)} ${f(y + foot)}A${f(radius)} ${f(radius)} 0 0 1 ${f(a0 - reach)} ${f(y + foot + rise)}V${f(y + foot + rise + lip)}H${f(a0)}Z`,
    );
    const s = m.spike;
    add(
      'spike',
      `M${f(s.x - s.radius)} ${f(y + s.foot)}L${f(s.x - s.tip)} ${f(y + s.top)}H${f(s.x + s.tip)}L${f(s.x + s.radius)} ${f(y + s.foot)}Z`,
    );
    const [b0, b1] = m.broad;
    add(
      'body',
      `M${f(b0)} ${f(y)}H${f(b1)}V${f(low)}L${f(b1 - d)} ${f(mid)}L${f(b1)} ${f(high)}V${f(y + m.band)}H${f(b0)}V${f(high)}L${f(b0 + d)} ${f(mid)}L${f(b0)} ${f(low)}Z`,
    );
    add('level', box(b1 - 2.6, y, b1 - 1.2, y + m.band));
    add('bridge', box(a1, y + m.ribbon.foot, b0, y + m.ribbon.top));
    add('mast', box(m.mast[0], y, m.mast[1], y + m.band));
    add('mast', box(m.mast[1], y, m.mast[1] + m.brace.reach, y + m.band));
    if (m.numeral) {
      const middle = (b0 + b1) / 2;
      const path = numerals(numeralOf(cell), m.numeral.height, m.numeral.stroke)
        .map((r) =>
          box(middle + r[0]!.x, y + m.numeral!.foot + r[0]!.y, middle + r[2]!.x, y + m.numeral!.foot + r[2]!.y),
        )
        .join('');
      add('numeral', path);
    }
  });
  return { view: 'side', x: [left, right], y: [0, m.base + cells.length * m.band], shapes };
}

const f = (v: number): string => String(rounded(v, 3));
