import { areaOf, difference, lengthOf, offset, ringsOf, type Point, type Polygon } from '#core/geometry';
import type { Settings } from '#core/settings';
import type { Region, Solid } from '#core/specimens';

/** A layer of solids: nozzle height `z`, thickness `height`, the cross-section at its middle. mm, machine coordinates. */
export interface Slice {
  index: number;
  z: number;
  height: number;
  regions: Region[];
}

/** What slicing needs to know. Lengths mm. */
export interface Slicing {
  solids: readonly Solid[];
  top: number;
  origin: Point;
  /** Height of what lies beneath the solids (a raft), 0 on the bed. */
  beneath: number;
  /** The settings at a height, for the layer's thickness. */
  at(z: number): Settings;
  /** The settings of a cell, for its outline. */
  of(cell: number): Settings;
}

/** Cuts solids into layers: the first of its own height, the others even, by band, or adaptive. */
export function slices(job: Slicing): Slice[] {
  const found: Slice[] = [];
  const onBed = job.beneath === 0;
  for (let index = 0, bottom = job.beneath; bottom < job.top - 1e-6 && index < 100_000; index++) {
    const s = job.at(bottom + 1e-4);
    const first = index === 0 && onBed;
    const height = first
      ? s.firstLayerHeight
      : s.layerHeights === 'adaptive'
        ? adaptive(job, bottom, s)
        : s.layerHeight;
    const middle = bottom + height / 2;
    if (middle >= job.top) break;
    const z = Math.round((bottom + height) * 1e6) / 1e6;
    const regions = job.solids
      .flatMap((solid) => solid.at(middle))
      .map((r) => ({ ...r, outline: outlined(r.outline, job, r.cell, first) }))
      .filter((r) => r.outline.length > 0);
    found.push({ index, z, height, regions });
    bottom = z;
  }
  return found;
}

/** The outline grown or shrunk as asked, the first layer drawn in, at its place on the bed. */
function outlined(outline: readonly Polygon[], { origin, of }: Slicing, cell: number, first: boolean): Polygon[] {
  const s = of(cell);
  const by = s.xyCompensation - (first ? s.firstLayerInset : 0);
  const move = (p: Point): Point => ({ x: p.x + origin.x, y: p.y + origin.y });
  const moved = outline.map((p) => ({ outer: p.outer.map(move), holes: p.holes.map((h) => h.map(move)) }));
  return by === 0 ? moved : offset(moved, by);
}

/**
 * The thickest layer whose stair on the surface stays within the fineness: a slope that runs `dx` sideways over a
 * layer `h` has a stair of h·dx / √(dx² + h²), square to it. Faces that lie quite flat make no stair.
 */
function adaptive({ solids }: Slicing, bottom: number, s: Settings): number {
  const step = s.adaptiveStep;
  const low = Math.max(1, Math.ceil(s.adaptiveLeast / step - 1e-9));
  const high = Math.max(low, Math.floor(s.adaptiveMost / step + 1e-9));
  const section = (z: number) => solids.flatMap((solid) => solid.at(z).flatMap((r) => r.outline));
  for (let n = high; n > low; n--) {
    const h = n * step;
    const breaks = solids.flatMap((solid) => solid.breaks.filter((b) => b > bottom + 1e-6 && b < bottom + h - 1e-6));
    const end = Math.min(bottom + h, ...breaks);
    const span = end - bottom - 2e-4;
    if (span <= 0) continue;
    const dx = (shift(section(bottom + 1e-4), section(end - 1e-4)) * h) / span;
    if ((h * dx) / Math.hypot(dx, h) <= s.adaptiveFineness + 1e-9) return h;
  }
  return low * step;
}

/** The mean width of the widest part that only one of two sections has, mm. */
function shift(a: readonly Polygon[], b: readonly Polygon[]): number {
  const parts = [...difference(a, b), ...difference(b, a)];
  return parts.reduce((most, p) => {
    const around = ringsOf([p]).reduce((sum, ring) => sum + lengthOf([...ring, ring[0]!]), 0);
    return Math.max(most, around > 0 ? (2 * areaOf([p])) / around : 0);
  }, 0);
}
