import { byLayer, boxOfLines, inLoop, isLoop, lengthOfLine, loopArea, nearLine, pathsOf } from './lines';
import type { CellReading, Laid } from './print';

/** In each layer that has both: whether an inner wall comes before the outer one beside it. */
export const wallOrder: CellReading = ({ lines }) =>
  [...byLayer(lines, 'outer-wall', 'inner-wall').values()].flatMap((own) => {
    const inner = own.findIndex((l) => l.role === 'inner-wall');
    if (inner < 0) return [];
    const { x0, y0, width } = own[inner]!;
    const outer = own.findIndex((l) => l.role === 'outer-wall' && nearLine(l, x0, y0) < 1.5 * width);
    return outer < 0 ? [] : [{ value: inner < outer ? 0 : 1, weight: 1 }];
  });

/** The width that most of the walls have, at the planned flow; lines along the middle of slim parts have their own. */
export const lineWidth: CellReading = ({ lines, settings }) => {
  const seen = new Map<number, number>();
  for (const l of lines) {
    if (l.role !== 'outer-wall' || l.layer === 0) continue;
    // Section of a line with rounded edges: (w − h) h + π h²/4.
    const h = l.height;
    const section = ((l.width - h) * h + (Math.PI / 4) * h * h) / settings.flow;
    const width = settings.lineVolume === 'rectangle' ? section / h : section / h + h * (1 - Math.PI / 4);
    const value = Math.round(width * 500) / 500;
    seen.set(value, (seen.get(value) ?? 0) + l.e);
  }
  const [most] = [...seen].sort((a, b) => b[1] - a[1]);
  return most ? [{ value: most[0], weight: 1 }] : [];
};

/** Whether slim parts have a line along their middle: an outer wall that is no loop, or a loop without area. */
export const thinWalls: CellReading = ({ lines }) => {
  const paths = pathsOf(lines.filter((l) => l.role === 'outer-wall'));
  if (paths.length === 0) return [];
  const slim = paths.some((p) => !isLoop(p) && p.reduce((sum, l) => sum + lengthOfLine(l), 0) > 1);
  return [{ value: slim ? 0 : 1, weight: 1 }];
};

/** How much the outline of the first layer lies within that of the second. */
export const firstLayerInset: CellReading = ({ lines }) => {
  const [first, second] = [...byLayer(lines, 'outer-wall').values()];
  if (!first || !second) return [];
  const [a, b] = [boxOfLines(first), boxOfLines(second)];
  const inset = (b.x1 - b.x0 - (a.x1 - a.x0) + (b.y1 - b.y0) - (a.y1 - a.y0)) / 4;
  return [{ value: Math.round(inset * 1e3) / 1e3, weight: 1 }];
};

/**
 * Where outer loops begin: at the point furthest back, at the corner that turns most, near the loop beneath, or
 * anywhere. One word for all layers of a cell: on some outlines several come to the same, then the one asked stands.
 */
export const seam: CellReading = ({ lines, settings }) => {
  const loops = [...byLayer(lines, 'outer-wall').values()]
    .map((own) => pathsOf(own).filter((p) => isLoop(p)))
    .map((own) => own.sort((a, b) => loopArea(b).area - loopArea(a).area)[0])
    .filter((p) => p !== undefined);
  if (loops.length < 3) return [];
  const starts = loops.map((p) => p[0]!);
  const rear = share(loops, (p) => Math.max(...p.map((l) => l.y0)) - p[0]!.y0 < 0.02);
  const sharpest = share(loops, (p) => turnAt(p, 0) > Math.max(...p.map((_, i) => turnAt(p, i))) - 0.02);
  const near = share(
    starts.slice(1).map((s, i) => [s, starts[i]!] as const),
    ([a, b]) => Math.hypot(a.x0 - b.x0, a.y0 - b.y0) < 1,
  );
  const fits = [rear > 0.9, sharpest > 0.9, near > 0.9];
  const planned = ['rear', 'sharpest corner', 'aligned'].indexOf(settings.seam);
  const value = fits[planned] ? planned : fits.includes(true) ? fits.indexOf(true) : 3;
  return [{ value, weight: loops.length }];
};

const share = <T>(list: readonly T[], holds: (item: T) => boolean): number => list.filter(holds).length / list.length;

/** How much a loop turns where line `i` begins, radians. */
function turnAt(path: readonly Laid[], i: number): number {
  const a = path[(i + path.length - 1) % path.length]!;
  const b = path[i]!;
  const [ux, uy, vx, vy] = [a.x - a.x0, a.y - a.y0, b.x - b.x0, b.y - b.y0];
  return Math.abs(Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy));
}

/** The slowest of the lines that hang over: what hangs over less is slowed less. */
export const overhangSpeed: CellReading = ({ lines }) => {
  const own = lines.filter((l) => l.role === 'overhang');
  return own.length === 0 ? [] : [{ value: Math.round(Math.min(...own.map((l) => l.speed)) * 100) / 100, weight: 1 }];
};

/** A loop of so many lines is round; a six-sided head with its tab has fewer. */
const ROUND = 24;

/**
 * Air on each side between a plug and the ring beside it: of three loops in a layer the hole lies in the ring, the plug
 * by itself; its six-sided head does not count. What outlines are grown by to make up for the printer is not counted.
 */
export const fitClearance: CellReading = ({ lines, settings }) =>
  [...byLayer(lines, 'outer-wall').values()].flatMap((own) => {
    const loops = pathsOf(own).filter((p) => isLoop(p));
    const hole = loops.find((p) => loops.some((q) => q !== p && inLoop(q, p[0]!.x0, p[0]!.y0)));
    const plug = loops.find((p) => p !== hole && !(hole && inLoop(p, hole[0]!.x0, hole[0]!.y0)));
    if (loops.length !== 3 || !hole || !plug || plug.length < ROUND) return [];
    const [h, p] = [boxOfLines(hole), boxOfLines(plug)];
    const room = h.x1 - h.x0 - hole[0]!.width - (p.x1 - p.x0 + plug[0]!.width);
    return [{ value: Math.round((room / 2 + 2 * settings.xyCompensation) * 1e3) / 1e3, weight: 1 }];
  });
