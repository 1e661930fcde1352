import { filamentArea, flowLimit, type Context } from '#core/context';
import { distance, leaves, solid, type Point, type Polygon } from '#core/geometry';
import { ChunkBuilder, roleNumber, type Action, type Chunk } from '#core/moves';
import type { Settings } from '#core/settings';
import type { LayerPlan, Path } from './path';

/** Where the head stands and what it carries from one layer to the next. */
export interface Head {
  x: number;
  y: number;
  z: number;
  /** Filament drawn back, mm. */
  back: number;
  lifted: number;
  fan: number;
  acceleration: string;
  /** Where the head is along X and Y is not known yet: the first travel goes high above the bed. */
  lost: boolean;
}

/** The head after the start code. */
export const freshHead = (): Head => ({ x: 0, y: 0, z: 0, back: 0, lifted: 0, fan: -1, acceleration: '', lost: true });

/** Turns paths into moves: travel with retraction and Z-hop, extrusion at the speed of each role. */
export class Emitter {
  private readonly area: number;
  private readonly builder: ChunkBuilder;
  private readonly chunks: Chunk[] = [];
  private outlines: Polygon[] = [];

  constructor(
    private readonly context: Context,
    readonly head: Head,
    private readonly settings: Settings,
    capacity?: number,
    private readonly uncapped = false,
  ) {
    this.area = filamentArea(context.filament);
    this.builder = new ChunkBuilder((chunk) => this.chunks.push(chunk), capacity);
  }

  /** The moves so far, as chunks. */
  finish(): Chunk[] {
    this.builder.flush();
    return this.chunks;
  }

  command(action: Action): void {
    this.builder.command(action);
  }

  /** Emits a layer at full speed. */
  layer(plan: LayerPlan): void {
    const s = this.settings;
    this.outlines = plan.islands.flatMap((i) => i.outline).map(solid);
    this.rise(plan.z);
    const fan = fanOf(plan.index, s);
    this.fan(fan);
    for (const path of plan.first) this.path(path, plan.index, fan);
    const left = [...plan.islands];
    while (left.length > 0) {
      let best = 0;
      for (let i = 1; i < left.length; i++) if (this.from(left[i]!) < this.from(left[best]!)) best = i;
      for (const path of left.splice(best, 1)[0]!.paths) this.path(this.nearestWay(path), plan.index, fan);
    }
    this.fan(fan);
  }

  private from(island: LayerPlan['islands'][number]): number {
    const p = island.paths[0]?.points[0];
    return p ? Math.hypot(p.x - this.head.x, p.y - this.head.y) : Infinity;
  }

  private nearestWay(path: Path): Path {
    const first = path.points[0]!;
    const last = path.points[path.points.length - 1]!;
    if (distance(first, last) < 1e-6) return path;
    const near =
      Math.hypot(first.x - this.head.x, first.y - this.head.y) <=
      Math.hypot(last.x - this.head.x, last.y - this.head.y);
    return near ? path : { ...path, points: [...path.points].reverse(), roles: [...path.roles].reverse() };
  }

  private path(path: Path, layer: number, fan: number): void {
    const { points, roles, settings: s } = path;
    this.travel(points[0]!, path.cell);
    this.accelerate(s);
    const head = this.head;
    for (let i = 1; i < points.length; i++) {
      const p = points[i]!;
      const role = roles[i - 1]!;
      const length = Math.hypot(p.x - head.x, p.y - head.y);
      // Below a hundredth of a millimetre a move only costs the firmware's buffer.
      if (length < (i < points.length - 1 ? 0.01 : 0.002)) continue;
      const bridging = role === roleNumber.bridge && layer > 0;
      this.fan(bridging ? Math.max(fan, s.bridgeFan) : fan);
      const flow = s.flow * (bridging ? s.bridgeFlow : 1);
      const area = path.area * flow;
      let speed = layer === 0 ? Math.min(s.firstLayerSpeed, speedOf(role, s)) : speedOf(role, s);
      speed = Math.min(speed, (flowLimit(this.context.printer, this.uncapped) * 0.995) / area);
      this.builder.add(
        p.x,
        p.y,
        head.z,
        (length * area) / this.area,
        speed,
        path.width,
        path.height,
        role,
        path.cell,
        0,
      );
      head.x = p.x;
      head.y = p.y;
    }
  }

