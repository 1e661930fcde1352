import { cornerAction, filamentArea, type Context } from '#core/context';
import { distance, type Point } from '#core/geometry';
import { ChunkBuilder, roleNumber, type Action, type Chunk } from '#core/moves';
import type { Settings } from '#core/settings';
import type { Head } from './head';
import type { Purge } from './tools';
import { TravelPlanner } from './travel-planner';

/** What holds for a whole program: protections lifted, and the fan where the layer's time sets it. */
export interface EmitterOptions {
  capacity?: number;
  uncapped?: boolean;
  /** Share of the fan for the layer instead of the settings' own. */
  fan?: number;
  /** Where tools purge, and which of its layers this is. */
  purge?: { plan: Purge; layer: number };
}

/** Moves the head between lines: travel with retraction, wipe and Z-hop, and what the machine must be told first. */
export class Mover {
  protected readonly area: number;
  protected readonly builder: ChunkBuilder;
  private readonly chunks: Chunk[] = [];
  protected planner = new TravelPlanner([], 1);
  /** The last line, to wipe over. */
  protected tail: Point[] = [];

  constructor(
    protected readonly context: Context,
    readonly head: Head,
    protected settings: Settings,
    protected readonly options: EmitterOptions = {},
  ) {
    this.area = filamentArea(context.filament);
    this.builder = new ChunkBuilder((chunk) => this.chunks.push(chunk), options.capacity ?? 64);
  }

  /** Where the nozzle stands, mm. */
  protected get z(): number {
    const { z, shift, hop } = this.head;
    return z + shift + hop;
  }

  /** The moves so far, as chunks. */
  finish(): Chunk[] {
    this.builder.flush();
    return this.chunks;
  }

  command(action: Action): void {
    this.builder.command(action);
  }

  /** Goes to a point without extruding, inside the walls where it can; else it draws back, wipes and lifts. */
  travel(to: Point, cell: number, always = false, apart = Infinity, by?: Head['by']): void {
    const { head, settings: s } = this;
    const length = head.positionUnknown ? 1000 : Math.hypot(to.x - head.x, to.y - head.y);
    if (length > 1e-4) {
      const far = length > apart || (length > s.retractionLeastTravel && this.planner.leaves(head, to));
      const leaves = always || (!head.positionUnknown && far);
      const inside =
        leaves && !always && apart === Infinity && head.back === 0
          ? this.planner.inside(head, to, s.travelDetour)
          : undefined;
      if (leaves && !inside) {
        const left = by?.settings ?? s;
        this.retract(by?.cell ?? cell, left.zHop, left.wipe, left);
      }
      this.accelerate(s);
      for (const p of inside ?? [to]) {
        this.builder.add(p.x, p.y, this.z, 0, s.travelSpeed, 0, 0, roleNumber.travel, cell, 0);
      }
      head.x = to.x;
      head.y = to.y;
      head.positionUnknown = false;
    }
    if (!always) this.ready(cell);
  }

  /** Draws back, runs back over the last line where asked, and lifts. */
  retract(cell: number, lift = this.settings.zHop, wipe = 0, s = this.settings): void {
    const { head } = this;
    if (head.back === 0 && s.retractionDistance > 0) {
      this.builder.add(
        head.x,
        head.y,
        this.z,
        -s.retractionDistance,
        s.retractionSpeed,
        0,
        0,
        roleNumber.retract,
        cell,
        0,
      );
      head.back = s.retractionDistance;
      if (wipe > 0 && head.hop === 0) this.wipe(wipe, cell);
    }
    const room = this.context.printer.height - head.z - head.shift;
    const by = Math.min(lift, room);
    if (by > head.hop + 1e-6) {
      head.hop = by;
      this.hop(cell);
    }
  }

  protected wipe(by: number, cell: number): void {
    const { head, settings: s } = this;
    const back = [...this.tail].reverse();
    if (back.length < 2 || distance(back[0]!, head) > 1e-6) return;
    let left = by;
    for (let i = 1; i < back.length && left > 1e-3; i++) {
      const length = distance(back[i]!, head);
      if (length < 1e-3) continue;
      const t = Math.min(1, left / length);
      head.x += (back[i]!.x - head.x) * t;
      head.y += (back[i]!.y - head.y) * t;
      left -= length * t;
      this.builder.add(head.x, head.y, this.z, 0, s.travelSpeed, 0, 0, roleNumber.wipe, cell, 0);
    }
  }

  /** Lowers and pushes the filament forward again, with an extra length where asked. */
  ready(cell: number, extra = this.settings.unretractExtra): void {
    const { head, settings: s } = this;
    if (head.hop > 0) {
      head.hop = 0;
      this.hop(cell);
    }
    const push = head.back > 0 ? Math.max(0, head.back + extra) : 0;
    if (push > 0)
      this.builder.add(head.x, head.y, this.z, push, s.retractionSpeed, 0, 0, roleNumber.unretract, cell, 0);
    head.back = 0;
  }

  /** Pushes filament in place. */
  push(length: number, speed: number): void {
    const { head } = this;
    this.builder.add(head.x, head.y, this.z, head.back + length, speed, 0, 0, roleNumber.prime, -1, 0);
    head.back = 0;
  }

  /** Moves to the height of a layer; `only` where the head's place along X and Y does not matter. */
  rise(z: number, only = false): void {
    const { head } = this;
    if (Math.abs(head.z - z) < 1e-9) return;
    const { hop } = head;
    head.z = z;
    if (hop > 0 && z + hop > this.context.printer.height) head.hop = 0;
    if (head.positionUnknown) return;
    if (only) {
      this.command({ kind: 'raw', text: `G0 Z${z} F${Math.round(this.settings.zSpeed * 60)}` });
      return;
    }
    this.builder.add(head.x, head.y, this.z, 0, this.settings.zSpeed, 0, 0, roleNumber.hop, -1, 0);
  }

  /** Sets the fan where the share has changed. */
  fan(share: number): void {
    if (Math.abs(share - this.head.fan) < 0.004) return;
    this.head.fan = share;
    this.command({ kind: 'fan', share });
  }

  protected hop(cell: number): void {
    const { head } = this;
    this.builder.add(head.x, head.y, this.z, 0, this.settings.zSpeed, 0, 0, roleNumber.hop, cell, 0);
  }

  /** States what changes from cell to cell, before the cell's line begins. */
  protected assert(s: Settings): void {
    this.accelerate(s);
    this.corner(s);
    if (s.pressureAdvance === this.head.advance) return;
    this.head.advance = s.pressureAdvance;
    this.command({ kind: 'advance', value: s.pressureAdvance, tool: this.head.tool });
  }

  /** How speed is limited in corners: the printer’s own where the settings say nothing. */
  protected corner(s: Settings): void {
    const limit = s.cornerSpeed || s.junctionDeviation;
    if (limit === this.head.corner) return;
    this.head.corner = limit;
    this.command(cornerAction(this.context.printer, limit));
  }

  protected accelerate(s: Settings): void {
    const key = `${s.acceleration}/${s.travelAcceleration}`;
    if (key === this.head.acceleration) return;
    this.head.acceleration = key;
    this.command({ kind: 'acceleration', print: s.acceleration, travel: s.travelAcceleration });
  }
}
