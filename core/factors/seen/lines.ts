import type { Role } from '#core/moves';
import type { Ends, Laid } from './print';

/** Length of a line, mm. */
export const lengthOfLine = (l: Laid): number => Math.hypot(l.x - l.x0, l.y - l.y0);
/** The sum of a measure over a list. */
export const sumOf = <T>(list: readonly T[], of: (item: T) => number): number =>
  list.reduce((sum, item) => sum + of(item), 0);

/** The value in the middle; NaN of an empty list. */
export function medianOf(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  const half = sorted.length >> 1;
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2;
}

/** Lines of some roles, layer by layer from the lowest. */
export function byLayer(lines: readonly Laid[], ...roles: Role[]): Map<number, Laid[]> {
  const layers = new Map<number, Laid[]>();
  for (const l of lines) {
    if (!roles.includes(l.role)) continue;
    const own = layers.get(l.layer);
    if (own) own.push(l);
    else layers.set(l.layer, [l]);
  }
  return new Map([...layers].sort((a, b) => a[0] - b[0]));
}

/** Direction of a line without its sense, degrees in 0 … 180. */
export const directionOf = (l: Laid): number => ((Math.atan2(l.y - l.y0, l.x - l.x0) * 180) / Math.PI + 360) % 180;

/** The angle between two directions, 0 … 90°. */
export function between(a: number, b: number): number {
  const d = Math.abs(a - b) % 180;
  return Math.min(d, 180 - d);
}

/** Directions that hold more than `least` of the length, the longest first: middle and share. */
export function directionsOf(lines: readonly Laid[], least = 0.12): { angle: number; share: number }[] {
  const all = sumOf(lines, lengthOfLine);
  const left = lines.map((l) => ({ angle: directionOf(l), length: lengthOfLine(l) }));
  const found: { angle: number; share: number }[] = [];
  while (all > 0 && left.some((l) => l.length > 0) && found.length < 8) {
    // Each line counts for the whole degrees near it: a sum over all lines for each degree costs 25 times as much.
    const lengths = new Float64Array(180);
    for (const l of left) {
      if (l.length === 0) continue;
      for (let angle = Math.floor(l.angle - 3); angle <= l.angle + 4; angle++) {
        const whole = (angle + 180) % 180;
        if (between(l.angle, whole) <= 3) lengths[whole]! += l.length;
      }
    }
    const length = Math.max(...lengths);
    const best = { angle: lengths.indexOf(length), length };
    if (best.length / all < least) break;
    const own = left.filter((l) => l.length > 0 && between(l.angle, best.angle) <= 4);
    const middle =
      sumOf(own, (l) => l.length * (((l.angle - best.angle + 270) % 180) - 90)) / sumOf(own, (l) => l.length);
    found.push({ angle: (best.angle + middle + 180) % 180, share: sumOf(own, (l) => l.length) / all });
    for (const l of own) l.length = 0;
  }
  return found;
}

/** Distances of neighbouring parallel lines in a direction, mm, ascending in space. */
export function gapsOf(lines: readonly Laid[], angle: number): number[] {
  const across = offsetsOf(lines, angle);
  return across.slice(1).map((v, i) => v - across[i]!);
}

/** Where the lines of a direction lie across it, mm, ascending, each place once. */
export function offsetsOf(lines: readonly Laid[], angle: number): number[] {
  const turn = (angle * Math.PI) / 180;
  const [nx, ny] = [-Math.sin(turn), Math.cos(turn)];
  const places = lines
    .filter((l) => between(directionOf(l), angle) <= 3)
    .map((l) => (nx * (l.x + l.x0) + ny * (l.y + l.y0)) / 2)
    .sort((a, b) => a - b);
  return places.filter((v, i) => i === 0 || v - places[i - 1]! > 0.03);
}

/** Paths: lines that follow one another without a way between. */
export function pathsOf(lines: readonly Laid[]): Laid[][] {
  const paths: Laid[][] = [];
  for (const l of lines) {
    const own = paths.at(-1);
    const end = own?.at(-1);
    if (own && end && !l.begins && Math.hypot(end.x - l.x0, end.y - l.y0) < 0.01) own.push(l);
    else paths.push([l]);
  }
  return paths;
}

/** Whether a path ends where it began. */
export const isLoop = (path: readonly Laid[], within = 0.05): boolean => {
  const end = path.at(-1)!;
  return path.length > 2 && Math.hypot(end.x - path[0]!.x0, end.y - path[0]!.y0) < within;
};

/** Area within a loop, mm², and its length, mm. */
export function loopArea(path: readonly Laid[]): { area: number; length: number } {
  return { area: Math.abs(sumOf(path, (l) => l.x0 * l.y - l.x * l.y0)) / 2, length: sumOf(path, lengthOfLine) };
}

/** Whether a point lies within a loop. */
export function inLoop(path: readonly Ends[], x: number, y: number): boolean {
  let inside = false;
  for (const l of path) {
    if (l.y0 > y !== l.y > y && x < l.x0 + ((y - l.y0) / (l.y - l.y0)) * (l.x - l.x0)) inside = !inside;
  }
  return inside;
}

/**
 * Area covered by what lies within the outermost walls, out to the edge of their lines, mm²: loops within loops are
 * holes, and their lines stand inside the solid.
 */
export function outlineArea(walls: readonly Laid[]): number {
  const loops = pathsOf(walls).filter((p) => isLoop(p));
  return sumOf(loops, (path) => {
    const { area, length } = loopArea(path);
    const width = sumOf(path, (l) => l.width) / path.length;
    const depth = loops.filter((other) => other !== path && inLoop(other, path[0]!.x0, path[0]!.y0)).length;
    return depth % 2 === 0 ? area + (length * width) / 2 : -(area - (length * width) / 2);
  });
}

/** The box of the centre lines, mm. */
export function boxOfLines(lines: readonly Laid[]): { x0: number; y0: number; x1: number; y1: number } {
  const box = { x0: Infinity, y0: Infinity, x1: -Infinity, y1: -Infinity };
  for (const l of lines) {
    box.x0 = Math.min(box.x0, l.x0, l.x);
    box.y0 = Math.min(box.y0, l.y0, l.y);
    box.x1 = Math.max(box.x1, l.x0, l.x);
    box.y1 = Math.max(box.y1, l.y0, l.y);
  }
  return box;
}

/** Whether two lines cross away from their ends. */
export function crosses(a: Laid, b: Laid): boolean {
  const r = (a.x - a.x0) * (b.y - b.y0) - (a.y - a.y0) * (b.x - b.x0);
  if (Math.abs(r) < 1e-9) return false;
  const t = ((b.x0 - a.x0) * (b.y - b.y0) - (b.y0 - a.y0) * (b.x - b.x0)) / r;
  const u = ((b.x0 - a.x0) * (a.y - a.y0) - (b.y0 - a.y0) * (a.x - a.x0)) / r;
  return t > 0.02 && t < 0.98 && u > 0.02 && u < 0.98;
}

/** Distance of a point from a line, mm. */
export function nearLine(l: Ends, x: number, y: number): number {
  const { x0, y0 } = l;
  const dx = l.x - x0;
  const dy = l.y - y0;
  const t = Math.max(0, Math.min(1, ((x - x0) * dx + (y - y0) * dy) / (dx * dx + dy * dy || 1)));
  const ox = x0 + dx * t - x;
  const oy = y0 + dy * t - y;
  return Math.sqrt(ox * ox + oy * oy);
}
