import { rounded } from '#core/base';
import { filamentArea, filamentOf, massOf, reachOf, type Context } from '#core/context';
import { HeaterModel, type Timer } from '#core/motion';
import { roleAt, roleNumber, type Chunk, type Command, type MachineState } from '#core/moves';
import { startingSettings, type Settings } from '#core/settings';
import type { Planned } from '#core/trial';
import { CellLog } from './cell-log';
import { cellReport } from './cell-report';
import { Crossings, isOuter } from './crossings';
import { Doubts } from './doubts';
import {
  fileFindings,
  freeFinding,
  drawnBackFinding,
  lateFindings,
  layerFindings,
  riskFindings,
  sameFinding,
  type Late,
} from './findings';
import { GearPasses } from './gear-passes';
import { Ground, type LaidLine } from './ground';
import type { Inspection } from './inspection';
import { LayerLog } from './layer-log';
import { Objects } from './objects';
import { Overridden } from './overridden';
import { Purges } from './purges';
import { Tally, timerFor } from './tally';
import { wayRisk } from './way-risk';

/** What a pair has settled that bears on a file which does not say it: acceleration, mm/s², and retraction, mm. */
export type PairSays = Pick<Settings, 'acceleration' | 'retractionDistance'>;

/** What a program does, told from its moves as they come; with a plan, cell by cell. */
export class Look {
  private readonly timer: Timer;
  private readonly heaters = new Map<number, HeaterModel>();
  /** The same side by side, and that of the tool in hand: every move passes time on them. */
  private readonly heating: HeaterModel[] = [];
  private tool = 0;
  private heater: HeaterModel;
  private readonly area: number;
  private readonly r: Inspection = {
    time: 0,
    heating: 0,
    filament: { length: 0, mass: 0, cost: 0 },
    layers: [],
    bounds: [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity],
    tools: [],
    roles: {},
    travel: { length: 0, wallCrossings: 0, retractions: 0, drawnBack: 0, risks: { loose: 0, hot: 0, streak: 0 } },
    cells: [],
    findings: [],
    unknown: {},
    evenness: 1,
    waste: 0,
    purges: [],
    free: { length: 0, layers: 0 },
    contact: 0,
  };
  private readonly tally: Tally;
  private readonly roleTotals = Array.from({ length: 32 }, () => ({ length: 0, volume: 0, time: 0 }));
  private readonly layers = new LayerLog();
  private readonly cells: CellLog | undefined;
  private readonly crossings: Crossings;
  private readonly doubts: Doubts;
  private readonly overridden = new Overridden();
  private readonly purges = new Purges();
  private readonly ground: Ground;
  private readonly gear = new GearPasses();
  /** What stands by itself on the bed; of a file without a plan. */
  private readonly objects: Objects | undefined;
  /** The state of the last line, and whether anything was told since. */
  private state: MachineState | undefined;
  private told = true;
  private x = 0;
  private y = 0;
  private z = 0;
  /** Whether filament is being drawn back. */
  private drawing = false;
  /** The line in hand, filled anew for each: small objects would cost more than what is looked at. */
  private readonly laid: LaidLine = { x0: 0, y0: 0, x: 0, y: 0, z: 0, height: 0, width: 0, line: 0, cell: -1, role: 0 };

  constructor(
    private readonly context: Context,
    private readonly plan: Planned | undefined,
    says: PairSays | undefined = plan?.settings,
  ) {
    this.timer = timerFor(context, says?.acceleration);
    this.heater = this.heaterOf(this.tool);
    this.tally = new Tally(context);
    this.area = filamentArea(context.filament);
    this.ground = new Ground(reachOf(context.printer));
    const { retractionDistance } = says ?? startingSettings(context);
    this.crossings = new Crossings(wayRisk(context, retractionDistance));
    if (plan) this.cells = new CellLog(plan, context, this.area);
    else this.objects = new Objects(context);
    this.doubts = new Doubts((this.cells?.factors ?? []).map((f) => f.id));
  }

