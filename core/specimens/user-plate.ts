import * as z from 'zod';
import { fault } from '#core/base';
import { bedArea } from '#core/context';
import { boundsOf, rectangle, solid, union, type Box, type Polygon } from '#core/geometry';
import { polygonsOfPath } from '#core/part';
import { factorAlong } from './bands';
import { valueDigits } from './labels';
import { packed } from './packed';
import { movedBy, polygonPath } from './paths';
import type { Built, DrawingShape, OwnCell, Piece, PlatePart, Region, Specimen } from './specimen';
import { Tabs } from './tab';
import { airBetween } from './tiles';
import { pieceFor, regionsAt } from './user-part';

/** With `tab` a part carries its value, or its number, in front. */
const params = z.strictObject({ tab: z.number().min(0).max(1) });
type Params = z.infer<typeof params>;

/** From here on ids stand for parts that set something for themselves. */
const OWN = 10_000;

/** Parts of the user’s own beside one another on the bed: each a cell with its own level, or all alike. */
export const userPlate: Specimen<Params> = {
  id: 'user-plate',
  label: 'Parts on one plate',
  purpose: 'Several parts of your own in one print, each with settings of its own where you say so.',
  guide: {
    look: 'Where each part shows the fault that it was cut out for.',
    why: 'One print shows several faults: an arch, a thin wall and a text need not be printed by themselves.',
    weak: 'Laid out by part, what differs may be the parts, not the values: a print for each level tells them apart.',
  },
  params,
  fields: [{ key: 'tab', label: 'a tab with its number', unit: '', least: 0, most: 1, step: 1 }],
  layouts: ['tile'],
  words: { tile: { laid: 'by part', one: 'part', many: 'parts' } },
  start: () => ({ tab: 1 }),
  accepts(axes, _, parts) {
    const other = axes.findIndex((a) => a.along !== 'tile');
    if (other >= 0)
      return [
        fault(
          'specimens.layout',
          `axes.${other}.along`,
          'bands and rows lie on one part, and here are several',
          'lay it out by part, or a print for each level',
        ),
      ];
    if (axes.length > 1)
      return [
        fault(
          'specimens.axes',
          'axes.1.along',
          'each part has one place for one value',
          'take a print for each level of the other setting',
        ),
      ];
    const levels = axes[0]?.levels.length;
    return parts && levels !== undefined && levels !== parts.length
      ? [
          fault(
            'specimens.parts',
            'axes.0.levels',
            `${levels} values, and ${parts.length} parts stand on the plate`,
            `give ${parts.length} values, one for each part in its order`,
          ),
        ]
      : [];
  },
  build(p, cells, settings, context, axes = [], parts = []) {
    if (parts.length === 0) throw new RangeError('a plate is built where the trial names its parts');
    const by = factorAlong(axes, 'tile');
    const tabs = p.tab > 0 ? new Tabs(settings) : undefined;
    const stands = parts.map(({ part, own }, k): Stands => {
      const cell = by === undefined ? cells[0]! : cells[k]!;
      const digits = by === undefined ? String(k + 1) : valueDigits(cell, by);
      const sets = Object.keys(own).length > 0;
      return { part, cell: cell.id, id: sets ? OWN + k : cell.id, own, digits, tabs, x: 0, y: 0 };
    });
    const boxes = stands.map(boxOf);
    const sizes = boxes.map((b) => ({ width: b.x1 - b.x0, depth: b.y1 - b.y0 }));
    const bed = boundsOf(bedArea(context.printer))!;
    const room = { width: bed.x1 - bed.x0, depth: bed.y1 - bed.y0 };
    const spots = packed(sizes, airBetween(settings, context.printer.head.radius), room);
    // The middle of a part and its tab together stands on the spot.
    stands.forEach((s, k) => {
      s.x = spots[k]!.x - (boxes[k]!.x0 + boxes[k]!.x1) / 2;
      s.y = spots[k]!.y - (boxes[k]!.y0 + boxes[k]!.y1) / 2;
    });
    const footprint = spots.map(({ x, y }, k) => {
      const [w, d] = [sizes[k]!.width / 2, sizes[k]!.depth / 2];
      return solid(rectangle(x - w, y - d, x + w, y + d));
    });
    const height = Math.max(...parts.map(({ part }) => part.size.height));
    const around = stands.map((s, k) => ({ cell: s.cell, top: s.part.size.height, area: grown(footprint[k]!) }));
    return {
      // The low ones first: the gantry passes over all that stand.
      pieces: stands.map(pieceOf).sort((a, b) => a.solid!.top - b.solid!.top),
      places:
        by === undefined
          ? [{ cell: cells[0]!.id, z: [0, height], area: around.map((a) => a.area) }]
          : around.map(({ cell, top, area }) => ({ cell, z: [0, top], area: [area] })),
      own: stands.flatMap(({ id, cell, own }): OwnCell[] => (id === cell ? [] : [{ id, cell, own }])),
      drawing: fromAbove(stands, footprint),
      height,
      footprint,
      remarks: [],
    };
  },
};

/** A part in its place, mm. */
interface Stands extends PlatePart {
  cell: number;
  id: number;
  digits: string;
  tabs: Tabs | undefined;
  x: number;
  y: number;
}

/** The middle of the edge that the tab of a part grows from. */
const front = ({ part }: Stands) => [part.front];

/** A part about its middle, with its tab. */
function boxOf(s: Stands): Box {
  const { part, tabs, digits } = s;
  const [w, d] = [part.size.width / 2, part.size.depth / 2];
  const tab = tabs ? front(s).map((p) => tabs.plate(digits, p)) : [];
  return boundsOf([solid(rectangle(-w, -d, w, d)), ...tab])!;
}

function pieceOf(s: Stands, k: number): Piece {
  const { part, id, tabs, digits, x, y } = s;
  const piece = pieceFor(part);
  const at = (z: number): Region[] => {
    const regions = regionsAt(piece(), z).map((r): Region => ({ ...r, cell: id }));
    const tab = tabs?.section(digits, front(s), z);
    const body = regions[0];
    if (tab?.joined && body) body.outline = union([...body.outline, ...tab.outline]);
    else if (tab && tab.outline.length > 0) regions.push({ cell: id, outline: tab.outline });
    return regions.map((r) => ({ ...r, outline: movedBy(r.outline, x, y) }));
  };
  const top = part.size.height;
  return {
    name: `part ${k + 1}`,
    cell: id,
    solid: {
      breaks: [...(tabs?.breaks ?? []), ...(piece()?.breaks ?? [])],
      top,
      at: (z) => (z < 0 || z >= top ? [] : at(z)),
    },
  };
}

/** Air belongs to a place, mm. */
const AROUND = 2;

function grown({ outer: [a, , c] }: Polygon): Polygon {
  return solid(rectangle(a!.x - AROUND, a!.y - AROUND, c!.x + AROUND, c!.y + AROUND));
}

function fromAbove(stands: readonly Stands[], boxes: readonly Polygon[]): Built['drawing'] {
  const shapes = stands.flatMap((s): DrawingShape[] => {
    const { part, cell, tabs, digits, x, y } = s;
    const body = polygonPath(movedBy(polygonsOfPath(part.above), x, y));
    const plates = tabs ? front(s).map((p) => tabs.plate(digits, p)) : [];
    return [
      ...(plates.length > 0 ? [{ cell: -1, part: 'base' as const, path: polygonPath(movedBy(plates, x, y)) }] : []),
      { cell, part: 'body', path: body },
    ];
  });
  const box = boundsOf([...boxes])!;
  return { view: 'above', x: [box.x0, box.x1], y: [box.y0, box.y1], shapes };
}
