import type * as z from 'zod';
import { fault } from '#core/base';
import type { Context } from '#core/context';
import { boundsOf, NUMERAL_ROOM, rectangle, solid, union, difference, type Point, type Polygon } from '#core/geometry';
import { alongWords, cellSettings, type Axis, type Cell, variedIn } from '#core/plan';
import { adhesionReach, type Settings } from '#core/settings';
import { baseOf, bandsOver, factorAlong, groupsAlong, SOLID_BASE, type Band } from './bands';
import { barsAt, numeralWidth, valueDigits } from './labels';
import { boxPath, movedBy, movedPath, polygonPath } from './paths';
import type { Built, DrawingShape, Piece, Place, Region, Specimen, SpecimenGuide } from './specimen';
import { Tabs } from './tab';
import { tilesOf } from './tiles';

/** The shape in which one cell is printed, its middle on the origin, its foot at height 0. mm. */
export interface Form {
  width: number;
  depth: number;
  height: number;
  /** Heights at which the section jumps. */
  breaks: readonly number[];
  at(t: number): Omit<Region, 'cell'>[];
  /** Seen from the side, as path data with absolute commands, y up. */
  side: string;
  /** Seen from above. */
  above?: Polygon[];
  /** Where its tabs grow from, each the middle of a front edge, mm; one before its middle where left out. */
  tabs?: Point[];
  /** Where its number is written as seen from above, mm from its middle; in the middle where left out. */
  number?: Point;
  /** Printed beside it in the same tile, belonging to no cell (a gauge, a counterpart). */
  beside?: { at(t: number): Polygon[]; height: number };
}

/** What is needed to make a specimen of a form. */
export interface FormSpecimen<P> {
  id: string;
  label: string;
  purpose: string;
  guide: SpecimenGuide;
  params: z.ZodType<P>;
  fields: Specimen['fields'];
  layouts: readonly Axis['along'][];
  judges?: readonly string[];
  measures?: readonly string[];
  start(context: Context): P;
  /** Thickness of the plate beneath bands, mm. */
  base?: number;
  /** Thickness of a plate beneath a tile that joins what stands on it, mm; bands stand on their base. */
  plate?: number;
  /** How tiles are labelled: by a tab in front, or not. */
  tab?: 'front' | 'none' | ((params: P, axes: readonly Axis[]) => 'front' | 'none');
  /** How many of each level stand together, where not one. */
  copies?(params: P): number;
  form(params: P, settings: Settings, context: Context, cell: Cell): Form;
}

/** Air between copies, mm. */
const COPY_AIR = 4;

/**
 * A specimen of a form: as tiles with a tab that carries the value, as bands with numerals in a spine, or both. A print
 * for each level carries its level too, and of several copies each its own number.
 */
export function formed<P>(make: FormSpecimen<P>): Specimen<P> {
  const { base = 0.8, plate = 0, tab = 'front', form, copies, ...rest } = make;
  return {
    ...rest,
    accepts: (axes) =>
      axes.flatMap((a, i) =>
        make.layouts.includes(a.along)
          ? []
          : [
              fault(
                'specimens.layout',
                `axes.${i}.along`,
                `${make.label.toLowerCase()} does not carry levels ${alongWords[a.along]}`,
                `lay it out ${make.layouts.map((l) => alongWords[l]).join(' or ')}`,
              ),
            ],
      ),
    build: (p, cells, settings, context, axes = []) => {
      const forms = new Map(
        cells.map((c) => [c.id, form(p, { ...settings, ...cellSettings(c, settings) }, context, c)]),
      );
      return new Field(
        forms,
        cells,
        axes,
        settings,
        context,
        { base, plate },
        typeof tab === 'function' ? tab(p, axes) : tab,
        copies?.(p) ?? 1,
      ).built();
    },
  };
}

interface Tile {
  cells: Cell[];
  bands: Band[];
  /** Where its copies stand. */
  at: Point[];
}