  /** Goes to a point without extruding; draws back and lifts when the way leaves the part. */
  travel(to: Point, cell: number, always = false): void {
    const { head, settings: s } = this;
    const length = head.lost ? 1000 : Math.hypot(to.x - head.x, to.y - head.y);
    if (length > 1e-4) {
      const draws = always || (!head.lost && length > s.retractionLeastTravel && leaves(this.outlines, head, to));
      if (draws) this.retract(cell);
      this.accelerate(s);
      this.builder.add(to.x, to.y, head.z + head.lifted, 0, s.travelSpeed, 0, 0, roleNumber.travel, cell, 0);
      head.x = to.x;
      head.y = to.y;
      head.lost = false;
    }
    if (!always) this.ready(cell);
  }

  /** Draws back and lifts. */
  retract(cell: number, lift = this.settings.zHop): void {
    const { head, settings: s } = this;
    if (head.back === 0 && s.retractionDistance > 0) {
      this.builder.add(
        head.x,
        head.y,
        head.z + head.lifted,
        -s.retractionDistance,
        s.retractionSpeed,
        0,
        0,
        roleNumber.retract,
        cell,
        0,
      );
      head.back = s.retractionDistance;
    }
    const room = this.context.printer.height - head.z;
    const by = Math.min(lift, room);
    if (by > head.lifted + 1e-6) {
      head.lifted = by;
      this.hop(cell);
    }
  }

  /** Lowers and pushes the filament forward again, with an extra length where asked. */
  ready(cell: number, extra = this.settings.unretractExtra): void {
    const { head, settings: s } = this;
    if (head.lifted > 0) {
      head.lifted = 0;
      this.hop(cell);
    }
    const push = head.back > 0 ? Math.max(0, head.back + extra) : 0;
    if (push > 0)
      this.builder.add(head.x, head.y, head.z, push, s.retractionSpeed, 0, 0, roleNumber.unretract, cell, 0);
    head.back = 0;
  }

  /** Pushes filament in place. */
  push(length: number, speed: number): void {
    const { head } = this;
    this.builder.add(head.x, head.y, head.z + head.lifted, head.back + length, speed, 0, 0, roleNumber.prime, -1, 0);
    head.back = 0;
  }

  /** Moves to the height of a layer. */
  rise(z: number): void {
    const { head } = this;
    if (Math.abs(head.z - z) < 1e-9) return;
    const lifted = head.lifted;
    head.z = z;
    if (lifted > 0 && z + lifted > this.context.printer.height) head.lifted = 0;
    if (head.lost) return;
    this.builder.add(head.x, head.y, head.z + head.lifted, 0, this.settings.zSpeed, 0, 0, roleNumber.hop, -1, 0);
  }

  /** Sets the fan where the share has changed. */
  fan(share: number): void {
    if (Math.abs(share - this.head.fan) < 0.004) return;
    this.head.fan = share;
    this.command({ kind: 'fan', share });
  }

  private hop(cell: number): void {
    const { head } = this;
    this.builder.add(head.x, head.y, head.z + head.lifted, 0, this.settings.zSpeed, 0, 0, roleNumber.hop, cell, 0);
  }

  private accelerate(s: Settings): void {
    const key = `${s.acceleration}/${s.travelAcceleration}`;
    if (key === this.head.acceleration) return;
    this.head.acceleration = key;
    this.command({ kind: 'acceleration', print: s.acceleration, travel: s.travelAcceleration });
  }
}

/** Fan share of a layer: f₁ on the first, f₁ + (full − f₁) × k/n on layer k, full from layer n. */
export const fanOf = (layer: number, s: Settings): number =>
  s.firstLayerFan + (s.fan - s.firstLayerFan) * Math.min(1, layer / s.fanRampLayers);

function speedOf(role: number, s: Settings): number {
  switch (role) {
    case roleNumber['outer-wall']:
      return s.outerWallSpeed;
    case roleNumber['inner-wall']:
      return s.innerWallSpeed;
    case roleNumber.infill:
      return s.infillSpeed;
    case roleNumber.bridge:
      return s.bridgeSpeed;
    case roleNumber.overhang:
      return s.overhangSpeed;
    case roleNumber.brim:
      return s.firstLayerSpeed;
    default:
      return s.skinSpeed;
  }
}
