import { circle, distance, EdgeGrid, solid, union, type Point, type Polygon } from '#core/geometry';
import type { Settings } from '#core/settings';

interface Column {
  at: Point;
  radius: number;
  /** Where it stood one layer higher, while it leans. */
  was?: Point;
}

/** Columns lean at most this far from upright. */
const LEAN = Math.tan((38 * Math.PI) / 180);
const APART = 5;
const TIP = 0.9;
const WIDEST = 3.2;
/** Growth of the radius, mm a mm. */
const TAPER = 0.05;
const TOGETHER = 14;

/** Slender columns that start in points under the overhang, lean together, join, and grow thicker downwards. */
export class Columns {
  private columns: Column[] = [];

  constructor(private readonly s: Settings) {}

  /** Whether any column is on its way down. */
  get any(): boolean {
    return this.columns.length > 0;
  }

  /**
   * Goes down one layer. A column that the part leaves no way ends on it.
   *
   * @param start where new columns are needed
   * @param wall where no column may stand in this layer
   * @returns the section of all columns
   */
  down(start: readonly Polygon[], wall: readonly Polygon[], height: number): Polygon[] {
    this.begin(start);
    const step = height * LEAN;
    const grid = new EdgeGrid(wall);
    this.gather(step);
    this.columns = this.columns.flatMap((c): Column[] => {
      const radius = Math.min(WIDEST, c.radius + height * TAPER);
      const need = this.s.lineWidth;
      // Leaning towards another must not lead into the part: straight down is always free from the bed.
      const leads =
        c.was && wall.length > 0 && (grid.inside(c.at.x, c.at.y) || grid.nearest(c.at).distance < this.s.lineWidth);
      let at = leads ? c.was! : c.at;
      const near = wall.length > 0 ? grid.nearest(at) : { point: at, distance: Infinity };
      const inside = wall.length > 0 && grid.inside(at.x, at.y);
      const clear = inside ? -near.distance : near.distance;
      if (clear < need + radius * 0.4 && near.distance > 1e-6) {
        // Out of the part's way, as far as it may lean.
        const away = inside ? 1 : -1;
        const by = Math.min(step, need + radius * 0.4 - clear);
        at = {
          x: at.x + ((near.point.x - at.x) / near.distance) * by * away,
          y: at.y + ((near.point.y - at.y) / near.distance) * by * away,
        };
        if (grid.inside(at.x, at.y)) return [];
      }
      return [{ at, radius }];
    });
    return this.columns.length === 0 ? [] : union(this.columns.map((c) => solid(circle(c.at.x, c.at.y, c.radius, 20))));
  }

  private begin(start: readonly Polygon[]): void {
    if (start.length === 0) return;
    const within = new EdgeGrid(start);
    for (const part of start) {
      const xs = part.outer.map((p) => p.x);
      const ys = part.outer.map((p) => p.y);
      const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
      const points: Point[] = [];
      for (let x = Math.ceil(x0 / APART) * APART; x <= x1; x += APART)
        for (let y = Math.ceil(y0 / APART) * APART; y <= y1; y += APART) points.push({ x, y });
      // A part between the points of the lattice gets one in its middle.
      points.push(
        part.outer.reduce((m, p) => ({ x: m.x + p.x / part.outer.length, y: m.y + p.y / part.outer.length }), {
          x: 0,
          y: 0,
        }),
      );
      for (const at of points) {
        if (!within.inside(at.x, at.y)) continue;
        if (this.columns.some((c) => distance(c.at, at) < 0.7 * APART)) continue;
        this.columns.push({ at, radius: TIP });
      }
    }
  }

  /** Neighbours lean towards one another and become one where they meet. */
  private gather(step: number): void {
    const next: Column[] = [];
    const used = new Set<number>();
    this.columns.forEach((c, i) => {
      if (used.has(i)) return;
      let mate = -1;
      let nearest = TOGETHER;
      this.columns.forEach((o, j) => {
        const d = distance(c.at, o.at);
        if (j !== i && !used.has(j) && d < nearest) {
          nearest = d;
          mate = j;
        }
      });
      used.add(i);
      if (mate < 0) return void next.push(c);
      used.add(mate);
      const o = this.columns[mate]!;
      const by = Math.min(0.5, step / Math.max(nearest, 1e-6));
      const mix = (a: Point, b: Point): Point => ({ x: a.x + (b.x - a.x) * by, y: a.y + (b.y - a.y) * by });
      if (nearest <= 2 * step) {
        next.push({ at: mix(c.at, o.at), was: c.at, radius: Math.min(WIDEST, Math.hypot(c.radius, o.radius)) });
      } else next.push({ ...c, at: mix(c.at, o.at), was: c.at }, { ...o, at: mix(o.at, c.at), was: o.at });
    });
    this.columns = next;
  }
}
