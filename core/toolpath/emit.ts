import { flowLimit, toolTarget } from '#core/context';
import { lengthOf } from '#core/geometry';
import { roleNumber } from '#core/moves';
import type { Settings } from '#core/settings';
import type { LayerPlan, Path } from './path';
import { toolOf, toolsOf, purgeShare, purgePaths, isHidden } from './tools';
import { TravelPlanner } from './travel-planner';
import { speedOf, fanOf } from './role-speed';
import { endsOf, isWall, nearestWay, orderedIslands } from './path-order';
import { Nearest } from './nearest';
import { Mover } from './mover';

/** What is shorter than this share of its width is a dab: the way there costs more than it fills. */
const DAB = 0.25;

/** How high the nozzle waits between loops along the edge, mm. */
const PAUSE_LIFT = 10;

/** Turns paths into moves: travel with retraction and Z-hop, extrusion at the speed of each role. */
export class Emitter extends Mover {
  /** Emits a layer at full speed. */
  layer(plan: LayerPlan): void {
    this.planner = new TravelPlanner(
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
      for (const island of orderedIslands(islands, this.head)) {
        const stages = hides
          ? [...island.stages].sort((a, b) => Number(isHidden(b[0]!)) - Number(isHidden(a[0]!)))
          : island.stages;
        for (const stage of stages) this.stage(stage, plan.index);
      }
    });
    const { purge } = this.options;
    if (purge && purge.layer <= purge.plan.last && purged < 0.999) {
      // On the bed it is dense throughout: it stands on that.
      for (const path of purgePaths(purge.plan, plan, purged, 1, plan.index === 0)) this.path(path, plan.index);
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
    if (more > 0 && !head.positionUnknown) {
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

  /** Paths of one stage: in their order where they are fixed, else the nearest next. */
  private stage(all: readonly Path[], layer: number): void {
    const paths = all.filter((p) => p.fixed || lengthOf(p.points) >= DAB * p.width);
    const left = paths.map((p) => (p.closed && isWall(p) ? this.head.seams.placed(p, layer, this.head) : p));
    if (left.some((p) => p.fixed)) {
      for (const path of left) this.path(path, layer);
      return;
    }
    const nearest = new Nearest(left.map(endsOf));
    for (let i = nearest.take(this.head); i >= 0; i = nearest.take(this.head))
      this.path(nearestWay(left[i]!, this.head), layer);
  }

  private path(path: Path, layer: number): void {
    const { points, roles, settings: s, way } = path;
    if (way) {
      this.settings = way.settings;
      const left = way.leaves ? this.head.by : undefined;
      for (const p of way.points) this.travel(p, -1, true, Infinity, left);
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

  private fanOf(layer: number, s: Settings): number {
    return this.options.fan !== undefined && layer > 0 ? this.options.fan : fanOf(layer, s);
  }
}
