import * as z from 'zod';
import { fault } from '#core/base';
import { intersection, rectangle, solid, type Polygon } from '#core/geometry';
import { sliceable, polygonsOfPath, type PartNamed, type Sliceable } from '#core/part';
import { cellSettings, type Axis, type Cell } from '#core/plan';
import type { Settings } from '#core/settings';
import type { Band } from './bands';
import { formed } from './form';
import { bordersOf } from './own-part';
import { polygonPath } from './paths';
import type { Built, Region, Specimen } from './specimen';

/**
 * Its bands from `from` to `to`, mm above its foot, in whole layers of `layer`; `e1` …, borders between `bands` bands
 * where they are not equal. With `tab` a copy carries its value.
 */
const params = z
  .object({
    from: z.number().min(0).max(2000),
    to: z.number().min(0.1).max(2000),
    layer: z.number().min(0.02).max(2),
    tab: z.number().min(0).max(1),
  })
  .catchall(z.number());
type Params = z.infer<typeof params>;

const field = {
  label: 'Part from a mesh',
  purpose: 'A part of your own, from its mesh: made here at every level.',
  guide: {
    look: 'Where the part itself shows the fault.',
    why: 'Nothing is nearer to what is printed in the end than the part itself.',
    weak: 'A part shows what it has: on one without a bridge no bridge is judged.',
  },
  params: params as unknown as z.ZodType<Params>,
};

/** The piece of a part, kept from when it is at hand: what is planned does not lose it while other parts are held. */
export function pieceFor(part: PartNamed): () => Sliceable | undefined {
  let piece = sliceable(part);
  return () => (piece ??= sliceable(part));
}

/** What is printed of a part at a height, mm, by tool where more than one prints it. */
export function regionsAt(piece: Sliceable | undefined, z: number): Omit<Region, 'cell'>[] {
  const inTools = piece?.inTools(z) ?? [];
  if (inTools.length > 0)
    return inTools.map(({ tool, outline }) => ({ outline, own: { partTool: tool, infillTool: tool } }));
  const outline = piece?.at(z) ?? [];
  return outline.length > 0 ? [{ outline }] : [];
}

/** The part as a form: its sections are those of the mesh that its hash stands for. */
const copied = (part: PartNamed) => {
  const piece = pieceFor(part);
  const above = polygonsOfPath(part.above);
  return formed<Params>({
    id: 'user-part',
    ...field,
    fields: [],
    layouts: ['tile'],
    start: () => startOf(part),
    // Copies are told apart by it; one print by itself is the part and nothing more.
    tab: (p, axes) => (p.tab > 0 && axes.some((a) => a.along === 'tile') ? 'front' : 'none'),
    form: () => ({
      ...part.size,
      breaks: piece()?.breaks ?? [],
      at: (t) => regionsAt(piece(), t),
      side: part.side,
      above,
      tabs: [part.front],
    }),
  });
};

const startOf = (part: PartNamed): Params => ({ from: 0, to: part.size.height, layer: 0.2, tab: 1 });

