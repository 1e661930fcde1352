import { plainRead, type PlainMove } from './plain-reader';

/**
 * A picture of what a file lays, made from its text alone: every line as wide as its volume asks for at its layer's
 * height, its ends square and half a width long, so that lines that turn at a wall tile the plane. Nothing of the engine
 * is used.
 */

/** Lines that miss or pass one another by less are taken to touch: figures in a file are rounded. mm */
const HAIR = 0.01;

/** A line on the bed. mm */
export interface LaidLine {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
  z: number;
  height: number;
  /** Area of its cross-section ÷ height. */
  width: number;
  /** Lines laid without a move between them are one path. */
  path: number;
  /** Way along the path to the start of the line. */
  along: number;
  /** Length of its path where it ends where it began, else 0. */
  closed: number;
  /** What its comment says it is. */
  role: string;
  line: number;
}

/**
 * The lines of a file by the height of their nozzle, in their order.
 *
 * @param area cross-section of the filament, mm²
 */
export function laidByHeight(bytes: Uint8Array, area: number): Map<number, LaidLine[]> {
  const { moves, lines } = plainRead(bytes);
  const roles = rolesOf(lines);
  const layers = new Map<number, LaidLine[]>();
  let before: PlainMove = { x: 0, y: 0, z: 0, e: 0, feed: 0, nozzle: 0, line: 0 };
  let path = 0;
  let along = 0;
  for (const m of moves) {
    const length = Math.hypot(m.x - before.x, m.y - before.y);
    if (m.e > 0 && length > 0) {
      const z = Math.round(m.z * 1000) / 1000;
      const layer = layers.get(z) ?? [];
      if (layer.length === 0) layers.set(z, layer);
      layer.push({
        x0: before.x,
        y0: before.y,
        x1: m.x,
        y1: m.y,
        z,
        height: 0,
        width: (m.e * area) / length,
        path,
        along,
        closed: 0,
        role: roles[m.line] ?? '',
        line: m.line,
      });
      along += length;
    } else {
      path++;
      along = 0;
    }
    before = m;
  }
  for (const layer of layers.values()) closeLoops(layer);
  const heights = [...layers.keys()].sort((a, b) => a - b);
  heights.forEach((z, i) => {
    const height = z - (heights[i - 1] ?? 0);
    for (const l of layers.get(z)!) {
      l.height = height;
      l.width /= height;
    }
  });
  return new Map(heights.map((z) => [z, layers.get(z)!]));
}

function closeLoops(layer: readonly LaidLine[]): void {
  for (let i = 0, j = 0; i < layer.length; i = j) {
    while (j < layer.length && layer[j]!.path === layer[i]!.path) j++;
    const [first, last] = [layer[i]!, layer[j - 1]!];
    if (Math.hypot(last.x1 - first.x0, last.y1 - first.y0) > first.width) continue;
    const length = last.along + Math.hypot(last.x1 - last.x0, last.y1 - last.y0);
    for (let k = i; k < j; k++) layer[k]!.closed = length;
  }
}

/** What the file itself calls each of its lines, by line number. */
function rolesOf(lines: readonly string[]): string[] {
  let role = '';
  const roles: string[] = [''];
  for (const text of lines) {
    const said = /^;@role ([a-z-]+)/.exec(text);
    if (said) role = said[1]!;
    roles.push(role);
  }
  return roles;
}

/** A grid over a box that counts how often each point is covered. */
export class Raster {
  readonly nx: number;
  readonly ny: number;
  readonly count: Uint8Array;
  private readonly path: Int32Array;
  private readonly along: Float32Array;

  /**
   * @param px side of a point, mm
   * @param hair lines that miss or pass one another by twice this are taken to touch, mm
   */
  constructor(
    readonly x0: number,
    readonly y0: number,
    x1: number,
    y1: number,
    readonly px: number,
    readonly hair = HAIR,
  ) {
    this.nx = Math.ceil((x1 - x0) / px);
    this.ny = Math.ceil((y1 - y0) / px);
    this.count = new Uint8Array(this.nx * this.ny);
    this.path = new Int32Array(this.nx * this.ny).fill(-1);
    this.along = new Float32Array(this.nx * this.ny);
  }

