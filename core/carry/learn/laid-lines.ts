import { rounded } from '#core/base';
import { filamentArea } from '#core/context';
import type { Laid } from '#core/factors';
import { heatAsked } from '#core/firmware';
import { RetractionTracker } from '#core/inspect';
import type { Chunk, Command, Role } from '#core/moves';
import { lineArea, lineWidthOf, type SettingId } from '#core/settings';
import { Tally } from './tally';

const speedsOf: Partial<Record<Role, SettingId>> = {
  'outer-wall': 'outerWallSpeed',
  'inner-wall': 'innerWallSpeed',
  infill: 'infillSpeed',
  'top-skin': 'skinSpeed',
  bridge: 'bridgeSpeed',
  ironing: 'ironingSpeed',
  support: 'supportSpeed',
};
/** At most so many lines are kept to be read together. */
const KEPT = 400_000;

/** What the lines of a file add up to. */
export class LaidLines {
  readonly lines: Laid[] = [];
  /** Targets above the first layer, of each tool that prints there. */
  readonly nozzles: Tally[] = [];
  readonly firstNozzle = new Tally();
  readonly bounds = [Infinity, Infinity, -Infinity, -Infinity, 0];
  tools = 1;
  private readonly tracker: RetractionTracker;
  readonly speeds = new Map<SettingId, Tally>();
  readonly widths = new Tally();
  readonly heights = new Tally();
  readonly accelerations = new Tally();
  readonly travelAccelerations = new Tally();
  readonly wipes = new Tally();
  /** Shares of filament that the firmware makes of what the file says. */
  readonly flows = new Tally();
  /** What is called before the first line without a word of what it does, and what it is asked to heat to, °C. */
  called: { name: string; nozzle: number | undefined; bed: number | undefined } | undefined;
  readonly travelSpeed = new Tally();
  readonly back = new Tally();
  readonly backSpeed = new Tally();
  readonly hops = new Tally();
  readonly extras = new Tally();
  readonly bed = new Tally();
  readonly fans: Tally[] = [];
  readonly advances = new Tally();
  private readonly area: number;
  readonly fills: { bottom: number; top: number; sparse: number }[] = [];
  private layer = -1;
  private layerZ = -1;
  readonly first = { height: 0, speed: new Tally() };
  private x = 0;
  private y = 0;
  private z = 0;
  private drawn = 0;

  constructor(readonly diameter: number) {
    this.area = filamentArea({ diameter });
    this.tracker = new RetractionTracker(this.area);
  }

  take({ moves, commands, states }: Chunk): void {
    let next = 0;
    for (let i = 0; i < moves.n; i++) {
      for (; next < commands.length && commands[next]!.before <= i; next++) this.told(commands[next]!);
      const [x, y, z, e] = [moves.x[i]!, moves.y[i]!, moves.z[i]!, moves.e[i]!];
      const flat = Math.hypot(x - this.x, y - this.y);
      const prints = e > 0 && flat > 0;
      const begins = prints && Math.abs(z - this.layerZ) > 0.02;
      if (begins) {
        this.layer++;
        this.layerZ = z;
        const height = rounded(moves.height[i]!, 3);
        if (this.layer === 0) this.first.height = height;
        else this.heights.add(height, 1);
      }
      const step = this.tracker.step(moves, i, begins);
      const state = states[moves.state[i]!]!;
      if (step?.kind === 'line') this.line(step.line, flat, state);
      else if (step?.kind === 'way') {
        this.hops.add(rounded(step.way.hop, 3), 1);
        this.wipes.add(rounded(step.way.wipe, 1), 1);
      } else if (step?.kind === 'extra') this.extras.add(rounded(step.length, 3), 1);
      if (e < 0) {
        this.drawn -= e;
        this.backSpeed.add(rounded(moves.speed[i]!, 1), -e);
      } else if (e > 0 && this.drawn > 0) {
        this.back.add(rounded(this.drawn, 2), 1);
        this.drawn = 0;
      }
      if (e === 0 && flat > 5) {
        this.travelSpeed.add(rounded(moves.speed[i]!, 0), flat);
        if (state.travelAcceleration > 0) this.travelAccelerations.add(state.travelAcceleration, flat);
      }
      [this.x, this.y, this.z] = [x, y, z];
    }
    for (; next < commands.length; next++) this.told(commands[next]!);
  }

  private told(c: Command): void {
    if (c.kind === 'tool') {
      this.tracker.change(c.to);
      this.tools = Math.max(this.tools, c.to + 1);
    } else if ((c.kind === 'unknown' || c.kind === 'macro') && this.layer < 0) {
      const { nozzle, bed } = heatAsked(c.text);
      // One that is asked for heat says more than one that is not.
      if (!this.called || nozzle.length > 0) this.called = { name: c.name, nozzle: nozzle[0], bed: bed[0] };
    }
  }

  private line(l: Laid, length: number, state: Chunk['states'][number]): void {
    if (this.lines.length < KEPT) this.lines.push({ ...l, layer: this.layer });
    const fill = (this.fills[this.layer] ??= { bottom: 0, top: 0, sparse: 0 });
    if (l.role === 'bottom-skin' || l.role === 'bridge') fill.bottom += length;
    else if (l.role === 'top-skin') fill.top += length;
    else if (l.role === 'infill') fill.sparse += length;
    const b = this.bounds;
    [b[0], b[1], b[2], b[3], b[4]] = [
      Math.min(b[0]!, l.x, l.x0),
      Math.min(b[1]!, l.y, l.y0),
      Math.max(b[2]!, l.x, l.x0),
      Math.max(b[3]!, l.y, l.y0),
      Math.max(b[4]!, l.z),
    ];
    const speed = rounded(l.speed, 1);
    if (this.layer === 0) {
      this.first.speed.add(speed, length);
      if (state.nozzle > 0) this.firstNozzle.add(state.nozzle, length);
    } else {
      const id = speedsOf[l.role];
      if (id) {
        let tally = this.speeds.get(id);
        if (!tally) this.speeds.set(id, (tally = new Tally()));
        tally.add(speed, length);
      }
      if (state.nozzle > 0) (this.nozzles[state.tool] ??= new Tally()).add(state.nozzle, length);
      this.flows.add(rounded(state.flowShare, 3), length);
      if (l.role === 'outer-wall') {
        // As it was sliced: what the firmware makes of it is learnt as flow.
        const width = lineWidthOf(lineArea(l.width, l.height) / state.flowShare, l.height);
        this.widths.add(rounded(width, 2), length);
      }
      if (state.acceleration > 0) this.accelerations.add(state.acceleration, length);
      if (state.advance > 0) this.advances.add(state.advance, length);
    }
    if (state.bed > 0) this.bed.add(state.bed, length);
    (this.fans[this.layer] ??= new Tally()).add(rounded(state.fan, 2), length);
  }
}