  take(chunk: Chunk): void {
    const { moves, commands, states } = chunk;
    const { time, peak } = this.timer.run(chunk);
    const { layers, cells } = this;
    let next = 0;
    for (let i = 0; i < moves.n; i++) {
      while (next < commands.length && commands[next]!.before <= i) this.command(commands[next++]!);
      const t = time[i]!;
      const x = moves.x[i]!;
      const y = moves.y[i]!;
      const z = moves.z[i]!;
      const e = moves.e[i]!;
      // Where a figure is missing nobody knows what the machine does; the check says so.
      if (!Number.isFinite(x + y + z + e)) continue;
      const role = moves.role[i]!;
      const nozzle = this.pass(t);
      const flat = Math.sqrt((x - this.x) ** 2 + (y - this.y) ** 2);
      const prints = e > 0 && flat > 0;
      const state = states[moves.state[i]!]!;
      if (prints && (this.told || state !== this.state)) this.force(state);
      const begins = prints && layers.begins(z, z - this.z);
      if (begins) this.newLayer(z, moves.height[i]!, moves.line[i]!);
      if (prints) this.bounds(x, y, z, moves.height[i]!);
      layers.pass(t, prints);
      this.tally.move(t, e, state.tool);
      const total = this.roleTotals[role]!;
      total.time += t;
      total.length += flat;
      if (prints) total.volume += e * this.area;
      if (!prints && flat > 0) {
        this.travel(x, y, flat, state);
        this.ground.lift();
      }
      this.extrudes(e, prints, role, moves.line[i]!);
      if (prints) {
        layers.lay(this.x, x, ((e * this.area) / Math.sqrt(flat * flat + (z - this.z) ** 2)) * peak[i]!);
        if (role === roleNumber['outer-wall']) layers.layWall(flat, t);
        if (isOuter(role)) this.crossings.wall(this.x, this.y, x, y, state.tool);
        const layer = layers.now!;
        const { laid } = this;
        laid.x0 = this.x;
        laid.y0 = this.y;
        laid.x = x;
        laid.y = y;
        laid.z = z;
        laid.height = moves.height[i]! || layer.height;
        laid.width = moves.width[i]!;
        laid.line = moves.line[i]!;
        laid.cell = moves.cell[i]!;
        laid.role = role;
        this.ground.lay(laid);
        if (this.objects && layer.z > layer.height + 1e-3)
          this.objects.line(this.x, this.y, x, y, z, role, moves.line[i]!);
      }
      if (cells) {
        const between = { x0: this.x, y0: this.y, x, y };
        cells.gather(chunk, i, begins, between);
        const reach = { nozzle, speed: peak[i]!, asked: moves.speed[i]! };
        const now = { now: layers.now, index: layers.all.length - 1, marked: layers.marked };
        const laid = cells.count(chunk, i, between, t, reach, prints, now);
        if (laid !== undefined) this.doubts.laid(laid);
      }
      this.x = x;
      this.y = y;
      this.z = z;
    }
    while (next < commands.length) this.command(commands[next++]!);
  }

  private command(c: Command): void {
    this.told = true;
    const layer = this.layers.now;
    // In a carried file each such line is answered by the sweep’s own.
    if (!this.plan) this.overridden.told(c, this.tool, layer?.z);
    this.doubts.said(c, layer !== undefined);
    switch (c.kind) {
      case 'tool':
        if (c.to !== this.tool) this.overridden.putAway(this.tool);
        this.purges.change(c.to);
        this.gear.change(c.to);
        this.tool = c.to;
        this.heater = this.heaterOf(c.to);
        this.cells?.change(c.to);
        return;
      case 'layer':
        this.layers.mark(c.z);
        return;
      case 'heat': {
        const heater = this.heaterOf(c.tool);
        heater.aim(c.target);
        if (!c.wait) return;
        const seconds = heater.wait();
        this.r.heating += seconds;
        for (const [tool, other] of this.heaters) if (tool !== c.tool) other.pass(seconds);
        return;
      }
      case 'settle':
        for (const [tool, heater] of this.heaters)
          if (c.heater !== 'bed' && c.heater !== 'chamber' && (c.tool ?? tool) === tool)
            this.r.heating += heater.wait();
        return;
      case 'pause':
        if (layer)
          this.r.findings.push({
            code: 'inspect.pause',
            severity: 'note',
            line: c.line,
            z: layer.z,
            cell: layer.cell,
            amounts: { name: c.name },
          });
        return;
      case 'dwell':
        this.tally.wait(c.seconds);
        this.pass(c.seconds);
        this.layers.wait(c.seconds);
    }
  }