  /** Lays a line; where a path turns or closes, it covers the inside of its turn once. */
  lay(l: LaidLine): void {
    const r = l.width / 2;
    const [dx, dy] = [l.x1 - l.x0, l.y1 - l.y0];
    const length = Math.hypot(dx, dy);
    const [ux, uy] = [dx / length, dy / length];
    const reach = 1.5 * r;
    const near = 2 * l.width;
    this.inBox(
      Math.min(l.x0, l.x1) - reach,
      Math.min(l.y0, l.y1) - reach,
      Math.max(l.x0, l.x1) + reach,
      Math.max(l.y0, l.y1) + reach,
      (x, y, at) => {
        const along = (x - l.x0) * ux + (y - l.y0) * uy;
        const off = Math.abs((y - l.y0) * ux - (x - l.x0) * uy);
        if (off > r + this.hair || along < -r - this.hair || along > length + r + this.hair) return;
        const whole = off <= r - this.hair && along >= this.hair - r && along <= length + r - this.hair;
        const way = l.along + Math.max(0, Math.min(length, along));
        const gone = way - this.along[at]!;
        const same = this.path[at] === l.path && (gone < near || (l.closed > 0 && l.closed - gone < near));
        if (whole || this.count[at] === 0) {
          if (!same && (whole || this.path[at] === -1)) this.count[at]!++;
          this.path[at] = l.path;
          this.along[at] = way;
        }
      },
    );
  }

  /** Visits the points of a box. */
  inBox(x0: number, y0: number, x1: number, y1: number, visit: (x: number, y: number, at: number) => void): void {
    const i0 = Math.max(0, Math.floor((x0 - this.x0) / this.px));
    const i1 = Math.min(this.nx - 1, Math.ceil((x1 - this.x0) / this.px));
    const j0 = Math.max(0, Math.floor((y0 - this.y0) / this.px));
    const j1 = Math.min(this.ny - 1, Math.ceil((y1 - this.y0) / this.px));
    for (let j = j0; j <= j1; j++)
      for (let i = i0; i <= i1; i++)
        visit(this.x0 + (i + 0.5) * this.px, this.y0 + (j + 0.5) * this.px, j * this.nx + i);
  }
}

/** A ring of points, as `#core/geometry` has them; its turn does not matter here. */
type RingLike = readonly { x: number; y: number }[];

/** Whether points lie in rings (even–odd), and how far from their edges at least `margin`, mm. */
export function wellInside(rings: readonly RingLike[], margin: number): (x: number, y: number) => boolean {
  const edges = rings.flatMap((ring) => ring.map((b, i) => [ring[(i + ring.length - 1) % ring.length]!, b] as const));
  let [row, beside] = [NaN, edges];
  return (x, y) => {
    // Points come row by row: edges that lie above or below a row neither cross it nor come near.
    if (y !== row) {
      row = y;
      beside = edges.filter(([a, b]) => Math.min(a.y, b.y) - margin <= y && Math.max(a.y, b.y) + margin >= y);
    }
    let inside = false;
    for (const [a, b] of beside) {
      if (a.y > y !== b.y > y && x < a.x + ((y - a.y) / (b.y - a.y)) * (b.x - a.x)) inside = !inside;
      const [dx, dy] = [b.x - a.x, b.y - a.y];
      const square = dx * dx + dy * dy;
      const t = square === 0 ? 0 : Math.max(0, Math.min(1, ((x - a.x) * dx + (y - a.y) * dy) / square));
      const [ex, ey] = [x - a.x - t * dx, y - a.y - t * dy];
      if (ex * ex + ey * ey < margin * margin) return false;
    }
    return inside;
  };
}

