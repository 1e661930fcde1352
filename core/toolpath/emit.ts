import { cornerAction, filamentArea, flowLimit, toolTarget, type Context } from '#core/context';
import { distance, type Point } from '#core/geometry';
import { ChunkBuilder, roleNumber, type Action, type Chunk } from '#core/moves';
import type { Settings } from '#core/settings';
import type { IslandPlan, LayerPlan, Path } from './path';
import { begunAt, Seams } from './seam';
import { isHidden, purgePaths, purgeShare, toolOf, toolsOf, type Purge } from './tools';
import { Ways } from './ways';

/** Where the head stands and what it carries from one layer to the next. */
export interface Head {
  x: number;
  y: number;
  z: number;
  /** How far the nozzle runs above (or below) the height of the layer, mm. */
  shift: number;
  /** Filament drawn back, mm. */
  back: number;
  lifted: number;
  fan: number;
  advance: number;
  acceleration: string;
  /** Where the head is along X and Y is not known yet: the first travel goes high above the bed. */
  lost: boolean;
  seams: Seams;
  tool: number;
  /** The settings under which the last line was laid: what is left behind is drawn back by them. */
  by: { settings: Settings; cell: number } | undefined;
  /** Temperature asked of the first filament, °C; other tools follow it within their own limits. */
  nozzle: number;
  /** The limit in corners that is in force, mm/s or mm of junction deviation; 0 for the printer’s own. */
  corner: number;
  /** The bed’s target, °C. */
  bed: number;
  /** Filament drawn back in tools that are not in hand, mm. */
  backs: Record<number, number>;
}

/** The head after the start code. */
export const freshHead = (seed = 0): Head => ({
  x: 0,
  y: 0,
  z: 0,
  shift: 0,
  back: 0,
  lifted: 0,
  fan: -1,
  advance: NaN,
  acceleration: '',
  lost: true,
  seams: new Seams(seed),
  tool: 0,
  by: undefined,
  nozzle: 0,
  corner: 0,
  bed: 0,
  backs: {},
});

/** A head that can go its own way. */
export const copyOf = (head: Head): Head => ({ ...head, seams: head.seams.copy(), backs: { ...head.backs } });

const walls = new Set([roleNumber['outer-wall'], roleNumber['inner-wall'], roleNumber.overhang, roleNumber.bridge]);
/** How high the nozzle waits between loops along the edge, mm. */
const PAUSE_LIFT = 10;
const isWall = (path: Path): boolean => path.roles.some((r) => walls.has(r));

/** What holds for a whole program: protections lifted, and the fan where the layer's time sets it. */
export interface EmitterOptions {
  capacity?: number;
  uncapped?: boolean;
  /** Share of the fan for the layer instead of the settings' own. */
  fan?: number;
  /** Where tools purge, and which of its layers this is. */
  purge?: { plan: Purge; layer: number };
}

/** Turns paths into moves: travel with retraction and Z-hop, extrusion at the speed of each role. */
export class Emitter {
  private readonly area: number;
  private readonly builder: ChunkBuilder;
  private readonly chunks: Chunk[] = [];
  private ways = new Ways([], 1);
  /** The last line, to wipe over. */
  private tail: Point[] = [];

  constructor(
    private readonly context: Context,
    readonly head: Head,
    private settings: Settings,
    private readonly options: EmitterOptions = {},
  ) {
    this.area = filamentArea(context.filament);
    this.builder = new ChunkBuilder((chunk) => this.chunks.push(chunk), options.capacity ?? 64);
  }

