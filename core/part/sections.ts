import { union, type Point, type Polygon, type Ring } from '#core/geometry';
import { linked } from './linked';
import { simplified } from './simplified';
import { boundsOfMesh, type Bounds, type Mesh } from './mesh';

/** A place where the outline of a section did not close by itself, mm. */
export interface Gap {
  x: number;
  y: number;
  z: number;
  width: number;
}

/** A section of a part. */
export interface Section {
  outline: Polygon[];
  /** Gaps that were closed. */
  mended: Gap[];
  /** What would have to be closed yet. */
  open: Gap[];
}

/** Corners that turn by less than this are left out, mm: no nozzle shows them, and each would cost its share of every line. */
const FINE = 0.005;
/** Gaps up to this are rounding, and are closed without a word, mm. */
const ROUNDING = 0.02;
/** Gaps up to this are closed, and said, mm. */
export const CLOSES = 2;
/** What is left of a doubled face has less length than this, mm. */
const CRUMB = 0.05;
/** With more loose ends than this a section is no outline with gaps, but a heap; nothing of it is closed. */
export const MOST_CHAINS = 200;
/** Of so many loose ends what is missing is followed to the last. */
const MOST_FOLLOWED = 40;
/** A triangle stands on so many shelves on average at most: tall ones would fill the memory. */
const MOST_STANDS = 16;
/** Heights are told apart by so many shelves at most, so thick at least, mm. */
const MOST_SHELVES = 4096;
const SHELF = 0.05;

/**
 * Sections of a mesh at any height, mm. The mesh is taken as it is: what is inside is told by how often the outlines wind
 * round it, so shells may cross, faces may be doubled, and a shell may be turned inside out; a face that is turned round by
 * itself goes the way of its neighbours. Outlines that do not close are closed over gaps of up to `closes` mm.
 */
export class Sections {
  readonly bounds: Bounds;
  private readonly corners: Float32Array;
  private readonly shelfOf: (z: number) => number;
  /** Triangles by shelf: those of shelf k stand from `starts[k]` to `starts[k + 1]`. */
  private readonly starts: Uint32Array;
  private readonly on: Uint32Array;

  /** @throws RangeError for a mesh without triangles */
  constructor(
    mesh: Mesh,
    private readonly closes = CLOSES,
  ) {
    const bounds = boundsOfMesh(mesh);
    if (!bounds) throw new RangeError('a part without triangles has no sections');
    this.bounds = bounds;
    const c = (this.corners = mesh.corners);
    const [from, to] = [bounds.min[2], bounds.max[2]];
    let heights = 0;
    for (let i = 0; i < mesh.n; i++) {
      const [p, q, r] = [c[9 * i + 2]!, c[9 * i + 5]!, c[9 * i + 8]!];
      heights += Math.max(p, q, r) - Math.min(p, q, r);
    }
    const share = heights / mesh.n / (to - from || 1);
    const most = Math.min(MOST_SHELVES, share > 0 ? MOST_STANDS / share : Infinity);
    const shelves = Math.max(1, Math.min(Math.floor(most), Math.ceil((to - from) / SHELF)));
    const per = shelves / (to - from || 1);
    this.shelfOf = (z) => Math.max(0, Math.min(shelves - 1, Math.floor((z - from) * per)));
    const spans = (i: number): [number, number] => {
      const [p, q, r] = [c[9 * i + 2]!, c[9 * i + 5]!, c[9 * i + 8]!];
      return [this.shelfOf(Math.min(p, q, r)), this.shelfOf(Math.max(p, q, r))];
    };
    const starts = (this.starts = new Uint32Array(shelves + 1));
    for (let i = 0; i < mesh.n; i++) {
      const [a, b] = spans(i);
      for (let k = a; k <= b; k++) starts[k + 1]!++;
    }
    for (let k = 0; k < shelves; k++) starts[k + 1]! += starts[k]!;
    this.on = new Uint32Array(starts[shelves]!);
    const next = starts.slice();
    for (let i = 0; i < mesh.n; i++) {
      const [a, b] = spans(i);
      for (let k = a; k <= b; k++) this.on[next[k]!++] = i;
    }
  }

  /** Heights at which something lies flat, mm, from below: there a section jumps. */
  flats(least = 0.25): number[] {
    const area = new Map<number, number>();
    const c = this.corners;
    for (let i = 0; i < c.length; i += 9) {
      const z = c[i + 2]!;
      if (c[i + 5] !== z || c[i + 8] !== z) continue;
      const [ax, ay, bx, by] = [c[i]!, c[i + 1]!, c[i + 3]!, c[i + 4]!];
      const twice = Math.abs((bx - ax) * (c[i + 7]! - ay) - (by - ay) * (c[i + 6]! - ax));
      area.set(z, (area.get(z) ?? 0) + twice / 2);
    }
    return [...area]
      .filter(([, mm2]) => mm2 >= least)
      .map(([z]) => z)
      .sort((a, b) => a - b);
  }

  /** The section at a height, mm; empty above and below the part. */
  at(z: number): Section {
    if (z < this.bounds.min[2] || z > this.bounds.max[2]) return { outline: [], mended: [], open: [] };
    const { chains, rings } = linked(this.cut(z));
    const { closed, mended, open } = this.close(chains, z);
    const all = [...rings, ...closed].map((ring) => simplified(ring, FINE));
    const outline = union(all.filter((ring) => ring.length > 2).map((outer) => ({ outer, holes: [] })));
    return { outline, mended, open };
  }

