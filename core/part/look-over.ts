import * as z from 'zod';
import { done, type Job } from '#core/base';
import { areaOf, boundsOf, difference, inPolygons, intersection, opened, type Box, type Polygon } from '#core/geometry';
import type { PartPiece } from './piece';
import type { Gap } from './sections';
import { simplified } from './simplified';

const length = z.number().min(-10_000).max(10_000);
const amount = z.number().min(0).max(1e12);

/** What can be seen on a part, from which follows which settings show on it. mm, mm², mm³; heights above its foot. */
export const partSeenSchema = z.strictObject({
  layers: z.int().min(1).max(200_000),
  /** Volume by its sections. */
  volume: amount,
  /** Faces that hang further over than 45°, and how far the steepest of them hangs, degrees from upright. */
  overhang: z.strictObject({ area: amount, steepest: z.number().min(0).max(90), z: length }),
  /** The widest stretch of ceiling over air: its area and how far it is across. */
  ceiling: z.strictObject({ area: amount, across: amount, z: length }),
  /** Most islands that one layer has. */
  islands: z.int().min(0).max(1_000_000),
  /** Islands that begin in the air, and where the lowest does. */
  inAir: z.strictObject({ count: z.int().min(0), z: length, x: length, y: length }),
  /** What is slimmer than a line: most of it in one layer. */
  slim: z.strictObject({ area: amount, z: length }),
  /** The smallest layer. */
  smallest: z.strictObject({ area: amount, z: length }),
});
/** What can be seen on a part. */
export type PartSeen = z.infer<typeof partSeenSchema>;

/** A piece of the part that shows one thing: why, and how it is cut out, in heights and about the middle of the piece. */
export interface Telling {
  shows: 'overhang' | 'ceiling' | 'slim' | 'smallest';
  /** How much of it is there: degrees, mm across, mm², mm². */
  amount: number;
  from: number;
  to: number;
  box?: Box;
}

/** What a part is like, layer by layer. */
export interface LookedOver {
  seen: PartSeen;
  /** Gaps that were closed, the widest first, and how many there are in all. */
  mended: Gap[];
  mendedInAll: number;
  /** Layers whose outline does not close, and where, the lowest first. */
  open: Gap[];
  openLayers: number;
  /** The widest of all that stays open: with gaps as wide closed the outline closes everywhere, unless it is a heap of loose ends. */
  widestOpen?: Gap;
  /** Pieces that show something, each cut out by itself. */
  telling: Telling[];
}

/** So many gaps are told one by one. */
const TOLD = 20;
/** Faces that hang over further than this want care, degrees from upright. */
export const STEEP = 45;
/** Less of anything than this is a rounding of the mesh, mm². */
const SPECK = 0.05;
/** Corners of an outline that turn by less are left out before it is looked at, mm. */
const FINE = 0.01;
/** Less of a slim wall than this is a sharp corner, mm². */
const SLIVER = 0.3;
/** A ceiling is nearly level: beyond this, degrees from upright. */
const LEVEL = 80;

/** A face that hangs over: the height of its middle above the foot, mm, and how far from upright, degrees. */
interface Hanging {
  z: number;
  area: number;
  angle: number;
}

