/** At most so many squares. */
const MOST = 4_000_000;
/** Squares are at least so wide, mm. */
const FINEST = 0.2;
/** A line holds on to what lies up to this much deeper than its layer, in layers, and no deeper than `natural` in its own thickness. */
const HOLDS = 0.35;
const NATURAL = 1.1;
/** What lies no deeper than this below a layer, mm, is sunk upon without being joined to. */
const SINKS = 0.6;
/** Heat is gone after so many time constants. */
const COLD = 8;

/** Where the head may lay lines, mm. */
export interface Extent {
  x0: number;
  y0: number;
  x1: number;
  y1: number;
}

/** Squares of a tile along each side, as a power of two: only where something is laid a tile is drawn up. */
const BITS = 6;
const SIDE = 1 << BITS;
const MASK = SIDE - 1;
/** Figures of a square, side by side, since they are asked for together: height, heat, time, curl. */
const TOP = 0;
const HEAT = 1;
const WHEN = 2;
const CURL = 3;
const FIGURES = 4;

/**
 * What lies on the bed, as a map of heights: how high each square is, how hot it was laid and when. It tells a line what
 * it is laid on.
 */
export class Ground {
  readonly size: number;
  private readonly columns: number;
  private readonly rows: number;
  private readonly tiles: (Float32Array | undefined)[];
  private readonly across: number;

  /** Of the last line: how many samples hold, sink and hang free; sums over them. */
  holds = 0;
  sinks = 0;
  frees = 0;
  /** Of those that hang free, how many have something beneath them across the line: an edge that juts out, not a span. */
  edges = 0;
  /** Thickness that the line has room for, mm, over what it holds on to. */
  thickness = 0;
  /** How far beyond its layer what it sinks on lies, mm. */
  gap = 0;
  /** Temperature of what lies beneath, °C. */
  beneath = 0;
  /** How far what lies beneath has curled up, mm. */
  curl = 0;
  /** Length that hangs free over its whole width at its start and at its end, mm; as long as the line where all does. */
  freeHead = 0;
  freeTail = 0;

  /** @param bed height of the bed where it lies, mm */
  constructor(
    private readonly extent: Extent,
    private readonly bed: (x: number, y: number) => number,
    private readonly room: number,
  ) {
    const { x0, y0, x1, y1 } = extent;
    this.size = Math.max(FINEST, Math.sqrt(((x1 - x0) * (y1 - y0)) / MOST));
    this.columns = Math.ceil((x1 - x0) / this.size) + 1;
    this.rows = Math.ceil((y1 - y0) / this.size) + 1;
    this.across = (this.columns >> BITS) + 1;
    this.tiles = new Array<Float32Array | undefined>(this.across * ((this.rows >> BITS) + 1)).fill(undefined);
  }

  private tile(number: number): Float32Array {
    const tile = this.tiles[number];
    if (tile) return tile;
    const fresh = new Float32Array(SIDE * SIDE * FIGURES);
    const { x0, y0 } = this.extent;
    const column = (number % this.across) << BITS;
    const row = Math.floor(number / this.across) << BITS;
    for (let r = 0, i = 0; r < SIDE; r++)
      for (let c = 0; c < SIDE; c++, i += FIGURES) {
        fresh[i + TOP] = this.bed(x0 + (column + c) * this.size, y0 + (row + r) * this.size);
        fresh[i + HEAT] = this.room;
        fresh[i + WHEN] = -1e6;
      }
    this.tiles[number] = fresh;
    return fresh;
  }

  /** How high what lies at a place is, mm; −Infinity beyond the bed. */
  height(x: number, y: number): number {
    const c = Math.round((x - this.extent.x0) / this.size);
    const r = Math.round((y - this.extent.y0) / this.size);
    if (c < 0 || r < 0 || c >= this.columns || r >= this.rows) return -Infinity;
    const tile = this.tile((r >> BITS) * this.across + (c >> BITS));
    return tile[(((r & MASK) << BITS) | (c & MASK)) * FIGURES + TOP]!;
  }

