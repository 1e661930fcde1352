import { seeded } from '#core/base';
import { distance, type Point } from '#core/geometry';
import type { Settings } from '#core/settings';
import { Nearest } from './nearest';
import type { Path } from './path';

/** Where a loop begins: a segment, and the share of the way along it. */
interface Start {
  segment: number;
  share: number;
}

/**
 * Chooses where closed loops begin. *Rear* is the corner furthest back, away from the judged front; *aligned* stays as
 * near as it can to the seams of the layer beneath, and begins where the nozzle stands; *scattered* falls anywhere, by the trial's seed.
 */
export class Seams {
  /** Those of the layer beneath. */
  private before = new Nearest([]);
  private now: Point[] = [];

  constructor(private readonly seed: number) {}

  /** Begins a layer. */
  layer(): void {
    if (this.now.length > 0) this.before = new Nearest(this.now.map((p) => [p]));
    this.now = [];
  }

  /** A copy, so that a layer can be laid twice. */
  copy(): Seams {
    const other = new Seams(this.seed);
    other.before = this.before;
    other.now = [...this.now];
    return other;
  }

  /** The loop turned so that it begins at its seam; `here` is where the nozzle stands. */
  placed(path: Path, layer: number, here: Point): Path {
    const loop = path.points;
    const start = this.start(loop, path.settings.seam, layer, here);
    const turned = begunAt(path, start);
    this.now.push(turned.points[0]!);
    return turned;
  }

  private start(loop: Point[], how: Settings['seam'], layer: number, here: Point): Start {
    switch (how) {
      case 'rear':
        return { segment: rearOf(loop), share: 0 };
      case 'sharpest corner':
        return { segment: sharpestOf(loop), share: 0 };
      case 'aligned':
        return { segment: this.alignedIn(loop, here), share: 0 };
      case 'scattered':
        return somewhere(loop, (this.seed ^ (layer * 2_654_435_761) ^ (this.now.length * 40_503)) >>> 0);
    }
  }

  private alignedIn(loop: Point[], here: Point): number {
    let best = 0;
    let nearest = Infinity;
    const { before } = this;
    for (let i = 0; i < loop.length - 1; i++) {
      const far = before.isEmpty ? distance(loop[i]!, here) : before.find(loop[i]!).far;
      if (far < nearest) {
        nearest = far;
        best = i;
      }
    }
    return best;
  }
}

/** The corner furthest back (largest y), of those the one most to the right. */
export function rearOf(loop: readonly Point[]): number {
  let best = 0;
  for (let i = 1; i < loop.length - 1; i++) {
    const p = loop[i]!;
    const b = loop[best]!;
    if (p.y > b.y + 1e-6 || (Math.abs(p.y - b.y) <= 1e-6 && p.x > b.x)) best = i;
  }
  return best;
}

/** The corner that turns most; among equals the one furthest back. */
export function sharpestOf(loop: readonly Point[]): number {
  const n = loop.length - 1;
  let best = 0;
  let most = -1;
  for (let i = 0; i < n; i++) {
    const a = loop[(i + n - 1) % n]!;
    const b = loop[i]!;
    const c = loop[i + 1]!;
    const turn = Math.abs(
      Math.atan2(
        (b.x - a.x) * (c.y - b.y) - (b.y - a.y) * (c.x - b.x),
        (b.x - a.x) * (c.x - b.x) + (b.y - a.y) * (c.y - b.y),
      ),
    );
    if (turn > most + 0.01 || (turn > most - 0.01 && b.y > loop[best]!.y + 1e-6)) {
      most = Math.max(most, turn);
      best = i;
    }
  }
  return best;
}

function somewhere(loop: readonly Point[], seed: number): Start {
  const lengths = loop.slice(1).map((p, i) => Math.hypot(p.x - loop[i]!.x, p.y - loop[i]!.y));
  let left = seeded(seed)() * lengths.reduce((a, b) => a + b, 0);
  for (let i = 0; i < lengths.length; i++) {
    if (left < lengths[i]!) return { segment: i, share: left / lengths[i]! };
    left -= lengths[i]!;
  }
  return { segment: 0, share: 0 };
}

/** A closed path that begins at another of its places. */
export function begunAt(path: Path, { segment, share }: Start): Path {
  const n = path.points.length - 1;
  if (segment === 0 && share < 1e-6) return path;
  const order = Array.from({ length: n }, (_, i) => (segment + i) % n);
  const turn = <T>(values: readonly T[]) => order.map((i) => values[i]!);
  const points = turn(path.points);
  const along = <T>(values: readonly T[]) => (share < 1e-6 ? turn(values) : [...turn(values), values[segment]!]);
  if (share < 1e-6) points.push(points[0]!);
  else {
    const a = points[0]!;
    const b = path.points[segment + 1]!;
    const start = { x: a.x + (b.x - a.x) * share, y: a.y + (b.y - a.y) * share };
    points[0] = start;
    points.push(a, start);
  }
  return {
    ...path,
    points,
    roles: along(path.roles),
    ...(path.areas && { areas: along(path.areas) }),
    ...(path.speeds && { speeds: along(path.speeds) }),
  };
}
