import { filamentArea } from '#core/context';
import { EdgeGrid } from '#core/geometry';
import { roleNumber, type Chunk } from '#core/moves';

/** The moves of one layer for drawing: x0 y0 x1 y1 of each, with what a pointed-at move is. */
export interface LayerLines {
  z: number;
  height: number;
  /** The cell of its first line. */
  cell: number;
  ends: Float32Array;
  role: Uint8Array;
  /** The roles that occur. */
  roles: number[];
  speed: Float32Array;
  flow: Float32Array;
  width: Float32Array;
  line: Uint32Array;
  fan: Float32Array;
  cells: Int16Array;
  /** Where travel crosses outer walls, x y of each. */
  crossings: Float32Array;
  /** Lowest and highest of what is laid, in the units above. */
  range: { speed: [number, number]; flow: [number, number]; fan: [number, number] };
}

/** Layers with more pairs of travel and wall than this are not searched for crossings. */
const MOST_PAIRS = 4e6;

class Layer {
  readonly ends: number[] = [];
  readonly role: number[] = [];
  readonly speed: number[] = [];
  readonly flow: number[] = [];
  readonly width: number[] = [];
  readonly line: number[] = [];
  readonly fan: number[] = [];
  readonly cells: number[] = [];

  private rangeOf(values: readonly number[]): [number, number] {
    let [low, high] = [Infinity, -Infinity];
    values.forEach((v, i) => {
      if (this.role[i] === roleNumber.travel || this.role[i] === roleNumber.wipe) return;
      if (v < low) low = v;
      if (v > high) high = v;
    });
    return [low, high];
  }

  lines(z: number, height: number, cell: number): LayerLines {
    return {
      z,
      height,
      cell,
      ends: Float32Array.from(this.ends),
      role: Uint8Array.from(this.role),
      roles: [...new Set(this.role)],
      speed: Float32Array.from(this.speed),
      flow: Float32Array.from(this.flow),
      width: Float32Array.from(this.width),
      line: Uint32Array.from(this.line),
      fan: Float32Array.from(this.fan),
      cells: Int16Array.from(this.cells),
      crossings: crossingsOf(this.ends, this.role),
      range: { speed: this.rangeOf(this.speed), flow: this.rangeOf(this.flow), fan: this.rangeOf(this.fan) },
    };
  }
}

/** Gathers the moves of a program into layers; travel before a layer belongs to it. */
export class LayerGatherer {
  /** Layers that are whole and not yet fetched. */
  ready: LayerLines[] = [];
  private readonly area: number;
  private now = new Layer();
  private z = NaN;
  private height = 0;
  private cell = -1;
  private x = 0;
  private y = 0;

  constructor(diameter: number) {
    this.area = filamentArea({ diameter });
  }

  /** The last layer too. */
  end(): void {
    if (!Number.isNaN(this.z)) this.ready.push(this.now.lines(this.z, this.height, this.cell));
  }

  take({ moves, states }: Chunk): void {
    const { area } = this;
    let { x, y } = this;
    for (let i = 0; i < moves.n; i++) {
      const nx = moves.x[i]!;
      const ny = moves.y[i]!;
      const e = moves.e[i]!;
      const length = Math.hypot(nx - x, ny - y);
      if (e > 0 && length > 0 && !(Math.abs(moves.z[i]! - this.z) <= 1e-4)) {
        if (!Number.isNaN(this.z)) {
          this.ready.push(this.now.lines(this.z, this.height, this.cell));
          this.now = new Layer();
        }
        this.z = moves.z[i]!;
        this.height = moves.height[i]!;
        this.cell = moves.cell[i]!;
      }
      if (length > 0) {
        this.now.ends.push(x, y, nx, ny);
        // A move that lays nothing is travel, whatever comment it stands under.
        this.now.role.push(
          e > 0 ? moves.role[i]! : moves.role[i] === roleNumber.wipe ? roleNumber.wipe : roleNumber.travel,
        );
        this.now.speed.push(moves.speed[i]!);
        this.now.flow.push(e > 0 ? ((e * area) / length) * moves.speed[i]! : 0);
        this.now.width.push(moves.width[i]!);
        this.now.line.push(moves.line[i]!);
        this.now.fan.push(states[moves.state[i]!]!.fan);
        this.now.cells.push(moves.cell[i]!);
      }
      x = nx;
      y = ny;
    }
    this.x = x;
    this.y = y;
  }
}

/** Where travel crosses the outer walls of its layer, but for the walls on which it starts and ends. */
function crossingsOf(ends: readonly number[], role: readonly number[]): Float32Array {
  const walls: number[] = [];
  const ways: number[] = [];
  role.forEach((r, i) => {
    if (r === roleNumber['outer-wall'] || r === roleNumber.overhang) walls.push(i);
    else if (r === roleNumber.travel) ways.push(i);
  });
  if (walls.length === 0 || ways.length === 0 || walls.length * ways.length > MOST_PAIRS) return new Float32Array();
  const at = (i: number) => ({ x: ends[4 * i]!, y: ends[4 * i + 1]! });
  const to = (i: number) => ({ x: ends[4 * i + 2]!, y: ends[4 * i + 3]! });
  // Each wall segment as a ring of its own: the grid asks only for edges.
  const grid = new EdgeGrid(walls.map((i) => ({ outer: [at(i), to(i)], holes: [] })));
  const found: number[] = [];
  for (const i of ways) {
    const [a, b] = [at(i), to(i)];
    let last = -1;
    for (const t of grid.cuts(a, b)) {
      if (t < 1e-3 || t > 1 - 1e-3 || t - last < 1e-4) continue;
      last = t;
      found.push(a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t);
    }
  }
  return Float32Array.from(found);
}
