import { areaOf, lengthOf, offset, type Box, type Point, type Polygon } from '#core/geometry';
import { concentric } from './concentric';
import { cubic } from './cubic';
import { grid } from './grid';
import { gyroid } from './gyroid';
import { honeycomb } from './honeycomb';
import { joined } from './joints';
import { lines } from './lines';
import type { Pattern, PatternPlace } from './pattern';
import { triangles } from './triangles';

/** Infill patterns by id; a new one is a file and a line here. */
export const patterns: Record<string, Pattern> = Object.fromEntries(
  [lines, grid, triangles, cubic, honeycomb, gyroid, concentric].map((p) => [p.id, p]),
);

export { branchingLines } from './branching';
export type { Pattern, PatternPlace } from './pattern';

/** What is asked of a sparse infill. Lengths mm. */
export interface SparseFill {
  pattern: Pattern;
  /** Share of the inner volume, 0–1. */
  density: number;
  /** Distance of lines that would fill the plane. */
  solidSpacing: number;
  /** How far lines reach into the walls. */
  overlap: number;
  /** The longest joint along a wall. */
  anchor: number;
}

/** Lines with the share of the full cross-section that makes their volume density × area. */
export interface SparseLines {
  lines: Point[][];
  share: number;
  /** Volume reached over volume asked, 1 where the density is kept. */
  reached: number;
}

/** A line may be so much slimmer or thicker to keep the density; beyond that the density reached is reported. */
const LEAST_SHARE = 0.88;
const MOST_SHARE = 1.12;

/**
 * Remembers the spacing at which a pattern keeps its density with its joints. It is solved once for a column of like
 * islands and kept from layer to layer, so that lines stand on lines; the rest is a hair more or less in each line.
 */
export class SparseInfill {
  private readonly solved: { words: string; box: Box; area: number; spacing: number }[] = [];

  /**
   * @param inner the region inside the walls, mm
   * @param words what the spacing rests on beside the region
   */
  lines(inner: readonly Polygon[], fill: SparseFill, at: PatternPlace, words: string, box: Box): SparseLines {
    const size = areaOf(inner);
    const area = offset(inner, -(fill.solidSpacing / 2 - fill.overlap));
    if (fill.density <= 0 || area.length === 0) return { lines: [], share: 1, reached: 1 };
    const draw = (spacing: number, place: PatternPlace) =>
      joined(fill.pattern.lines(area, spacing, place), area, Math.min(fill.anchor, 3.5 * spacing));
    const target = (fill.density * size) / fill.solidSpacing;
    let known = this.solved.find(
      (k) => k.words === words && size > 0.75 * k.area && size < 1.35 * k.area && meet(k.box, box),
    );
    if (!known) {
      known = { words, box, area: size, spacing: spacingFor(target, fill, at, draw) };
      this.solved.push(known);
    }
    const found = draw(known.spacing, at);
    const length = found.reduce((sum, line) => sum + lengthOf(line), 0);
    if (length === 0) return { lines: [], share: 1, reached: 0 };
    const share = Math.min(MOST_SHARE, Math.max(LEAST_SHARE, target / length));
    return { lines: found, share, reached: (length * share) / target };
  }
}

const meet = (a: Box, b: Box) => a.x0 <= b.x1 && b.x0 <= a.x1 && a.y0 <= b.y1 && b.y0 <= a.y1;

/** Solves the spacing so that the mean length over a few heights has density × area. */
function spacingFor(
  target: number,
  { density, solidSpacing, pattern }: SparseFill,
  at: PatternPlace,
  draw: (spacing: number, place: PatternPlace) => Point[][],
): number {
  let spacing = solidSpacing / density;
  let best = spacing;
  let bestError = Infinity;
  for (let pass = 0; pass < 5; pass++) {
    // A pattern that changes with the height is judged over a good part of its period.
    const places =
      pattern.words(at) === pattern.words({ ...at, z: at.z + 0.1 })
        ? [at]
        : [0, 0.23, 0.41, 0.68].map((share) => ({ ...at, z: at.z + share * 2.5 * spacing }));
    let length = 0;
    for (const place of places) for (const line of draw(spacing, place)) length += lengthOf(line) / places.length;
    const error = Math.abs(length / target - 1);
    if (error < bestError) {
      bestError = error;
      best = spacing;
    }
    if (error < 0.005 || length === 0) break;
    spacing *= Math.min(2, Math.max(0.5, length / target));
  }
  return best;
}