/** What of a piece hangs over by more than 45°, by its faces: those on the bed do not count. */
function* overhangsOf(piece: PartPiece, layer: number, outlines: readonly Polygon[][]): Generator<Hanging> {
  const { mesh, foot, middle, width, depth } = piece;
  const [from, to] = [foot, foot + piece.height];
  const c = mesh.corners;
  for (let i = 0; i < 9 * mesh.n; i += 9) {
    const [ax, ay, az] = [c[i + 3]! - c[i]!, c[i + 4]! - c[i + 1]!, c[i + 5]! - c[i + 2]!];
    const [bx, by, bz] = [c[i + 6]! - c[i]!, c[i + 7]! - c[i + 1]!, c[i + 8]! - c[i + 2]!];
    const nz = ax * by - ay * bx;
    if (nz >= 0) continue;
    const twice = Math.hypot(ay * bz - az * by, az * bx - ax * bz, nz);
    const z = (c[i + 2]! + c[i + 5]! + c[i + 8]!) / 3;
    if (z <= from + 0.05 || z >= to) continue;
    const [x, y] = [(c[i]! + c[i + 3]! + c[i + 6]!) / 3 - middle.x, (c[i + 1]! + c[i + 4]! + c[i + 7]!) / 3 - middle.y];
    if (Math.abs(x) > width / 2 || Math.abs(y) > depth / 2) continue;
    const angle = (Math.asin(Math.min(1, -nz / twice)) * 180) / Math.PI;
    if (angle <= STEEP) continue;
    // Where shells cross or touch, a face lies within the part: beneath it is no air.
    const beneath = outlines[Math.floor((z - from) / layer - 0.25) - 1];
    if (beneath && inPolygons(beneath, x, y)) continue;
    yield { z: z - from, area: twice / 2, angle };
  }
}

/**
 * Looks a piece over in layers: what it holds, what can be seen on it, where gaps were closed, and where its outline
 * stays open, so that it cannot be printed there.
 *
 * @param layer height of a layer, mm; each is looked at in its middle
 * @param line width of a line, mm
 */
export function* lookOver(piece: PartPiece, layer: number, line = 0.45): Job<LookedOver> {
  const layers = Math.max(1, Math.round(piece.height / layer));
  const height = piece.height / layers;
  const mended: Gap[] = [];
  const open: Gap[] = [];
  let [volume, openLayers, islands, inAir] = [0, 0, 0, 0];
  let firstInAir = { z: 0, x: 0, y: 0 };
  let slim: Found = none;
  let ceiling: Found & { across: number } = { ...none, across: 0 };
  let smallest: Found | undefined;
  let widestOpen: Gap | undefined;
  let below: Polygon[] | undefined;
  let words = '';
  const outlines: Polygon[][] = [];
  for (let k = 0; k < layers; k++) {
    const z = (k + 0.5) * height;
    const section = piece.section(z);
    const area = areaOf(section.outline);
    volume += area * height;
    mended.push(...section.mended);
    if (section.open.length > 0) openLayers++;
    if (open.length < TOLD) open.push(...section.open);
    for (const gap of section.open) if (!widestOpen || gap.width > widestOpen.width) widestOpen = gap;
    // What is to be seen is no finer than the mesh shows it: fewer corners tell the same.
    const outline = section.outline.map(({ outer, holes }) => ({
      outer: simplified(outer, FINE),
      holes: holes.map((h) => simplified(h, FINE)),
    }));
    outlines.push(outline);
    islands = Math.max(islands, outline.length);
    if (outline.length > 0 && (!smallest || area < smallest.area - SPECK))
      smallest = { area, z, box: boundsOf(outline) };
    // Layers of a straight wall repeat one another: what was seen on one is seen.
    const now = wordsOf(outline);
    if (now !== words) {
      const thin = largest(difference(outline, opened(outline, line)));
      if (thin.area > Math.max(SLIVER, slim.area)) slim = { ...thin, z };
      if (below) {
        const air = outline.filter((p) => areaOf([p]) > SPECK && intersection([p], below!).length === 0);
        if (air.length > 0 && inAir === 0) {
          const box = boundsOf([air[0]!])!;
          firstInAir = { z: k * height, x: (box.x0 + box.x1) / 2, y: (box.y0 + box.y1) / 2 };
        }
        inAir += air.length;
        const hung = largest(opened(difference(outline, below), 2 * line));
        if (hung.area > ceiling.area) ceiling = { ...hung, across: acrossOf(hung.box), z: k * height };
      }
      words = now;
    }
    below = outline;
    yield { stage: 'looking over', done: k + 1, of: layers };
  }
  const hanging = hangingOf(piece, height, outlines);
  mended.sort((a, b) => b.width - a.width);
  const least = smallest ?? none;
  return done({
    seen: {
      layers,
      volume,
      overhang: { area: hanging.area, steepest: hanging.steepest, z: hanging.z },
      ceiling: { area: ceiling.area, across: ceiling.across, z: ceiling.z },
      islands,
      inAir: { count: inAir, ...firstInAir },
      slim: { area: slim.area, z: slim.z },
      smallest: { area: least.area, z: least.z },
    },
    mended: mended.slice(0, TOLD),
    mendedInAll: mended.length,
    open: open.slice(0, TOLD),
    openLayers,
    ...(widestOpen && { widestOpen }),
    telling: tellingOf(piece, { hanging, ceiling, slim, smallest: least }),
  });
}

