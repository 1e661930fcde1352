import type { Ends } from '#core/factors';
import { holding, type Box, type Measured, type Loop } from './loops';
import type { Chunk } from '#core/moves';
import type { Line } from './line';
import type { Fill, Outlines } from './stands';
import type { Run } from './tower';

/** Lines that follow one another without a way between, and the loop that they are, if they close. */
export interface Path extends Run {
  lines: Line[];
}

/** The paths of one height, mm, and the outermost of their loops. */
export interface Layer {
  z: number;
  paths: Path[];
  roots: Loop[];
  /** Chunks that end within this layer. */
  done: Chunk[];
}

/** The outermost loop around a loop. */
export function rootOf(loop: Loop): Loop {
  let root = loop;
  while (root.parent) root = root.parent;
  return root;
}

/** What open paths lay within each outline; marks the loops that hold them. */
export function laidIn(paths: readonly Path[], roots: readonly Loop[]): Map<Loop, Fill> {
  const laid = new Map<Loop, Fill>();
  for (const p of paths) {
    const { x, y } = middleOf(p);
    const home = holding(roots, x, y);
    if (!home) continue;
    home.filled = true;
    const root = rootOf(home);
    let own = laid.get(root);
    if (!own) laid.set(root, (own = { area: 0, slowest: Infinity, fastest: 0 }));
    for (const l of p.lines) {
      own.area += l.length * l.width;
      own.slowest = Math.min(own.slowest, l.speed);
      own.fastest = Math.max(own.fastest, l.speed);
    }
  }
  return laid;
}

/** The outermost loops of a layer, and what is laid within them. */
export const outlinesOf = (layer: Layer | undefined): Outlines =>
  layer
    ? {
        roots: layer.roots,
        fill: laidIn(
          layer.paths.filter((p) => !p.loop),
          layer.roots,
        ),
      }
    : { roots: [], fill: new Map() };

/** Loops of a layer within which nothing is laid, though there is room. */
export function hollowIn({ paths }: Layer): Loop[] {
  return paths.flatMap(({ loop }) =>
    loop && loop.kids.length === 0 && !loop.filled && loop.area > 100 * loop.width ** 2 ? [loop] : [],
  );
}

/** Length of lines together, mm. */
export const lengthOf = (lines: readonly Measured[]): number => lines.reduce((sum, l) => sum + l.length, 0);

/** A path that closes on itself and goes on is cut there: the loop, and what follows it. */
export function splitAtLoops(path: Path): Path[] {
  const { lines } = path;
  const parts: Path[] = [];
  let from = 0;
  let length = 0;
  for (let i = 0; i < lines.length - 1; i++) {
    const l = lines[i]!;
    const first = lines[from]!;
    length += l.length;
    if (i > from + 1 && Math.abs(l.x - first.x0) < 0.02 && length > 6 * l.width && near(l, first)) {
      parts.push({ ...path, change: from === 0 ? path.change : undefined, lines: lines.slice(from, i + 1) });
      from = i + 1;
      length = 0;
    }
  }
  if (from === 0) return [path];
  return [...parts, { lines: lines.slice(from), change: undefined, loop: undefined }];
}

const near = (end: Ends, start: Ends): boolean => Math.hypot(end.x - start.x0, end.y - start.y0) < 0.02;

/** The middle of the longest of some lines, mm. */
export function middleOf({ lines }: Pick<Path, 'lines'>): { x: number; y: number } {
  const l = lines.reduce((a, b) => (b.length > a.length ? b : a));
  return { x: (l.x + l.x0) / 2, y: (l.y + l.y0) / 2 };
}

/** The box of the centre lines of a path, mm. */
export function boxOf({ lines }: Path): Box {
  const box: Box = [Infinity, Infinity, -Infinity, -Infinity];
  for (const l of lines) {
    box[0] = Math.min(box[0], l.x, l.x0);
    box[1] = Math.min(box[1], l.y, l.y0);
    box[2] = Math.max(box[2], l.x, l.x0);
    box[3] = Math.max(box[3], l.y, l.y0);
  }
  return box;
}

/** Whether a path lies within a box, a millimetre more to each side. */
export function boxIn(path: Path, into: Box): boolean {
  const b = boxOf(path);
  return b[0] > into[0] - 1 && b[1] > into[1] - 1 && b[2] < into[2] + 1 && b[3] < into[3] + 1;
}