  /** A line is laid under a state: what was told has taken effect. */
  private force(state: MachineState): void {
    this.state = state;
    this.told = false;
    this.layers.force(state);
    this.overridden.laid(state.tool);
  }

  private bounds(x: number, y: number, z: number, height: number): void {
    const b = this.r.bounds;
    b[0] = Math.min(b[0], x, this.x);
    b[1] = Math.min(b[1], y, this.y);
    b[2] = Math.min(b[2], z - height);
    b[3] = Math.max(b[3], x, this.x);
    b[4] = Math.max(b[4], y, this.y);
    b[5] = Math.max(b[5], z);
  }

  private travel(x: number, y: number, flat: number, { tool, nozzle }: MachineState): void {
    this.r.travel.length += flat;
    const cell = this.cells?.at((x + this.x) / 2, (y + this.y) / 2)?.place.cell ?? -1;
    this.crossings.travel(this.x, this.y, x, y, { cell, back: this.purges.drawnBack, tool, nozzle });
  }

  private extrudes(e: number, prints: boolean, role: number, line: number): void {
    if (e === 0) return;
    this.gear.move(e, line);
    // Drawn back in several pieces, as while wiping, it is one retraction.
    if (e < 0 && !this.drawing) {
      this.r.travel.retractions++;
      if (this.layers.now) this.layers.now.retractions++;
    }
    this.drawing = e < 0;
    this.purges.step(e, prints, role === roleNumber.purge);
  }

  private heaterOf(tool: number): HeaterModel {
    let heater = this.heaters.get(tool);
    if (!heater) {
      const { rise, fall } = this.context.printer.heater;
      this.heaters.set(tool, (heater = new HeaterModel(rise, fall)));
      this.heating.push(heater);
    }
    return heater;
  }

  /** Lets time pass for all heaters and gives the temperature of the tool in hand, °C. */
  private pass(seconds: number): number {
    for (let k = 0; k < this.heating.length; k++) this.heating[k]!.pass(seconds);
    return this.heater.temperature;
  }

  private newLayer(z: number, height: number, line: number): void {
    this.crossings.close();
    const size = this.layers.sizeOf(z, height);
    this.layers.begin(size, this.cells?.begin(size.z - size.height / 2) ?? -1, line);
  }

  /** All that was seen. */
  result(): Inspection {
    const { r, plan, cells, context } = this;
    this.crossings.close();
    this.layers.end();
    r.layers = this.layers.all;
    r.evenness = this.layers.evenness;
    r.travel.wallCrossings = this.crossings.count;
    r.travel.risks = this.crossings.atRisk;
    this.takes();
    this.roleTotals.forEach((total, i) => {
      if (total.time > 0) r.roles[roleAt(i)] = { ...total };
    });
    r.bounds =
      r.layers.length === 0 ? [0, 0, 0, 0, 0, 0] : (r.bounds.map((v) => rounded(v, 4)) as Inspection['bounds']);
    r.findings.push(...this.overridden.findings);
    const late: Late[] = [];
    if (plan && cells)
      r.cells = plan.cells.map(({ id, levels }) =>
        cellReport(id, levels, cells, r, late, {
          plan,
          context,
          notProven: this.doubts.of(id),
          crossings: this.crossings.cell(id),
        }),
      );
    for (const { line, ...amounts } of this.doubts.all())
      r.findings.push({ code: 'inspect.not-proven', amounts, severity: 'warn', line, z: 0, cell: -1 });
    if (cells) sameFinding(r, cells.paths.alike());
    lateFindings(r, cells?.factors ?? [], late);
    layerFindings(r, cells?.factors ?? [], plan);
    this.ground.lift();
    r.free = this.ground.found;
    r.contact = rounded(this.ground.contact, 2);
    freeFinding(r);
    r.travel.drawnBack = this.gear.most.times;
    drawnBackFinding(r, this.gear.most);
    if (this.objects) {
      r.objects = this.objects.result();
      fileFindings(r, context);
      riskFindings(r);
    }
    return r;
  }

  /** Time and filament, and what of it is purged, by pair of tools. */
  private takes(): void {
    const { r, context } = this;
    const of = (tool: number) => filamentOf(context, tool);
    Object.assign(r, this.tally.takes);
    r.purges = this.purges.all.map(({ from, to, length }) => ({ from, to, mass: massOf(of(to), length) }));
    r.waste = r.purges.reduce((n, p) => n + p.mass, 0);
  }
}