/** Lays forms out on the bed. */
class Field {
  private readonly tiled: boolean;
  /** The factor of which each level is a print of its own. */
  private readonly byPrint: string | undefined;
  /** Whether pieces carry a tab with their value. */
  private readonly tabbed: boolean;
  private readonly tabs: Tabs;
  private readonly width: number;
  private readonly depth: number;
  private readonly banded: boolean;
  private readonly spine: number;
  private readonly foot: number;

  constructor(
    private readonly forms: Map<number, Form>,
    private readonly cells: readonly Cell[],
    private readonly axes: readonly Axis[],
    private readonly settings: Settings,
    private readonly context: Context,
    private readonly plates: { base: number; plate: number },
    tab: 'front' | 'none',
    private readonly copies: number,
  ) {
    this.tiled = axes.some((a) => a.along === 'tile');
    this.byPrint = Object.keys(cells[0]?.levels ?? {}).find((id) => !variedIn(axes).includes(id));
    this.tabbed = tab === 'front' && (this.tiled || this.byPrint !== undefined || copies > 1);
    this.banded = axes.some((a) => a.along === 'height' && a.levels.length > 1);
    this.tabs = new Tabs(settings);
    this.width = Math.max(...[...forms.values()].map((q) => q.width));
    this.depth = Math.max(...[...forms.values()].map((q) => q.depth));
    const by = factorAlong(axes, 'height');
    const widest = Math.max(0, ...cells.map((c) => numeralWidth(valueDigits(c, by), this.tabs.high, this.tabs.stroke)));
    this.spine = this.banded ? widest + 3 * settings.lineWidth + 1 : 0;
    this.foot = this.banded ? baseOf(plates.base, settings) : 0;
  }

  private get tabDepth(): number {
    return this.tabbed ? this.tabs.depth : 0;
  }

  /** Whether bands are high enough for their value in figures. */
  private get roomy(): boolean {
    return [...this.forms.values()].every((q) => q.height >= this.tabs.high + NUMERAL_ROOM);
  }

  built(): Built {
    const { forms, settings, context } = this;
    const groups = groupsAlong(this.cells, this.axes, 'tile');
    const reachX = this.width + this.spine + (this.banded ? 3 : 0);
    const tabWidths = this.tabbed ? groups.map((g) => this.tabWidth(g[0]!)) : [0];
    const one = { width: Math.max(reachX, ...tabWidths), depth: this.depth + this.tabDepth + (this.banded ? 3 : 0) };
    // Copies stand in a row across their shorter side.
    const air = adhesionReach(settings) * 2 + COPY_AIR;
    const [right, back] = one.width <= one.depth * 1.5 ? [one.width + air, 0] : [0, one.depth + air];
    const more = this.copies - 1;
    const size = { width: one.width + more * right, depth: one.depth + more * back };
    const spots = tilesOf(groups.length, size, settings, context.printer.head.radius, this.axes);
    const tiles = groups.map((cells, i): Tile => {
      const { x, y } = spots[i]!;
      // The middle of the tile and its tab together stands on the spot.
      const form = forms.get(cells[0]!.id)!;
      return {
        cells,
        bands: this.banded
          ? bandsOver(cells, this.foot, form.height, settings)
          : [{ cell: cells[0]!, from: 0, to: form.height }],
        at: Array.from({ length: this.copies }, (_, k) => ({
          x: x + (k - more / 2) * right + this.spine / 2,
          y: y - (k - more / 2) * back + this.tabDepth / 2,
        })),
      };
    });
    const pieces = tiles.map((tile, i) => this.pieceOf(tile, i));
    const tops = pieces.map((p) => p.solid!.top);
    return {
      pieces,
      places: tiles.flatMap((tile, i) => this.placesOf(tile, spots[i]!, size)),
      // What is broad and low is known by its outline, not by its side.
      drawing:
        this.tiled || (!this.banded && forms.get(this.cells[0]!.id)!.height < this.width / 3)
          ? this.fromAbove(tiles)
          : this.fromSide(tiles[0]!),
      height: Math.max(...tops),
      footprint: spots.map(({ x, y }) =>
        solid(rectangle(x - size.width / 2, y - size.depth / 2, x + size.width / 2, y + size.depth / 2)),
      ),
      remarks:
        this.banded && !this.roomy
          ? ['bands this low have no room for figures: count them from the foot, or use the label map']
          : [],
    };
  }

