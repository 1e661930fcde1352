import { ringsOf, type Point, type Polygon, type Polyline } from './shapes';

/** More than rounding can make of what touches, mm. */
const HAIR = 1e-6;

const within = (t: number): boolean => t > 1e-6 && t < 1 - 1e-6;

/**
 * Edges of polygons in rows by height, so that a question about a place looks at few of them. Edges are counted ring
 * after ring; the first of a ring is the one that closes it.
 */
export class EdgeGrid {
  private readonly rows: number[][] = [];
  private readonly low: number;
  private readonly step: number;
  private readonly ends: Float64Array;

  constructor(polygons: readonly Polygon[]) {
    const rings = ringsOf(polygons);
    let count = 0;
    let low = Infinity;
    let high = -Infinity;
    for (const ring of rings) {
      count += ring.length;
      for (const p of ring) {
        if (p.y < low) low = p.y;
        if (p.y > high) high = p.y;
      }
    }
    this.ends = new Float64Array(4 * count);
    const rows = Math.max(1, Math.min(512, Math.ceil(count / 4)));
    this.low = count > 0 ? low : 0;
    this.step = Math.max(1e-6, (high - low) / rows) || 1;
    this.rows = Array.from({ length: rows }, () => []);
    let k = 0;
    for (const ring of rings) {
      for (let i = 0, j = ring.length - 1; i < ring.length; j = i++) {
        const a = ring[j]!;
        const b = ring[i]!;
        this.ends[4 * k] = a.x;
        this.ends[4 * k + 1] = a.y;
        this.ends[4 * k + 2] = b.x;
        this.ends[4 * k + 3] = b.y;
        const first = this.row(Math.min(a.y, b.y));
        const last = this.row(Math.max(a.y, b.y));
        for (let r = first; r <= last; r++) this.rows[r]!.push(k);
        k++;
      }
    }
  }

  private row(y: number): number {
    return Math.max(0, Math.min(this.rows.length - 1, Math.floor((y - this.low) / this.step)));
  }

  /** Whether a point lies in the polygons, holes left out. */
  inside(x: number, y: number): boolean {
    const e = this.ends;
    let inside = false;
    for (const k of this.rows[this.row(y)]!) {
      const ay = e[4 * k + 1]!;
      const by = e[4 * k + 3]!;
      if (ay > y === by > y) continue;
      if (x < ((e[4 * k + 2]! - e[4 * k]!) * (y - ay)) / (by - ay) + e[4 * k]!) inside = !inside;
    }
    return inside;
  }

  /** Where the way a–b crosses or begins on an edge, as shares of the way, ascending; an edge may be named twice. */
  cuts(a: Point, b: Point): number[] {
    const found: number[] = [];
    this.meet(a, b, (t) => {
      found.push(Math.max(0, t));
      return false;
    });
    return found.length > 1 ? found.sort((p, q) => p - q) : found;
  }

  /** Whether the way a–b crosses an edge anywhere but at its own ends. */
  crosses(a: Point, b: Point): boolean {
    return this.meet(a, b, within);
  }

  /**
   * Asks of every crossing of the way a–b whether it is enough: by its share of the way, that of the edge, and which edge
   * that is; an edge may be asked about twice.
   */
  meet(a: Point, b: Point, enough: (t: number, u: number, edge: number) => boolean): boolean {
    const e = this.ends;
    const dx = b.x - a.x;
    const dy = b.y - a.y;
    const left = (dx < 0 ? b.x : a.x) - HAIR;
    const right = (dx < 0 ? a.x : b.x) + HAIR;
    const last = this.row(Math.max(a.y, b.y));
    for (let r = this.row(Math.min(a.y, b.y)); r <= last; r++) {
      const row = this.rows[r]!;
      for (let i = 0; i < row.length; i++) {
        const k = 4 * row[i]!;
        const cx = e[k]!;
        const fx = e[k + 2]!;
        // Most edges of a row lie far to one side.
        if (cx < fx ? fx < left || cx > right : cx < left || fx > right) continue;
        const cy = e[k + 1]!;
        const ex = fx - cx;
        const ey = e[k + 3]! - cy;
        const cross = dx * ey - dy * ex;
        if (cross === 0) continue;
        const t = ((cx - a.x) * ey - (cy - a.y) * ex) / cross;
        const u = ((cx - a.x) * dy - (cy - a.y) * dx) / cross;
        // By rounding a way can begin just past an edge that the one before it just did not reach.
        if (t > -1e-9 && t <= 1 && u >= 0 && u <= 1 && enough(t, u, row[i]!)) return true;
      }
    }
    return false;
  }

