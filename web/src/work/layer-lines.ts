import { filamentArea, reachOf, type Context } from '#core/context';
import { Crossings, Ground, isOuter, risks, type Crossing, type FreeLine, type RiskOf } from '#core/inspect';
import { Layering, roleNumber, type Chunk, type Command } from '#core/moves';

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
  /** Where travel crosses outer walls, x y of each, and what it may leave there: its place among the marks, 0 for nothing. */
  crossings: Float32Array;
  risks: Uint8Array;
  /** What is laid over nothing: x0 y0 x1 y1 of each stretch. */
  free: Float32Array;
  /** Lowest and highest of what is laid, in the units above. */
  range: { speed: [number, number]; flow: [number, number]; fan: [number, number] };
}

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

  lines(z: number, height: number, cell: number, crossed: readonly Crossing[], free: readonly FreeLine[]): LayerLines {
    const points = crossed.flatMap((c) => c.at.map((p) => ({ ...p, risk: c.risk ? 1 + risks.indexOf(c.risk) : 0 })));
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
      crossings: Float32Array.from(points.flatMap((p) => [p.x, p.y])),
      risks: Uint8Array.from(points.map((p) => p.risk)),
      free: Float32Array.from(free.flatMap((l) => [l.x0, l.y0, l.x, l.y])),
      range: { speed: this.rangeOf(this.speed), flow: this.rangeOf(this.flow), fan: this.rangeOf(this.fan) },
    };
  }
}

/** Gathers the moves of a program into layers; travel before a layer belongs to it. */
export class LayerGatherer {
  /** Layers that are whole and not yet fetched. */
  ready: LayerLines[] = [];
  private readonly area: number;
  private readonly layering = new Layering();
  private readonly crossings: Crossings;
  private readonly ground: Ground;
  private free: FreeLine[] = [];
  private now = new Layer();
  private begun = false;
  private z = 0;
  private height = 0;
  private cell = -1;
  private x = 0;
  private y = 0;
  private nozzleZ = 0;
  /** Filament drawn back by each tool, mm. */
  private readonly back = new Map<number, number>();

  constructor({ printer, filament }: Pick<Context, 'printer' | 'filament'>, risk?: RiskOf) {
    this.area = filamentArea(filament);
    this.crossings = new Crossings(risk);
    this.ground = new Ground(reachOf(printer), (lines) => this.free.push(...lines));
  }

  /** The last layer too. */
  end(): void {
    this.ground.lift();
    if (this.begun) this.hand();
  }

  take({ moves, states, commands }: Chunk): void {
    const { area } = this;
    let { x, y } = this;
    let next = 0;
    for (let i = 0; i < moves.n; i++) {
      for (; next < commands.length && commands[next]!.before <= i; next++) this.told(commands[next]!);
      const nx = moves.x[i]!;
      const ny = moves.y[i]!;
      const e = moves.e[i]!;
      const length = Math.hypot(nx - x, ny - y);
      const z = moves.z[i]!;
      if (e > 0 && length > 0) {
        const begins = this.layering.begins(z, z - this.nozzleZ);
        if (begins || !this.begun) this.begin(this.layering.z || z, moves.height[i]!, moves.cell[i]!);
      }
      const state = states[moves.state[i]!]!;
      this.draws(state.tool, e);
      if (length > 0) {
        const role = moves.role[i]!;
        this.now.ends.push(x, y, nx, ny);
        // A move that lays nothing is travel, whatever comment it stands under.
        const kind = e > 0 ? role : role === roleNumber.wipe ? role : roleNumber.travel;
        this.now.role.push(kind);
        this.now.speed.push(moves.speed[i]!);
        this.now.flow.push(e > 0 ? ((e * area) / length) * moves.speed[i]! : 0);
        this.now.width.push(moves.width[i]!);
        this.now.line.push(moves.line[i]!);
        this.now.fan.push(state.fan);
        this.now.cells.push(moves.cell[i]!);
        if (e > 0)
          this.ground.lay({
            ...{ x0: x, y0: y, x: nx, y: ny, z },
            ...{ height: moves.height[i]! || this.height, width: moves.width[i]! },
            ...{ line: moves.line[i]!, cell: moves.cell[i]!, role },
          });
        else this.ground.lift();
        if (isOuter(kind)) this.crossings.wall(x, y, nx, ny, state.tool);
        else if (e <= 0) {
          const passage = { cell: -1, back: this.back.get(state.tool) ?? 0, tool: state.tool, nozzle: state.nozzle };
          this.crossings.travel(x, y, nx, ny, passage);
        }
      }
      x = nx;
      y = ny;
      this.nozzleZ = z;
    }
    for (; next < commands.length; next++) this.told(commands[next]!);
    this.x = x;
    this.y = y;
  }

  private told(c: Command): void {
    if (c.kind === 'layer') this.layering.mark(c.z);
  }

  private draws(tool: number, e: number): void {
    if (e === 0) return;
    this.back.set(tool, Math.max(0, (this.back.get(tool) ?? 0) - e));
  }

  private begin(z: number, height: number, cell: number): void {
    if (this.begun) this.hand();
    this.begun = true;
    this.z = z;
    this.height = height;
    this.cell = cell;
  }

  private hand(): void {
    this.ready.push(this.now.lines(this.z, this.height, this.cell, this.crossings.close(), this.free));
    this.now = new Layer();
    this.free = [];
  }
}
