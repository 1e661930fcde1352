import { reachOf, type Context } from '#core/context';
import { flagsOf } from '#core/moves';
import { STRIPES_ABOVE as STRIPES } from '#core/specimens';

/** A thing that stands by itself on the bed. Lengths mm on the bed; `lines` are those of the text it is printed between. */
export interface FileObject {
  box: [number, number, number, number];
  /** Left and right edge in 16 stripes from its front to its back. */
  edges: [number, number][];
  top: number;
  lines: [number, number];
}

/** Side of a square of the grid, mm: what lies nearer than this counts as one. */
const SQUARE = 1;
/** What is lower, or begins higher, is no object that stands on the bed, mm. */
const LEAST = 1;
const MOST = 24;

const besides = flagsOf('support', 'support-interface', 'skirt', 'brim', 'prime', 'purge');

/**
 * Tells the objects of a file apart by where its lines lie: squares of the bed that touch one another belong together.
 * What stands in the box of another counts as one with it, so that a box is enough to tell whose a line is.
 */
export class Objects {
  private readonly x0: number;
  private readonly y0: number;
  private readonly wide: number;
  private readonly deep: number;
  private readonly bottom: Float32Array;
  private readonly top: Float32Array;
  private readonly first: Uint32Array;
  private readonly last: Uint32Array;

  constructor({ printer }: Context) {
    const { x0, y0, x1, y1 } = reachOf(printer);
    this.x0 = x0;
    this.y0 = y0;
    this.wide = Math.max(1, Math.ceil((x1 - x0) / SQUARE));
    this.deep = Math.max(1, Math.ceil((y1 - y0) / SQUARE));
    const n = this.wide * this.deep;
    this.bottom = new Float32Array(n);
    this.top = new Float32Array(n);
    this.first = new Uint32Array(n);
    this.last = new Uint32Array(n);
  }

  /** A line that is laid above the first layer. */
  line(x0: number, y0: number, x: number, y: number, z: number, role: number, line: number): void {
    if (besides[role] === 1) return;
    const dx = x - x0;
    const dy = y - y0;
    const steps = Math.max(1, Math.ceil(Math.max(Math.abs(dx), Math.abs(dy)) / SQUARE));
    let before = -1;
    for (let i = 0; i <= steps; i++) {
      const px = (x0 + (dx * i) / steps - this.x0) / SQUARE;
      const py = (y0 + (dy * i) / steps - this.y0) / SQUARE;
      if (!(px >= 0 && py >= 0 && px < this.wide && py < this.deep)) continue;
      const at = (py | 0) * this.wide + (px | 0);
      if (at === before) continue;
      before = at;
      if (this.first[at] === 0) {
        this.first[at] = line;
        this.bottom[at] = z;
      }
      this.last[at] = line;
      if (z > this.top[at]!) this.top[at] = z;
    }
  }

  /** The objects in reading order of the bed, from the back left; none where there are too many to tell apart. */
  result(): FileObject[] {
    const parts = merged(this.parts().filter((p) => p.bottom <= LEAST && p.top - p.bottom >= LEAST));
    if (parts.length > MOST) return [];
    return parts
      .map((p) => this.object(p))
      .sort((a, b) => Math.round((b.box[3] - a.box[3]) / 5) || a.box[0] - b.box[0]);
  }

  private parts(): Part[] {
    const seen = new Uint8Array(this.top.length);
    const parts: Part[] = [];
    for (let start = 0; start < seen.length; start++) {
      if (seen[start] || this.first[start] === 0) continue;
      const part: Part = {
        squares: [],
        box: [Infinity, Infinity, -Infinity, -Infinity],
        bottom: Infinity,
        top: 0,
        lines: [Infinity, 0],
      };
      const open = [start];
      seen[start] = 1;
      while (open.length > 0) {
        const at = open.pop()!;
        const [px, py] = [at % this.wide, Math.floor(at / this.wide)];
        part.squares.push(at);
        grow(part, {
          box: [px, py, px + 1, py + 1],
          bottom: this.bottom[at]!,
          top: this.top[at]!,
          lines: [this.first[at]!, this.last[at]!],
        });
        for (let qy = Math.max(0, py - 1); qy <= Math.min(this.deep - 1, py + 1); qy++)
          for (let qx = Math.max(0, px - 1); qx <= Math.min(this.wide - 1, px + 1); qx++) {
            const q = qy * this.wide + qx;
            if (seen[q] || this.first[q] === 0) continue;
            seen[q] = 1;
            open.push(q);
          }
      }
      parts.push(part);
    }
    return parts;
  }

  private object({ squares, box, top, lines }: Part): FileObject {
    const edges = Array.from({ length: STRIPES }, (): [number, number] => [Infinity, -Infinity]);
    const deep = box[3] - box[1];
    for (const at of squares) {
      const [px, py] = [at % this.wide, Math.floor(at / this.wide)];
      // A square may reach into several stripes.
      const from = Math.floor(((py - box[1]) / deep) * STRIPES);
      const to = Math.min(STRIPES - 1, Math.ceil(((py + 1 - box[1]) / deep) * STRIPES) - 1);
      for (let k = from; k <= to; k++) {
        const edge = edges[k]!;
        edge[0] = Math.min(edge[0], this.x0 + px * SQUARE);
        edge[1] = Math.max(edge[1], this.x0 + (px + 1) * SQUARE);
      }
    }
    return {
      box: [this.x0 + box[0] * SQUARE, this.y0 + box[1] * SQUARE, this.x0 + box[2] * SQUARE, this.y0 + box[3] * SQUARE],
      edges: edges.map(([a, b]): [number, number] => (a < b ? [a, b] : [this.x0 + box[0], this.x0 + box[2]])),
      top,
      lines,
    };
  }
}

interface Part {
  squares: number[];
  /** In squares. */
  box: [number, number, number, number];
  bottom: number;
  top: number;
  lines: [number, number];
}

function grow(part: Part, { box, bottom, top, lines }: Omit<Part, 'squares'>): void {
  const b = part.box;
  part.box = [Math.min(b[0], box[0]), Math.min(b[1], box[1]), Math.max(b[2], box[2]), Math.max(b[3], box[3])];
  part.bottom = Math.min(part.bottom, bottom);
  part.top = Math.max(part.top, top);
  part.lines = [Math.min(part.lines[0], lines[0]), Math.max(part.lines[1], lines[1])];
}

/** Parts whose boxes overlap become one, until none do. */
function merged(parts: readonly Part[]): Part[] {
  const left = [...parts];
  for (let i = 0; i < left.length; i++) {
    const a = left[i]!;
    const k = left.findIndex(
      (b, j) => j > i && a.box[0] < b.box[2] && b.box[0] < a.box[2] && a.box[1] < b.box[3] && b.box[1] < a.box[3],
    );
    if (k < 0) continue;
    const [b] = left.splice(k, 1) as [Part];
    grow(a, b);
    a.squares.push(...b.squares);
    i = -1;
  }
  return left;
}

/** Whether objects are printed one after the other: each is finished before the next is begun. */
export function oneAfterTheOther(objects: readonly FileObject[]): boolean {
  const order = [...objects].sort((a, b) => a.lines[0] - b.lines[0]);
  return order.length > 1 && order.every((o, i) => i === 0 || o.lines[0] > order[i - 1]!.lines[1]);
}
