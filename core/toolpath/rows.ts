import { extentAcross, ringsOf, type Polygon } from '#core/geometry';

/** A row of a solid fill: where it lies across the direction, and how wide a lane it fills, mm. */
export interface Row {
  at: number;
  width: number;
}

/** Rows keep this far inside the edge, mm, so that they are cut nowhere. */
const EDGE = 0.002;
/** A lane between rows is at least and at most so wide, in spacings. */
const NARROWEST = 0.8;
const WIDEST = 1.25;
/** An edge along the rows counts from this length on, in spacings. */
const LONG = 0.5;
/** An edge is along the rows when it strays no more than this, mm. */
const FLAT = 0.004;

/**
 * Rows that fill a part: a whole number from edge to edge. Where an edge within (a step, a slot) runs along the rows, a
 * row runs along it too, so that nothing stays open beside it; the lanes between are widened or narrowed by a hair.
 *
 * @param part where the middles of lines may lie
 * @param angle of the rows, degrees
 * @param spacing distance of rows that fill the plane, mm
 * @returns rows ascending; none where not even two fit
 */
export function rowsAcross(part: Polygon, angle: number, spacing: number): Row[] {
  const [low, high] = extentAcross([part], angle);
  const whole = fitting(high - low - 2 * EDGE, spacing);
  if (whole === 0) return [];
  let marks = [low + EDGE, high - EDGE];
  for (const edge of edgesAlong(part, angle, LONG * spacing)) {
    const tried = [...marks, edge.at].sort((a, b) => a - b);
    if (tried.every((v, i) => i === 0 || holds(v - tried[i - 1]!, spacing))) marks = tried;
  }
  const rows: Row[] = [{ at: marks[0]!, width: 0 }];
  const lanes: number[] = [];
  for (let i = 1; i < marks.length; i++) {
    const from = marks[i - 1]!;
    const n = marks.length === 2 ? whole : fitting(marks[i]! - from, spacing);
    const lane = (marks[i]! - from) / n;
    for (let k = 1; k <= n; k++) {
      rows.push({ at: k === n ? marks[i]! : from + k * lane, width: 0 });
      lanes.push(lane);
    }
  }
  rows.forEach((row, i) => (row.width = ((lanes[i - 1] ?? lanes[0]!) + (lanes[i] ?? lanes[lanes.length - 1]!)) / 2));
  return rows;
}

/** How many lanes fit, none narrower than allowed. */
function fitting(width: number, spacing: number): number {
  const n = Math.max(0, Math.round(width / spacing));
  return n > 0 && width / n < NARROWEST * spacing ? n - 1 : n;
}

const holds = (width: number, spacing: number): boolean => {
  const n = fitting(width, spacing);
  return n > 0 && width / n <= WIDEST * spacing;
};

/** Edges along a direction: where a row beside them lies, the longest first. */
function edgesAlong(part: Polygon, angle: number, least: number): { at: number; length: number }[] {
  const cos = Math.cos((angle * Math.PI) / 180);
  const sin = Math.sin((angle * Math.PI) / 180);
  const found: { at: number; length: number }[] = [];
  for (const ring of ringsOf([part])) {
    ring.forEach((b, i) => {
      const a = ring[(i + ring.length - 1) % ring.length]!;
      const along = (b.x - a.x) * cos + (b.y - a.y) * sin;
      const across = (b.y - a.y) * cos - (b.x - a.x) * sin;
      if (Math.abs(across) > FLAT || Math.abs(along) < least) return;
      const [va, vb] = [a.y * cos - a.x * sin, b.y * cos - b.x * sin];
      // Outlines turn left and holes right: the inside is on the left of an edge.
      found.push({
        at: along > 0 ? Math.max(va, vb) + EDGE : Math.min(va, vb) - EDGE,
        length: Math.abs(along),
      });
    });
  }
  return found.sort((p, q) => q.length - p.length);
}