  /** Where the nozzle stands, mm. */
  private get z(): number {
    const { z, shift, lifted } = this.head;
    return z + shift + lifted;
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
    this.ways = new Ways(
      plan.islands.flatMap((i) => (i.outline.outer.length > 2 ? [i.outline] : [])),
      this.settings.lineWidth,
    );
    this.head.seams.layer();
    this.rise(plan.z);
    this.fan(this.fanOf(plan.index, this.settings));
    const tools = toolsOf(plan, this.head.tool);
    const single = tools.length <= 1;
    let purged = 0;
    tools.forEach((tool) => {
      const changed = tool !== this.head.tool;
      if (changed) purged += this.changeTool(tool, plan, purged);
      const own = (paths: readonly Path[]) => (single ? paths : paths.filter((p) => toolOf(p) === tool));
      for (const path of own(plan.first)) this.path(path, plan.index);
      const islands = single
        ? plan.islands
        : plan.islands.map((i) => ({ ...i, stages: i.stages.map((g) => [...own(g)]).filter((g) => g.length > 0) }));
      // After a change the hidden lines come first: they may take up what is left of the old colour.
      const hides = changed && this.settings.purgeInto === 'infill and supports';
      for (const island of this.ordered(islands)) {
        const stages = hides
          ? [...island.stages].sort((a, b) => Number(isHidden(b[0]!)) - Number(isHidden(a[0]!)))
          : island.stages;
        for (const stage of stages) this.stage(stage, plan.index);
      }
    });
    const { purge } = this.options;
    if (purge && purge.layer <= purge.plan.last && purged < 0.999) {
      for (const path of purgePaths(purge.plan, plan, purged, 1, false)) this.path(path, plan.index);
    }
    this.fan(this.fanOf(plan.index, this.settings));
  }

  /** Changes the tool over the purge tower and states again what the new one must have; gives the share purged. */
  private changeTool(to: number, plan: LayerPlan, from: number): number {
    const { head } = this;
    const s = this.settings;
    const { purge } = this.options;
    const change = purge?.plan.changes[purge.layer]?.find((c) => c.to === to);
    const share = purge && change ? Math.min(1 - from, purgeShare(purge.plan, change.volume, plan.height)) : 0;
    const lines = purge && share > 0 ? purgePaths(purge.plan, plan, from, from + share, true) : [];
    const start = lines[0]?.points[0];
    const more = s.toolRetraction - head.back;
    if (more > 0 && !head.lost) {
      this.builder.add(head.x, head.y, this.z, -more, s.retractionSpeed, 0, 0, roleNumber.retract, -1, 0);
      head.back += more;
    }
    this.retract(-1, Math.max(s.zHop, 0.6));
    if (start) this.travel(start, -1, true);
    head.backs[head.tool] = head.back;
    this.command({
      kind: 'heat',
      tool: head.tool,
      target: toolTarget(this.context, head.tool, head.nozzle) - s.standbyDrop,
      wait: false,
    });
    this.command({ kind: 'tool', to });
    head.tool = to;
    this.command({ kind: 'heat', tool: to, target: toolTarget(this.context, to, head.nozzle), wait: true });
    // What a tool has of its own may be anything: all of it is stated again.
    const fan = head.fan;
    head.fan = -1;
    head.advance = NaN;
    head.acceleration = '';
    this.fan(Math.max(0, fan));
    this.assert(s);
    head.back = head.backs[to] ?? 0;
    if (head.back === 0 && s.toolPrime > 0 && start) this.ready(-1);
    else this.ready(-1, s.toolPrime);
    for (const path of lines) this.path(path, plan.index);
    return share;
  }

  /** Islands in the order of the shortest way: nearest first, then crossings of the way taken out (2-opt). */
  private ordered(islands: readonly IslandPlan[]): IslandPlan[] {
    const left = islands.filter((i) => i.stages.length > 0);
    const at = (i: IslandPlan): Point => i.stages[0]![0]!.points[0]!;
    const order: IslandPlan[] = [];
    let here: Point = this.head;
    while (left.length > 0) {
      let best = 0;
      for (let i = 1; i < left.length; i++)
        if (distance(at(left[i]!), here) < distance(at(left[best]!), here)) best = i;
      const [next] = left.splice(best, 1) as [IslandPlan];
      order.push(next);
      here = at(next);
    }
    if (order.length > 3 && order.length <= 60) {
      const points = order.map(at);
      const gap = (i: number, j: number) =>
        j >= points.length ? 0 : distance(i < 0 ? this.head : points[i]!, points[j]!);
      for (let better = true, pass = 0; better && pass < 8; pass++) {
        better = false;
        for (let i = 0; i < order.length - 1; i++) {
          for (let j = i + 1; j < order.length; j++) {
            if (gap(i - 1, j) + gap(i, j + 1) + 1e-6 < gap(i - 1, i) + gap(j, j + 1)) {
              order.splice(i, j - i + 1, ...order.slice(i, j + 1).reverse());
              points.splice(i, j - i + 1, ...points.slice(i, j + 1).reverse());
              better = true;
            }
          }
        }
      }
    }
    return order;
  }

