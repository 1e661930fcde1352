import {
  areaOf,
  distance,
  extentAcross,
  hatch,
  hatchAt,
  lengthOf,
  offset,
  type HatchLine,
  type Point,
  type Polygon,
} from '#core/geometry';
import { crescents, Placed } from './crescents';
import { zigzags, type Zigzag } from './chain';
import { oneWay } from './one-way';
import { restLines } from './rests';
import { rowsAcross } from './rows';
import { parted } from './thin';

/** A line of a solid fill: its share of a full line's cross-section, or of each of its segments. */
export interface FillLine {
  points: Point[];
  share: number;
  /** Widths of the segments, mm, where the line fills a slim rest. */
  widths?: number[];
  closed?: true;
  fixed?: true;
}

/** How a solid region is filled. */
export interface SolidFill {
  pattern: 'lines' | 'concentric';
  angle: number;
  /** Distance of lines that fill the plane, mm. */
  spacing: number;
  /** How far lines reach into the neighbours, mm. */
  overlap: number;
  order: 'back and forth' | 'one way';
  /** Whether slim rests get a line of their own. */
  rests: boolean;
}

/** A row that only touches a round edge is none: its place is filled like any open spot. In spacings. */
const STUB = 0.5;
/** Rows whose widths differ by less than this share are laid in one go. */
const ALIKE = 0.005;

/**
 * Fills an area solidly. The spacing is widened or narrowed by a hair, so that a whole number of lines fits across each
 * part, and the cross-section follows it: the volume comes out exact. Lines never lie closer than 80 % of the spacing.
 *
 * @param area up to the edges of the neighbouring lines
 */
export function solidFill(area: readonly Polygon[], fill: SolidFill): FillLine[] {
  const { spacing } = fill;
  if (!fill.rests) return filled(area, fill);
  const parts = parted(area, spacing);
  return [...filled(parts.body, fill), ...restLines(parts, spacing)];
}

/** A line may be so much slimmer or thicker, to make up for ends and turns. */
const SLIMMER = 0.95;
const THICKER = 1.05;

/** Fills an area, and lets the lines make up together for what their ends and turns leave free or lay double. */
function filled(area: readonly Polygon[], fill: SolidFill): FillLine[] {
  const lines = fill.pattern === 'concentric' ? ringsIn(area, fill) : linesIn(area, fill);
  let volume = 0;
  for (const { points, share, widths } of lines) {
    for (let i = 1; i < points.length; i++) {
      const length = Math.hypot(points[i]!.x - points[i - 1]!.x, points[i]!.y - points[i - 1]!.y);
      volume += length * (widths ? widths[i - 1]! : fill.spacing * share);
    }
  }
  if (volume === 0) return lines;
  const by = Math.min(THICKER, Math.max(SLIMMER, areaOf(area) / volume));
  return lines.map((l) => ({ ...l, share: l.share * by, ...(l.widths && { widths: l.widths.map((w) => w * by) }) }));
}

function linesIn(area: readonly Polygon[], { angle, spacing, overlap, order, rests }: SolidFill): FillLine[] {
  const found: FillLine[] = [];
  const placed = new Placed(area);
  for (const part of offset(area, -(spacing / 2 - overlap))) {
    const [low, high] = extentAcross([part], angle);
    const rows = rowsAcross(part, angle, spacing);
    const before = found.length;
    if (rows.length === 0) {
      const line = hatch([part], angle, 1000, (low + high) / 2 / 1000);
      const share = (Math.max(0, high - low) + spacing) / spacing;
      found.push(...line.map((l) => ({ points: [l.a, l.b], share })));
      continue;
    }
    const at = rows.map((r) => r.at);
    const shareOf = (row: number) => rows[row]!.width / spacing;
    if (order === 'one way') {
      // No turns run along the rims: each line reaches the neighbour itself.
      const lines = hatchAt(offset([part], Math.max(0, spacing / 2 - overlap)), angle, at);
      found.push(
        ...oneWay(lines.filter((l) => distance(l.a, l.b) > STUB * spacing)).map((l: HatchLine) => ({
          points: [l.a, l.b],
          share: shareOf(l.row),
          fixed: true as const,
        })),
      );
    } else {
      const lines = hatchAt([part], angle, at);
      const widest = Math.max(...rows.map((r) => r.width));
      const ways = zigzags(lines, [part], widest * 2.5).filter(({ points }) => lengthOf(points) > STUB * spacing);
      found.push(...ways.flatMap((way) => byShare(way, shareOf, spacing)));
    }
    if (rests) found.push(...crescents(placed, [part], found.slice(before), angle, spacing));
  }
  return found;
}

/** Parts a way where its rows change their width. */
function byShare({ row, points }: Zigzag, shareOf: (row: number) => number, spacing: number): FillLine[] {
  const parts: FillLine[] = [];
  for (let i = 0; i < points.length; i += 2) {
    const share = shareOf(row + i / 2);
    const last = parts[parts.length - 1];
    const stub = distance(points[i]!, points[i + 1]!) < STUB * spacing;
    if (last && (stub || Math.abs(share / last.share - 1) < ALIKE)) last.points.push(points[i]!, points[i + 1]!);
    else {
      // The turn between two parts belongs to the first.
      last?.points.push(points[i]!);
      parts.push({ points: [points[i]!, points[i + 1]!], share });
    }
  }
  return parts;
}

/** Rings inward from the edge; the slim middle that no ring fits gets a single line. */
function ringsIn(area: readonly Polygon[], { spacing, overlap }: SolidFill): FillLine[] {
  const found: FillLine[] = [];
  let region = overlap > 0 ? offset(area, overlap) : [...area];
  while (region.length > 0 && found.length < 5000) {
    const parts = parted(region, 2 * spacing);
    const { body } = parts;
    found.push(...restLines(parts, spacing));
    const centre = offset(body, -spacing / 2);
    for (const { outer, holes } of centre)
      for (const ring of [outer, ...holes]) found.push({ points: [...ring, ring[0]!], share: 1, closed: true });
    region = centre.length === 0 ? [] : offset(body, -spacing);
  }
  return found;
}