  private tabWidth(cell: Cell): number {
    return this.tabs.width(this.digits(cell, this.copies - 1));
  }

  private digits(cell: Cell, copy: number): string {
    const tiles = this.axes.filter((a) => a.along === 'tile');
    const factor = tiles.length === 0 ? this.byPrint : tiles[0]!.factor;
    // A tile of two factors is found by its number on the map.
    const value = tiles.length > 1 ? String(cell.id + 1) : valueDigits(cell, factor);
    return this.copies > 1 ? `${value}-${copy + 1}` : value;
  }

  private pieceOf(tile: Tile, i: number): Piece {
    const { forms } = this;
    const last = tile.bands[tile.bands.length - 1]!;
    const first = forms.get(tile.cells[0]!.id)!;
    const at = (z: number): Region[] => tile.at.flatMap((_, copy) => this.sectionOf(tile, copy, z));
    const top = Math.max(last.to, first.beside?.height ?? 0);
    return {
      name: this.tiled ? `tile ${i + 1}` : '',
      ...(tile.cells.length === 1 && { cell: tile.cells[0]!.id }),
      solid: {
        breaks: [
          ...(this.tabbed ? this.tabs.breaks : []),
          ...(this.banded ? [this.foot] : this.plates.plate > 0 ? [this.plates.plate] : []),
          ...tile.bands.flatMap((b) => {
            const form = forms.get(b.cell.id)!;
            return [...form.breaks.map((t) => b.from + (t * (b.to - b.from)) / form.height), b.to];
          }),
        ],
        top,
        at: (z) => (z < 0 || z >= top ? [] : at(z)),
      },
    };
  }

  /** What of a copy is cut at a height. */
  private sectionOf(tile: Tile, copy: number, z: number): Region[] {
    const { forms } = this;
    const { x, y } = tile.at[copy]!;
    if (this.banded && z < this.foot) return [{ cell: -1, outline: movedBy(this.plate, x, y), own: SOLID_BASE }];
    const band = tile.bands.find((b) => z < b.to - 1e-9) ?? tile.bands[tile.bands.length - 1]!;
    const form = forms.get(band.cell.id)!;
    const t = ((z - band.from) * form.height) / (band.to - band.from);
    const joined = !this.banded && z < this.plates.plate;
    const footed = joined
      ? [{ outline: [solid(rectangle(-form.width / 2, -form.depth / 2, form.width / 2, form.depth / 2))] }]
      : form.at(t);
    const regions: Region[] = footed.map((r) => ({ ...r, cell: band.cell.id, outline: movedBy(r.outline, x, y) }));
    const add = (outline: Polygon[], joined: boolean) => {
      const body = regions[0];
      if (joined && body) body.outline = union([...body.outline, ...outline]);
      else if (outline.length > 0) regions.push({ cell: band.cell.id, outline });
    };
    if (this.tabbed) {
      const cell = tile.cells[0]!;
      const tab = this.tabs.section(this.digits(cell, copy), this.tabsOf(cell), z);
      add(movedBy(tab.outline, x, y), tab.joined);
    }
    if (this.spine > 0) add(movedBy(this.spineAt(band, z), x, y), true);
    const { beside } = forms.get(tile.cells[0]!.id)!;
    if (beside && z < beside.height) regions.push({ cell: -1, outline: movedBy(beside.at(z), x, y) });
    return regions.filter((r) => r.outline.length > 0);
  }

  /** The plate beneath bands. */
  private get plate(): Polygon[] {
    const [half, deep] = [this.width / 2 + 1.5, this.depth / 2 + 1.5];
    return [solid(rectangle(-half - this.spine, -deep, half, deep))];
  }

  /** Where the tabs of a cell grow from. */
  private tabsOf(cell: Cell): Point[] {
    const { depth, tabs = [{ x: 0, y: -depth / 2 }] } = this.forms.get(cell.id)!;
    return tabs;
  }