  /** Paths of one stage: in their order where they are fixed, else the nearest next. */
  private stage(paths: readonly Path[], layer: number): void {
    const left = paths.map((p) => (p.closed && isWall(p) ? this.head.seams.placed(p, layer, this.head) : p));
    if (left.some((p) => p.fixed)) {
      for (const path of left) this.path(path, layer);
      return;
    }
    while (left.length > 0) {
      let best = 0;
      let nearest = Infinity;
      for (let i = 0; i < left.length && left.length > 1; i++) {
        const far = this.far(left[i]!);
        if (far < nearest) {
          nearest = far;
          best = i;
        }
      }
      const [next] = left.splice(best, 1) as [Path];
      this.path(this.nearestWay(next), layer);
    }
  }

  private far({ points, closed }: Path): number {
    const to = (p: Point) => Math.hypot(p.x - this.head.x, p.y - this.head.y);
    return closed ? to(points[0]!) : Math.min(to(points[0]!), to(points[points.length - 1]!));
  }

  private nearestWay(path: Path): Path {
    if (path.closed) {
      if (isWall(path)) return path;
      let best = 0;
      path.points.forEach((p, i) => {
        if (i < path.points.length - 1 && distance(p, this.head) < distance(path.points[best]!, this.head)) best = i;
      });
      return begunAt(path, { segment: best, share: 0 });
    }
    const first = path.points[0]!;
    const last = path.points[path.points.length - 1]!;
    if (distance(first, this.head) <= distance(last, this.head)) return path;
    return {
      ...path,
      points: [...path.points].reverse(),
      roles: [...path.roles].reverse(),
      ...(path.areas && { areas: [...path.areas].reverse() }),
      ...(path.speeds && { speeds: [...path.speeds].reverse() }),
    };
  }

