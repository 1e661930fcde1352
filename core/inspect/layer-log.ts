import { rounded } from '#core/base';
import { Layering, type MachineState } from '#core/moves';
import type { LayerReport } from './inspection';

/** The layers of a file as they begin and end, with what is in force on each. */
export class LayerLog {
  readonly all: LayerReport[] = [];
  now: LayerReport | undefined;
  private readonly layering = new Layering();
  /** Time of ways and waits that belong to the layer to come. */
  private pending = 0;
  private readonly wall = { length: 0, time: 0 };
  private inForce = { tool: 0, nozzle: 0, fan: 0, advance: 0, acceleration: 0 };
  /** Whether the layer in hand does not know yet what is in force. */
  private unsaid = true;
  /** What is in force for each tool that prints on the layer in hand. */
  private readonly ofTools = new Map<number, NonNullable<LayerReport['tools']>[number]>();

  /** The file says that a layer begins, at a height of the nozzle, mm. */
  mark(z: number): void {
    this.layering.mark(z);
  }

  /** The height that the layer in hand says it has, mm; 0 where it says none. */
  get marked(): number {
    return this.layering.marked ?? 0;
  }

  /** Whether a line begins a layer. */
  begins(z: number, rise: number): boolean {
    return this.layering.begins(z, rise) || !this.now;
  }

  /** The height of the nozzle on the layer that a line begins, and how thick that is, mm. */
  sizeOf(z: number, height: number): { z: number; height: number } {
    // The first line of a marked layer may lie a little beside its height.
    const { marked } = this.layering;
    return marked === undefined ? { z: this.layering.z, height } : { z: marked, height: height + marked - z };
  }

  begin(size: { z: number; height: number }, cell: number, line: number): void {
    this.endWalls();
    this.ofTools.clear();
    this.unsaid = true;
    this.now = {
      z: rounded(size.z, 4),
      height: rounded(size.height, 4),
      time: 0,
      peakFlow: 0,
      cell,
      line,
      ...this.inForce,
      wallSpeed: 0,
      retractions: 0,
      left: Infinity,
      right: -Infinity,
    };
    this.all.push(this.now);
  }

  /** What was told holds from now on. */
  force({ tool, nozzle, fan, advance, acceleration }: MachineState): void {
    this.unsaid = true;
    this.inForce = { tool, nozzle, fan, advance, acceleration };
  }

  /** Time passes on a move: the way to a layer belongs to it, not to the one before. s */
  pass(time: number, prints: boolean): void {
    if (prints && this.now) {
      this.now.time += time + this.pending;
      this.pending = 0;
    } else this.pending += time;
  }

  /** A wait follows the layer that was too short. s */
  wait(time: number): void {
    this.pending += time;
    this.settle();
  }

  /** A line is laid on the layer in hand, from x0 to x, mm, at a flow in mm³/s. */
  lay(x0: number, x: number, flow: number): void {
    const layer = this.now!;
    if (flow > layer.peakFlow) layer.peakFlow = flow;
    layer.left = Math.min(layer.left, x, x0);
    layer.right = Math.max(layer.right, x, x0);
    // What holds on the last line of a layer held on most of it, but for the first lines after a change.
    if (!this.unsaid) return;
    Object.assign(layer, this.inForce);
    this.byTool(layer);
    this.unsaid = false;
  }

  /** An outer wall is laid, mm and s. */
  layWall(length: number, time: number): void {
    this.wall.length += length;
    this.wall.time += time;
  }

  end(): void {
    this.endWalls();
    this.settle();
  }

  /** 1 less the mean step of wall speed from layer to layer, as a share of the faster. */
  get evenness(): number {
    const speeds = this.all.slice(1).flatMap((l) => (l.wallSpeed > 0 ? [l.wallSpeed] : []));
    if (speeds.length < 2) return 1;
    const steps = speeds.slice(1).map((v, i) => Math.abs(v - speeds[i]!) / Math.max(v, speeds[i]!));
    return rounded(1 - steps.reduce((a, b) => a + b, 0) / steps.length, 4);
  }

  private settle(): void {
    if (!this.now) return;
    this.now.time += this.pending;
    this.pending = 0;
  }

  private endWalls(): void {
    if (this.now && this.wall.time > 0) this.now.wallSpeed = rounded(this.wall.length / this.wall.time, 2);
    this.wall.length = this.wall.time = 0;
  }

  /** Notes what is in force for each tool, once a second one prints. */
  private byTool(layer: LayerReport): void {
    const { tool, nozzle, advance, fan } = this.inForce;
    const own = this.ofTools.get(tool);
    if (own && own.nozzle === nozzle && own.advance === advance && own.fan === fan) return;
    this.ofTools.set(tool, { tool, nozzle, advance, fan });
    if (this.ofTools.size > 1) layer.tools = [...this.ofTools.values()];
  }
}