  /**
   * Lays a line and tells what it lies on.
   *
   * @param z height of the nozzle, mm; `layer` how thick it is meant to be; `width` of the line as it comes out
   * @param natural how thick the strand is by itself, mm
   * @param t time, s; `melt` its temperature; `room` what surrounds it, °C; `cools` time constant of its cooling, s
   * @param lays false where too little comes out to lie there
   */
  lay(
    x0: number,
    y0: number,
    x1: number,
    y1: number,
    z: number,
    layer: number,
    width: number,
    natural: number,
    t: number,
    melt: number,
    room: number,
    cools: number,
    lays: boolean,
  ): void {
    const { size, columns, rows, extent } = this;
    const dx = x1 - x0;
    const dy = y1 - y0;
    const length = Math.sqrt(dx * dx + dy * dy);
    const n = Math.max(1, Math.ceil(length / size));
    const across = Math.max(1, Math.min(16, Math.ceil(width / size)));
    // Lateral offsets, so that every sample stands for an equal share of the width.
    const lx = length > 0 ? (-dy / length) * (width / across) : 0;
    const ly = length > 0 ? (dx / length) * (width / across) : 0;
    const holdsFrom = z - Math.min(layer * (1 + HOLDS), Math.max(NATURAL * natural, layer * 0.5));
    const own = Math.min(layer, NATURAL * natural);
    const sinksFrom = z - own - SINKS;
    const same = z - layer * 0.2;
    let holds = 0;
    let sinks = 0;
    let frees = 0;
    let edges = 0;
    let thickness = 0;
    let gap = 0;
    let beneath = 0;
    let curl = 0;
    let head = 0;
    let tail = 0;
    let touched = false;
    let warmed = 0;
    const middle = across >> 1;
    const inverse = 1 / size;
    for (let k = 0; k < n; k++) {
      const u = (k + 0.5) / n;
      const cx = x0 + dx * u - extent.x0;
      const cy = y0 + dy * u - extent.y0;
      let carried = false;
      const before = frees;
      for (let j = 0; j < across; j++) {
        const o = j - (across - 1) / 2;
        // Truncated, which is a third of the price of rounding; a square more at the edge is no harm.
        const c = ((cx + lx * o) * inverse + 0.5) | 0;
        const r = ((cy + ly * o) * inverse + 0.5) | 0;
        if (c < 0 || r < 0 || c >= columns || r >= rows) continue;
        const tile =
          this.tiles[(r >> BITS) * this.across + (c >> BITS)] ?? this.tile((r >> BITS) * this.across + (c >> BITS));
        const i = (((r & MASK) << BITS) | (c & MASK)) * FIGURES;
        const high = tile[i + TOP]!;
        // Beside a line of its own layer it says nothing of what lies below.
        if (high >= same) continue;
        if (high >= holdsFrom) {
          holds++;
          carried = true;
          thickness += z - high;
          if (j === middle) {
            const since = (t - tile[i + WHEN]!) / cools;
            beneath += since < COLD ? room + (tile[i + HEAT]! - room) * Math.exp(-since) : room;
            warmed++;
          }
          if (tile[i + CURL]! > curl) curl = tile[i + CURL]!;
        } else if (high >= sinksFrom) {
          sinks++;
          carried = true;
          gap += z - own - high;
        } else frees++;
        if (lays) {
          tile[i + TOP] = z;
          // The nozzle presses a line flat on what rose beneath it by less than a layer.
          tile[i + CURL] = Math.max(0, tile[i + CURL]! - layer);
          tile[i + HEAT] = melt;
          tile[i + WHEN] = t;
        }
      }
      // Over its own layer alone it goes on as it was.
      if (carried) {
        touched = true;
        tail = 0;
        edges += frees - before;
      } else {
        tail += length / n;
        if (!touched) head += length / n;
      }
    }
    this.holds = holds;
    this.sinks = sinks;
    this.frees = frees;
    this.edges = edges;
    this.thickness = holds > 0 ? thickness / holds : layer;
    this.gap = sinks > 0 ? gap / sinks : 0;
    this.beneath = warmed > 0 ? beneath / warmed : room;
    this.curl = curl;
    const known = holds + sinks + frees > 0;
    this.freeHead = known ? head : 0;
    this.freeTail = known ? tail : 0;
  }

  /** What was laid last along a line of that width has curled up by so much, mm. */
  lift(x0: number, y0: number, x1: number, y1: number, width: number, by: number): void {
    const { size } = this;
    const length = Math.hypot(x1 - x0, y1 - y0);
    const n = Math.max(1, Math.ceil(length / size));
    const across = Math.max(1, Math.ceil(width / size));
    for (let k = 0; k < n; k++) {
      const u = (k + 0.5) / n;
      const cx = x0 + (x1 - x0) * u - this.extent.x0;
      const cy = y0 + (y1 - y0) * u - this.extent.y0;
      for (let j = 0; j < across; j++) {
        const o = length > 0 ? ((j - (across - 1) / 2) * width) / across / length : 0;
        const c = Math.round((cx - (y1 - y0) * o) / size);
        const r = Math.round((cy + (x1 - x0) * o) / size);
        if (c < 0 || r < 0 || c >= this.columns || r >= this.rows) continue;
        const tile = this.tile((r >> BITS) * this.across + (c >> BITS));
        tile[(((r & MASK) << BITS) | (c & MASK)) * FIGURES + CURL] = by;
      }
    }
  }
}