  /** The spine at a height: a slab left of the form, its value cut into its front. */
  private spineAt(band: Band, z: number): Polygon[] {
    const right = -this.width / 2 + 0.3;
    const left = right - this.spine;
    const thick = Math.max(2.4, 5 * this.settings.lineWidth);
    const slab = [solid(rectangle(left, -thick / 2, right, thick / 2))];
    if (!this.roomy) return slab;
    const { high, stroke } = this.tabs;
    const foot = (band.from + band.to - high) / 2;
    const digits = valueDigits(band.cell, factorAlong(this.axes, 'height'));
    const cut = barsAt(digits, { x: (left + right) / 2, y: 0 }, high, stroke)
      .filter((bar) => z - foot >= bar[0]!.y && z - foot < bar[2]!.y)
      .map((bar) => solid(rectangle(bar[0]!.x, -thick / 2 - 1, bar[2]!.x, -thick / 2 + 0.7)));
    return cut.length > 0 ? difference(slab, cut) : slab;
  }

  private placesOf(tile: Tile, spot: { x: number; y: number }, size: { width: number; depth: number }): Place[] {
    const half = { x: size.width / 2 + 2, y: size.depth / 2 + 2 };
    const area = [solid(rectangle(spot.x - half.x, spot.y - half.y, spot.x + half.x, spot.y + half.y))];
    return tile.bands.map((b) => ({ cell: b.cell.id, z: [b.from, b.to], area }));
  }

  private fromAbove(tiles: readonly Tile[]): Built['drawing'] {
    const shapes: DrawingShape[] = [];
    const labels: NonNullable<Built['drawing']['labels']> = [];
    let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity];
    for (const { cells, x, y, copy } of tiles.flatMap((t) => t.at.map((p, copy) => ({ cells: t.cells, ...p, copy })))) {
      const cell = cells[0]!;
      const form = this.forms.get(cell.id)!;
      const seen = form.above ?? form.at(form.height * 0.97).flatMap((r) => r.outline);
      const parts = [...(seen.length > 0 ? seen : form.at(0.01).flatMap((r) => r.outline))];
      if (this.tabbed) {
        const plates = this.tabsOf(cell).map((p) => this.tabs.plate(this.digits(cell, copy), p));
        shapes.push({ cell: -1, part: 'base', path: polygonPath(movedBy(plates, x, y)) });
      }
      shapes.push({ cell: cell.id, part: 'body', path: polygonPath(movedBy(parts, x, y)) });
      const box = boundsOf(movedBy(parts, x, y));
      if (!box) continue;
      [x0, x1] = [Math.min(x0, box.x0), Math.max(x1, box.x1)];
      [y0, y1] = [Math.min(y0, box.y0 - this.tabDepth), Math.max(y1, box.y1)];
      if (form.number && copy === 0) labels.push({ cell: cell.id, x: x + form.number.x, y: y + form.number.y });
    }
    return { view: 'above', x: [x0, x1], y: [y0, y1], shapes, ...(labels.length > 0 && { labels }) };
  }

  private fromSide(tile: Tile): Built['drawing'] {
    const shapes: DrawingShape[] = [];
    const left = -this.width / 2 - this.spine - (this.banded ? 1.5 : 1);
    const right = this.width / 2 + 1.5;
    if (this.banded) shapes.push({ cell: -1, part: 'base', path: boxPath(left, 0, right, this.foot) });
    const labels: NonNullable<Built['drawing']['labels']> = [];
    for (const b of tile.bands) {
      const form = this.forms.get(b.cell.id)!;
      shapes.push({ cell: b.cell.id, part: 'body', path: movedPath(form.side, 0, b.from) });
      if (this.spine > 0) {
        const x = -this.width / 2 - this.spine;
        shapes.push({ cell: b.cell.id, part: 'body', path: boxPath(x, b.from, -this.width / 2, b.to) });
        shapes.push({
          cell: b.cell.id,
          part: 'level',
          path: boxPath(-this.width / 2 - 1, b.from, -this.width / 2, b.to),
        });
        labels.push({ cell: b.cell.id, x: x + this.spine / 2 - 0.4, y: (b.from + b.to) / 2 });
      }
    }
    return { view: 'side', x: [left, right], y: [0, tile.bands.at(-1)!.to], shapes, labels };
  }
}