  private path(path: Path, layer: number): void {
    const { points, roles, settings: s, way } = path;
    if (way) {
      this.settings = way.settings;
      for (const p of way.points) this.travel(p, -1, true);
    }
    if (path.pause !== undefined) {
      this.retract(-1, Math.max(s.zHop, PAUSE_LIFT));
      this.command({ kind: 'dwell', seconds: path.pause });
    }
    // What is left behind is drawn back by its own values, unless the way itself is what varies.
    const own = { settings: s, cell: path.cell };
    const by = path.crossing ? own : (this.head.by ?? own);
    this.head.by = own;
    this.settings = s;
    this.travel(points[0]!, path.cell, false, path.apart, by);
    if (s.zOffset !== this.head.shift) {
      this.head.shift = s.zOffset;
      this.hop(path.cell);
    }
    this.assert(s);
    const fan = this.fanOf(layer, s);
    const most = flowLimit(this.context.printer, this.options.uncapped ?? false) * 0.995;
    const head = this.head;
    for (let i = 1; i < points.length; i++) {
      const p = points[i]!;
      const role = roles[i - 1]!;
      const length = Math.hypot(p.x - head.x, p.y - head.y);
      // Below a hundredth of a millimetre a move only costs the firmware's buffer.
      if (length < (i < points.length - 1 ? 0.01 : 0.002)) continue;
      const bridging = role === roleNumber.bridge && layer > 0;
      this.fan(bridging ? s.bridgeFan : fan);
      const area = (path.areas?.[i - 1] ?? path.area) * s.flow * (bridging ? s.bridgeFlow : 1);
      let speed = Math.min(path.exact ? Infinity : speedOf(role, s), path.speeds?.[i - 1] ?? Infinity);
      if (layer === 0 && !path.exact) speed = Math.min(s.firstLayerSpeed, speed);
      if (area > 0) speed = Math.min(speed, most / area);
      this.builder.add(
        p.x,
        p.y,
        this.z,
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
    this.tail = points;
  }

  /** Goes to a point without extruding, inside the walls where it can; else it draws back, wipes and lifts. */
  travel(to: Point, cell: number, always = false, apart = Infinity, by?: Head['by']): void {
    const { head, settings: s } = this;
    const length = head.lost ? 1000 : Math.hypot(to.x - head.x, to.y - head.y);
    if (length > 1e-4) {
      const far = length > apart || (length > s.retractionLeastTravel && this.ways.leaves(head, to));
      const leaves = always || (!head.lost && far);
      const inside =
        leaves && !always && apart === Infinity && head.back === 0
          ? this.ways.inside(head, to, s.travelDetour)
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
      head.lost = false;
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
      if (wipe > 0 && head.lifted === 0) this.wipe(wipe, cell);
    }
    const room = this.context.printer.height - head.z - head.shift;
    const by = Math.min(lift, room);
    if (by > head.lifted + 1e-6) {
      head.lifted = by;
      this.hop(cell);
    }
  }

  private wipe(by: number, cell: number): void {
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
    if (head.lifted > 0) {
      head.lifted = 0;
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
    const lifted = head.lifted;
    head.z = z;
    if (lifted > 0 && z + lifted > this.context.printer.height) head.lifted = 0;
    if (head.lost) return;
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

  private fanOf(layer: number, s: Settings): number {
    return this.options.fan !== undefined && layer > 0 ? this.options.fan : fanOf(layer, s);
  }

  private hop(cell: number): void {
    const { head } = this;
    this.builder.add(head.x, head.y, this.z, 0, this.settings.zSpeed, 0, 0, roleNumber.hop, cell, 0);
  }

  /** States what changes from cell to cell, before the cell's line begins. */
  private assert(s: Settings): void {
    this.accelerate(s);
    this.corner(s);
    if (s.pressureAdvance === this.head.advance) return;
    this.head.advance = s.pressureAdvance;
    this.command({ kind: 'advance', value: s.pressureAdvance, tool: this.head.tool });
  }

  /** How speed is limited in corners: the printer’s own where the settings say nothing. */
  private corner(s: Settings): void {
    const limit = s.cornerSpeed || s.junctionDeviation;
    if (limit === this.head.corner) return;
    this.head.corner = limit;
    this.command(cornerAction(this.context.printer, limit));
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

/** The fan by layer time: full on layers as short as `fullFanBelow`, the least on those of `leastFanAbove`, a line between. */
export function fanByTime(layer: number, time: number, s: Settings): number {
  const span = Math.max(1e-6, s.leastFanAbove - s.fullFanBelow);
  const share = Math.max(0, Math.min(1, (s.leastFanAbove - time) / span));
  const full = Math.min(s.leastFan, s.fan) + (s.fan - Math.min(s.leastFan, s.fan)) * share;
  return fanOf(layer, { ...s, fan: full });
}

function speedOf(role: number, s: Settings): number {
  switch (role) {
    case roleNumber['outer-wall']:
    case roleNumber.overhang:
      return s.outerWallSpeed;
    case roleNumber['inner-wall']:
      return s.innerWallSpeed;
    case roleNumber.infill:
      return s.infillSpeed;
    case roleNumber.bridge:
      return s.bridgeSpeed;
    case roleNumber.ironing:
      return s.ironingSpeed;
    case roleNumber.support:
    case roleNumber['support-interface']:
    case roleNumber.raft:
    case roleNumber.purge:
    case roleNumber.pillar:
      return s.supportSpeed;
    case roleNumber.brim:
    case roleNumber.skirt:
      return s.firstLayerSpeed;
    default:
      return s.skinSpeed;
  }
}