  /**
   * The nearest point on an edge, its distance, mm; which edge that is, ring after ring, and its share of the way along it.
   *
   * @param within what lies further off does not count, mm: where nothing is nearer, that is the distance and the edge is −1
   */
  nearest(p: Point, within = Infinity): { point: Point; distance: number; edge: number; share: number } {
    const e = this.ends;
    let [x, y, least, edge, share] = [p.x, p.y, within * within, -1, 0];
    let reach = within;
    const middle = this.row(p.y);
    const last = this.rows.length - 1;
    // Rows outwards from the point; a row further off than the best so far cannot hold a nearer edge.
    for (let d = 0; d <= last; d++) {
      const off = (d - 1) * this.step;
      if (d > 0 && off * off > least) break;
      for (let side = d === 0 ? 1 : -1; side <= 1; side += 2) {
        const r = middle + side * d;
        if (r < 0 || r > last) continue;
        const row = this.rows[r]!;
        for (let i = 0; i < row.length; i++) {
          const k = 4 * row[i]!;
          const ax = e[k]!;
          const bx = e[k + 2]!;
          // Most edges of a row lie far to one side.
          if (ax < bx ? ax - p.x > reach || p.x - bx > reach : bx - p.x > reach || p.x - ax > reach) continue;
          const ay = e[k + 1]!;
          const dx = bx - ax;
          const dy = e[k + 3]! - ay;
          const square = dx * dx + dy * dy;
          let t = square === 0 ? 0 : ((p.x - ax) * dx + (p.y - ay) * dy) / square;
          if (t < 0) t = 0;
          else if (t > 1) t = 1;
          const ox = p.x - ax - t * dx;
          const oy = p.y - ay - t * dy;
          const far = ox * ox + oy * oy;
          if (far < least) {
            least = far;
            reach = Math.sqrt(far);
            x = ax + t * dx;
            y = ay + t * dy;
            edge = row[i]!;
            share = t;
          }
        }
      }
    }
    return { point: { x, y }, distance: Math.sqrt(least), edge, share };
  }
}

/**
 * The parts of open lines that lie in polygons.
 *
 * @param least parts shorter than this are left out, mm
 */
export function cutLines(lines: readonly Polyline[], polygons: readonly Polygon[], least = 0.01): Polyline[] {
  if (polygons.length === 0) return [];
  const grid = new EdgeGrid(polygons);
  const parts: Polyline[] = [];
  for (const line of lines) {
    let part: Polyline = [];
    const close = () => {
      let length = 0;
      for (let i = 1; i < part.length; i++)
        length += Math.hypot(part[i]!.x - part[i - 1]!.x, part[i]!.y - part[i - 1]!.y);
      if (part.length > 1 && length >= least) parts.push(part);
      part = [];
    };
    // A way that crosses nothing stays where the one before it was.
    let known: boolean | undefined;
    for (let i = 1; i < line.length; i++) {
      const a = line[i - 1]!;
      const b = line[i]!;
      const cuts = grid.cuts(a, b);
      if (cuts.length === 0 && known !== undefined) {
        if (known) part.push(b);
        continue;
      }
      const at = (t: number): Point => ({ x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t });
      let from = 0;
      for (const to of [...cuts, 1]) {
        if (to - from < 1e-9) continue;
        const middle = at((from + to) / 2);
        known = grid.inside(middle.x, middle.y);
        if (known) {
          if (part.length === 0) part.push(from < 1e-9 ? a : at(from));
          part.push(to === 1 ? b : at(to));
        } else close();
        from = to;
      }
      if (cuts.length > 0 && cuts[cuts.length - 1]! > 1 - 1e-9) known = undefined;
    }
    close();
  }
  return parts;
}
