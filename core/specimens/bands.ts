import { cellSettings, type Axis, type Cell } from '#core/plan';
import type { Settings } from '#core/settings';

/** A band of a cell, mm above the bed. */
export interface Band {
  cell: Cell;
  from: number;
  to: number;
}

/** Bands of about the wished height, one on the other, each a whole number of its own layers. */
export function bandsOver(cells: readonly Cell[], from: number, height: number, settings: Settings): Band[] {
  let at = from;
  return cells.map((cell) => {
    const s = { ...settings, ...cellSettings(cell, settings) };
    const first = at === 0 ? s.firstLayerHeight - s.layerHeight : 0;
    const to = at + first + Math.max(1, Math.round((height - first) / s.layerHeight)) * s.layerHeight;
    const band = { cell, from: at, to: Math.round(to * 1e6) / 1e6 };
    at = band.to;
    return band;
  });
}

/** A base is solid: what stands on it holds everywhere. */
export const SOLID_BASE: Partial<Settings> = { infillDensity: 1, infillPattern: 'lines' };

/** Height of a base of at least two layers, mm. */
export const baseOf = (wish: number, s: Settings): number =>
  Math.round(
    (s.firstLayerHeight + Math.max(1, Math.round((wish - s.firstLayerHeight) / s.layerHeight)) * s.layerHeight) * 1e6,
  ) / 1e6;

/** The cells that share a place along one layout: cells of one tile, cells of one band. */
export function groupsAlong(cells: readonly Cell[], axes: readonly Axis[], along: Axis['along']): Cell[][] {
  const groups = new Map<string, Cell[]>();
  for (const cell of cells) {
    const key = cell.index.filter((_, k) => axes[k]?.along === along).join();
    groups.set(key, [...(groups.get(key) ?? []), cell]);
  }
  return [...groups.values()];
}

/** The factor that is laid out one way. */
export const factorAlong = (axes: readonly Axis[], along: Axis['along']): string | undefined =>
  axes.find((a) => a.along === along)?.factor;