/** The part that the user brings: as copies, by bands over its height, or a print for each level. */
export const userPart: Specimen<Params> = {
  id: 'user-part',
  ...field,
  fields: [{ key: 'tab', label: 'a tab with its value', unit: '', least: 0, most: 1, step: 1, along: 'tile' }],
  layouts: ['height', 'tile'],
  words: { tile: { laid: 'as copies', one: 'copy', many: 'copies' } },
  start: () => ({ from: 0, to: 20, layer: 0.2, tab: 1 }),
  accepts(axes, p) {
    const banded = axes.findIndex((a) => a.along === 'height');
    if (banded >= 0 && axes.length > 1)
      return [
        fault(
          'specimens.axes',
          `axes.${banded}.along`,
          'a part in bands carries one setting',
          'lay both settings out as copies, or one of them a print for each level',
        ),
      ];
    const other = axes.findIndex((a) => a.along === 'row');
    if (other >= 0)
      return [
        fault(
          'specimens.layout',
          `axes.${other}.along`,
          'a part does not carry levels in a row',
          'lay it out by height, as copies, or a print for each level',
        ),
      ];
    if (p && banded >= 0 && p.from > 1e-6)
      return [
        fault(
          'specimens.bands',
          'specimen.params.from',
          'the lowest band begins above the foot of the part',
          'let it begin with layer 1, at 0 mm',
        ),
      ];
    const borders = p && banded >= 0 ? bordersOf(p, axes[banded]!.levels.length) : [];
    return borders.some((v, k) => k > 0 && !(v > borders[k - 1]! + 1e-6))
      ? [
          fault(
            'specimens.bands',
            'specimen.params.from',
            'a band ends where it begins, or below',
            'give borders that rise from band to band, and fewer levels on a low part',
          ),
        ]
      : [];
  },
  build(p, cells, settings, context, axes = [], parts = []) {
    const part = parts[0]?.part;
    if (!part) throw new RangeError('a part is built where the trial names it');
    return axes.some((a) => a.along === 'height' && a.levels.length > 1)
      ? inBands(p, cells, settings, part)
      : copied(part).build(p, cells, settings, context, axes);
  },
};

/** The bands of a part from its foot to its top, each of whole layers of its own height. */
function bandsOf(p: Params, cells: readonly Cell[], settings: Settings, height: number): Band[] {
  const borders = bordersOf({ ...p, to: Math.min(p.to, height) }, cells.length);
  let at = 0;
  return cells.map((cell, k) => {
    const s = { ...settings, ...cellSettings(cell, settings) };
    const first = at === 0 ? s.firstLayerHeight : 0;
    const layers = Math.max(at === 0 ? 0 : 1, Math.round((borders[k + 1]! - at - first) / s.layerHeight));
    const to = k === cells.length - 1 ? height : Math.round((at + first + layers * s.layerHeight) * 1e6) / 1e6;
    const band = { cell, from: at, to };
    at = to;
    return band;
  });
}

function inBands(p: Params, cells: readonly Cell[], settings: Settings, part: PartNamed): Built {
  const piece = pieceFor(part);
  const { width, depth, height } = part.size;
  const bands = bandsOf(p, cells, settings, height);
  const side = polygonsOfPath(part.side);
  const of = (from: number, to: number): Polygon[] => intersection(side, [solid(rectangle(-width, from, width, to))]);
  const box = solid(rectangle(-width / 2, -depth / 2, width / 2, depth / 2));
  const room = solid(rectangle(-width / 2 - 2, -depth / 2 - 2, width / 2 + 2, depth / 2 + 2));
  return {
    pieces: [
      {
        solid: {
          breaks: [...(piece()?.breaks ?? []), ...bands.slice(0, -1).map((b) => b.to)],
          top: height,
          at: (z) => {
            const band = bands.find((b) => z < b.to - 1e-9) ?? bands.at(-1)!;
            return regionsAt(piece(), z).map((r) => ({ ...r, cell: band.cell.id }));
          },
        },
      },
    ],
    places: bands.map((b) => ({ cell: b.cell.id, z: [b.from, b.to], area: [room] })),
    drawing: {
      view: 'side',
      x: [-width / 2, width / 2],
      y: [0, height],
      shapes: bands.map((b) => ({ cell: b.cell.id, part: 'body', path: polygonPath(of(b.from, b.to)) })),
      labels: bands.map((b) => ({ cell: b.cell.id, x: 0, y: (b.from + b.to) / 2 })),
    },
    height,
    footprint: [box],
    remarks: [],
  };
}

/** The parameters with which a trial of a part begins. */
export const userPartStart = (part: PartNamed, layer: number): Record<string, number> => ({ ...startOf(part), layer });

/** Whether a trial’s bands lie where the user wants them, and not where the specimen has them. */
export const ownBands = (specimen: string, axes: readonly Axis[]): boolean =>
  ['own-part', 'user-part'].includes(specimen) && axes.some((a) => a.along === 'height');
