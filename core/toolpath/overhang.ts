import { EdgeGrid, inPolygons, type Point, type Polygon } from '#core/geometry';
import { roleNumber } from '#core/moves';
import type { Settings } from '#core/settings';

/** Pieces of a way over the edge of the layer beneath are no longer than this, mm. */
const PIECE = 0.8;
const CLASSES = 8;

/** A loop cut where its support changes: what each segment is, and how fast it may be at most, mm/s. */
export interface Graded {
  points: Point[];
  roles: number[];
  speeds: number[];
}

/** How a wall lies on the layer beneath it. */
export class Ground {
  private readonly grid: EdgeGrid;

  constructor(
    private readonly below: readonly Polygon[],
    private readonly bridging: readonly Polygon[],
  ) {
    this.grid = new EdgeGrid(below);
  }

  /** The share of a line's width, mm, that lies on the layer beneath, in eighths. */
  private eighths(x: number, y: number, width: number): number {
    if (this.below.length === 0) return 0;
    // Half a line's width from the edge it is held as far in, or hangs as free, as anywhere.
    const far = this.grid.nearest({ x, y }, width / 2).distance / width;
    const share = this.grid.inside(x, y) ? 0.5 + far : 0.5 - far;
    return Math.round(Math.max(0, Math.min(1, share)) * CLASSES);
  }

  /** Cuts a line into what is held, what hangs over and what spans, with the speed each may have. */
  graded(line: readonly Point[], supported: number, s: Settings): Graded {
    const { lineWidth } = s;
    const speeds = Array.from({ length: CLASSES + 1 }, (_, k) => overhangSpeed(k / CLASSES, s));
    const out: Graded = { points: [line[0]!], roles: [], speeds: [] };
    for (let i = 1; i < line.length; i++) {
      const a = line[i - 1]!;
      const b = line[i]!;
      const pieces = Math.max(1, Math.ceil(Math.hypot(b.x - a.x, b.y - a.y) / PIECE));
      for (let k = 0; k < pieces; k++) {
        const at = (t: number): Point => ({ x: a.x + (b.x - a.x) * t, y: a.y + (b.y - a.y) * t });
        const middle = at((k + 0.5) / pieces);
        const end = k + 1 === pieces ? b : at((k + 1) / pieces);
        const share = this.eighths(middle.x, middle.y, lineWidth);
        const role =
          share >= CLASSES / 2
            ? supported
            : inPolygons(this.bridging, middle.x, middle.y)
              ? roleNumber.bridge
              : roleNumber.overhang;
        const speed = role === roleNumber.bridge ? Infinity : speeds[share]!;
        const last = out.roles.length - 1;
        // Pieces of one segment that are alike stay one.
        if (k > 0 && out.roles[last] === role && out.speeds[last] === speed) out.points[last + 1] = end;
        else {
          out.points.push(end);
          out.roles.push(role);
          out.speeds.push(speed);
        }
      }
    }
    return out;
  }
}

/**
 * The speed of an overhanging line, mm/s: as asked where it is overlapped by `overhangFrom` or more, the overhang speed
 * at `overhangTo` or less, on a straight line between.
 */
export function overhangSpeed(overlapped: number, s: Settings): number {
  const { overhangFrom: from, overhangTo: to } = s;
  if (overlapped >= from && (from > to || overlapped >= 0.5)) return Infinity;
  if (overlapped <= to || from <= to) return s.overhangSpeed;
  const share = (overlapped - to) / (from - to);
  return s.overhangSpeed + share * Math.max(0, s.outerWallSpeed - s.overhangSpeed);
}

/** Speeds of a wall by the radius of its curve, mm/s: the tightest at radius 0, free from `tightCurveRadius` on. */
export function curveSpeeds(line: readonly Point[], closed: boolean, asked: number, s: Settings): number[] | undefined {
  if (s.tightCurveRadius <= 0 || s.tightCurveSpeed >= asked) return undefined;
  const n = line.length - 1;
  const radius = (i: number): number => {
    if (!closed && (i === 0 || i === n)) return Infinity;
    const a = line[(i + n - 1) % n]!;
    const b = line[i]!;
    const c = closed ? line[(i % n) + 1]! : line[i + 1]!;
    const [ux, uy, vx, vy] = [b.x - a.x, b.y - a.y, c.x - b.x, c.y - b.y];
    const turn = Math.abs(Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy));
    return turn < 1e-6 ? Infinity : (Math.hypot(ux, uy) + Math.hypot(vx, vy)) / 2 / turn;
  };
  const speeds = line.slice(1).map((_, i) => {
    const r = Math.min(radius(i), radius(i + 1));
    return r >= s.tightCurveRadius
      ? Infinity
      : s.tightCurveSpeed + ((asked - s.tightCurveSpeed) * r) / s.tightCurveRadius;
  });
  return speeds.some(Number.isFinite) ? speeds : undefined;
}