  /** Where triangles meet a height: four figures a piece, with the part to its left. */
  private cut(z: number): Float64Array {
    const c = this.corners;
    const shelf = this.shelfOf(z);
    const [from, to] = [this.starts[shelf]!, this.starts[shelf + 1]!];
    // Flat: all triangles near every height come by here.
    const found = new Float64Array(4 * (to - from));
    let n = 0;
    for (let k = from; k < to; k++) {
      const i = 9 * this.on[k]!;
      // A corner at this very height counts as below: what meets there, meets there for all its triangles alike.
      const [first, second, third] = [c[i + 2]! > z, c[i + 5]! > z, c[i + 8]! > z];
      if (first === second && second === third) continue;
      const lone = second === third ? 0 : first === third ? 1 : 2;
      const up = lone === 0 ? first : lone === 1 ? second : third;
      const a = i + 3 * lone;
      // Seen from outside the corners turn left: with the lone one above, the part lies to the left of q → p … p → q.
      this.meet(a, i + 3 * ((lone + 1) % 3), z, found, up ? n : n + 2);
      this.meet(a, i + 3 * ((lone + 2) % 3), z, found, up ? n + 2 : n);
      // An edge that only touches the height gives a piece without length.
      if (found[n] !== found[n + 2] || found[n + 1] !== found[n + 3]) n += 4;
    }
    return found.subarray(0, n);
  }

  /** Where an edge meets a height: the same to the bit from whichever triangle it is asked. */
  private meet(i: number, j: number, z: number, into: Float64Array, at: number): void {
    const c = this.corners;
    const l = c[i + 2]! < c[j + 2]! ? i : j;
    const h = l === i ? j : i;
    const t = (z - c[l + 2]!) / (c[h + 2]! - c[l + 2]!);
    into[at] = c[l]! + t * (c[h]! - c[l]!);
    into[at + 1] = c[l + 1]! + t * (c[h + 1]! - c[l + 1]!);
  }

  /** Closes open chains over the smallest gaps first. */
  private close(chains: Ring[], z: number): { closed: Ring[]; mended: Gap[]; open: Gap[] } {
    const loose = chains.filter((chain) => lengthOf(chain) > CRUMB);
    const { closed, gaps } = loose.length > MOST_CHAINS ? nothingJoined : joined(loose, z, this.closes);
    // What would have to be closed yet; of a heap only from where to where each chain goes.
    const missing =
      loose.length > MOST_FOLLOWED
        ? loose.map((chain) => gapOf(chain[0]!, chain.at(-1)!, z))
        : joined([...loose], z, Infinity).gaps;
    return {
      closed: closed.filter((r) => r.length > 2),
      mended: gaps.filter((gap) => gap.width > ROUNDING),
      open: missing,
    };
  }
}

const gapOf = (a: Point, b: Point, z: number): Gap => ({
  x: (a.x + b.x) / 2,
  y: (a.y + b.y) / 2,
  z,
  width: Math.hypot(a.x - b.x, a.y - b.y),
});

const nothingJoined: { closed: Ring[]; gaps: Gap[] } = { closed: [], gaps: [] };

/** Two ends that are to meet: the end of one chain and the beginning, or the end, of another. */
interface Meeting {
  i: number;
  j: number;
  turned: boolean;
  from: Point;
  to: Point;
}

/** The ends that lie nearest to one another, no further than `most` apart, mm; of one chain its own two as well. */
function nearestEnds(open: readonly Ring[], most: number): Meeting | undefined {
  let best: Meeting | undefined;
  let least = most;
  const ask = (i: number, j: number, turned: boolean, from: Point, to: Point): void => {
    const width = Math.sqrt((from.x - to.x) ** 2 + (from.y - to.y) ** 2);
    if (best ? width >= least - 1e-12 : width > least) return;
    best = { i, j, turned, from, to };
    least = width;
  };
  for (let i = 0; i < open.length; i++)
    for (let j = 0; j < open.length; j++) {
      const [begin, end] = [open[i]![0]!, open[i]!.at(-1)!];
      ask(i, j, false, end, open[j]![0]!);
      if (i >= j) continue;
      // End to beginning first; end to end where a chain was turned round.
      ask(i, j, true, end, open[j]!.at(-1)!);
      ask(j, i, true, begin, open[j]![0]!);
    }
  return best;
}

/**
 * Joins loose chains over the smallest gaps first, as long as none is wider than `most`, mm.
 * @param open the chains; those that are not closed are left in it
 */
function joined(open: Ring[], z: number, most: number): { closed: Ring[]; gaps: Gap[] } {
  const closed: Ring[] = [];
  const gaps: Gap[] = [];
  for (let best = nearestEnds(open, most); best; best = nearestEnds(open, most)) {
    const { i, j, turned, from, to } = best;
    gaps.push(gapOf(from, to, z));
    if (i === j) {
      closed.push(...open.splice(i, 1));
      continue;
    }
    const [a, b] = [open[i]!, open[j]!];
    // Two beginnings meet: the one chain is turned round; two ends meet: the other.
    const one = !turned ? [...a, ...b] : i > j ? [...a.toReversed(), ...b] : [...a, ...b.toReversed()];
    for (const k of [i, j].sort((p, q) => q - p)) open.splice(k, 1);
    open.push(one);
  }
  return { closed, gaps };
}

const lengthOf = (chain: readonly Point[]): number =>
  chain.reduce((sum, p, i) => (i === 0 ? 0 : sum + Math.hypot(p.x - chain[i - 1]!.x, p.y - chain[i - 1]!.y)), 0);