interface Found {
  area: number;
  z: number;
  box: Box | undefined;
}
const none: Found = { area: 0, z: 0, box: undefined };

const acrossOf = (box: Box | undefined): number => (box ? Math.min(box.x1 - box.x0, box.y1 - box.y0) : 0);

/** The largest of some polygons, as far as it is more than a speck. */
function largest(polygons: readonly Polygon[]): Omit<Found, 'z'> {
  let best: Omit<Found, 'z'> = none;
  for (const p of polygons) {
    const area = areaOf([p]);
    if (area > Math.max(SPECK, best.area)) best = { area, box: boundsOf([p]) };
  }
  return best;
}

/** An outline in words, to the micrometre. */
function wordsOf(outline: readonly Polygon[]): string {
  let words = '';
  for (const { outer, holes } of outline)
    for (const ring of [outer, ...holes]) {
      for (const p of ring) words += `${Math.round(p.x * 1e3)},${Math.round(p.y * 1e3)} `;
      words += '|';
    }
  return words;
}

/** How much hangs over, and the steepest slope of it that is no ceiling. */
function hangingOf(
  piece: PartPiece,
  layer: number,
  outlines: readonly Polygon[][],
): { area: number; steepest: number; z: number } {
  let [area, steepest, z, level] = [0, 0, 0, 0];
  for (const face of overhangsOf(piece, layer, outlines)) {
    area += face.area;
    if (face.angle > LEVEL) level = Math.max(level, face.angle);
    else if (face.area > SPECK / 5 && face.angle > steepest) [steepest, z] = [face.angle, face.z];
  }
  return { area: area > SPECK ? area : 0, steepest: area > SPECK ? steepest || level : 0, z };
}

/** What is cut out beneath and above what is to be seen, and around it, mm. */
const ROOM = { beneath: 4, above: 3, around: 5 };

function tellingOf(
  { height, width, depth }: PartPiece,
  found: {
    hanging: { area: number; steepest: number; z: number };
    ceiling: Found & { across: number };
    slim: Found;
    smallest: Found;
  },
): Telling[] {
  const about = (z: number, box?: Box): Pick<Telling, 'from' | 'to' | 'box'> => {
    const around = box && {
      x0: Math.max(-width / 2, box.x0 - ROOM.around),
      y0: Math.max(-depth / 2, box.y0 - ROOM.around),
      x1: Math.min(width / 2, box.x1 + ROOM.around),
      y1: Math.min(depth / 2, box.y1 + ROOM.around),
    };
    const all = around && around.x1 - around.x0 > 0.9 * width && around.y1 - around.y0 > 0.9 * depth;
    return {
      from: Math.max(0, z - ROOM.beneath),
      to: Math.min(height, z + ROOM.above),
      ...(around && !all && { box: around }),
    };
  };
  const { hanging, ceiling, slim, smallest } = found;
  const all: Telling[] = [];
  if (hanging.steepest > STEEP && hanging.steepest <= LEVEL)
    all.push({ shows: 'overhang', amount: hanging.steepest, ...about(hanging.z) });
  if (ceiling.area > 0) all.push({ shows: 'ceiling', amount: ceiling.across, ...about(ceiling.z, ceiling.box) });
  if (slim.area > 0) all.push({ shows: 'slim', amount: slim.area, ...about(slim.z, slim.box) });
  if (smallest.area > 0) all.push({ shows: 'smallest', amount: smallest.area, ...about(smallest.z) });
  // What would take nearly all of it tells nothing more than the whole.
  return all.filter((t) => t.box || t.to - t.from < 0.8 * height);
}