/** How well an area is covered: shares of its points left bare, and covered twice or more. */
export function coverage(
  lines: readonly LaidLine[],
  rings: readonly RingLike[],
  margin = 0.1,
  px = 0.03,
  hair = HAIR,
): { bare: number; twice: number; points: number; raster: Raster; inside: Uint8Array } {
  const xs = rings.flatMap((r) => r.map((p) => p.x));
  const ys = rings.flatMap((r) => r.map((p) => p.y));
  const raster = new Raster(Math.min(...xs), Math.min(...ys), Math.max(...xs), Math.max(...ys), px, hair);
  for (const l of lines) raster.lay(l);
  const within = wellInside(rings, margin);
  const inside = new Uint8Array(raster.count.length);
  let [bare, twice, points] = [0, 0, 0];
  raster.inBox(-Infinity, -Infinity, Infinity, Infinity, (x, y, at) => {
    if (!within(x, y)) return;
    inside[at] = 1;
    points++;
    if (raster.count[at] === 0) bare++;
    if (raster.count[at]! > 1) twice++;
  });
  return { bare: bare / points, twice: twice / points, points, raster, inside };
}

/** Width of the widest open spot, mm: how often what is bare can be made narrower by a point all round, twice. */
export function openSpots({ count, nx, ny, px }: Raster, inside: Uint8Array): number {
  let open = count.map((n, at) => (n === 0 && inside[at] ? 1 : 0));
  for (let rounds = 0; ; rounds++) {
    if (!open.includes(1)) return 2 * rounds * px;
    const next = new Uint8Array(open.length);
    for (let j = 1; j + 1 < ny; j++)
      for (let i = 1; i + 1 < nx; i++) {
        const at = j * nx + i;
        next[at] = open[at]! & open[at - 1]! & open[at + 1]! & open[at - nx]! & open[at + nx]!;
      }
    open = next;
  }
}

/** How much of lines lies on what is beneath: the share of their length, and the length over nothing, mm. */
export function bonded(
  lines: readonly LaidLine[],
  below: readonly LaidLine[],
  px = 0.08,
): { share: number; bare: number } {
  const xs = lines.flatMap((l) => [l.x0, l.x1]);
  const ys = lines.flatMap((l) => [l.y0, l.y1]);
  const ground = new Raster(Math.min(...xs) - 1, Math.min(...ys) - 1, Math.max(...xs) + 1, Math.max(...ys) + 1, px);
  for (const l of below) ground.lay(l);
  let [held, all] = [0, 0];
  for (const l of lines) {
    const length = Math.hypot(l.x1 - l.x0, l.y1 - l.y0);
    const steps = Math.max(1, Math.round(length / px));
    for (let k = 0; k < steps; k++) {
      const t = (k + 0.5) / steps;
      const i = Math.floor((l.x0 + (l.x1 - l.x0) * t - ground.x0) / px);
      const j = Math.floor((l.y0 + (l.y1 - l.y0) * t - ground.y0) / px);
      all += length / steps;
      if (ground.count[j * ground.nx + i]! > 0) held += length / steps;
    }
  }
  return { share: held / all, bare: all - held };
}

/**
 * How full an area is, square by square: the volume of what is laid there ÷ that of the square, lines ending where they
 * end. Only squares wholly inside count.
 *
 * @param side of a square, mm
 * @param px side of the points whose volume is added up, mm
 */
export function fullness(lines: readonly LaidLine[], rings: readonly RingLike[], side = 1, px = 0.05): number[] {
  const within = wellInside(rings, 0.1 + side * Math.SQRT1_2);
  const sums = new Map<string, number>();
  for (const l of lines) {
    const [dx, dy] = [l.x1 - l.x0, l.y1 - l.y0];
    const length = Math.hypot(dx, dy);
    const [n, m] = [Math.max(1, Math.ceil(length / px)), Math.max(1, Math.ceil(l.width / px))];
    const each = (length * l.width) / (n * m);
    for (let i = 0; i < n; i++)
      for (let j = 0; j < m; j++) {
        const off = ((j + 0.5) / m - 0.5) * l.width;
        const x = l.x0 + (dx * (i + 0.5)) / n - (dy / length) * off;
        const y = l.y0 + (dy * (i + 0.5)) / n + (dx / length) * off;
        const key = `${Math.floor(x / side)} ${Math.floor(y / side)}`;
        sums.set(key, (sums.get(key) ?? 0) + each);
      }
  }
  return [...sums].flatMap(([key, area]) => {
    const [i, j] = key.split(' ').map(Number);
    return within((i! + 0.5) * side, (j! + 0.5) * side) ? [area / side ** 2] : [];
  });
}
