import { rounded, show } from '#core/base';
import { costOf, filamentArea, filamentOf, massOf, type Context } from '#core/context';
import { factorOf, type Factor, type Reach } from '#core/factors';
import { inPolygons } from '#core/geometry';
import { HeaterModel, limitsOf, Timer } from '#core/motion';
import { Layering, roleAt, roleNumber, type Chunk, type Command, type MachineState } from '#core/moves';
import { levelSettings, widestStep } from '#core/plan';
import type { Settings } from '#core/settings';
import type { Place } from '#core/specimens';
import type { Planned } from '#core/trial';
import { Air } from './air';
import { Crossings } from './crossings';
import { Doubts } from './doubts';
import { fileFindings, find, lateFindings, layerFindings, type Late } from './findings';
import type { CellReport, Inspection, LayerReport } from './inspection';
import { Objects } from './objects';
import { Trail, type Gathered } from './trail';

/** Of a cell, so much must be printed under the planned value, or the file differs from the plan. */
const IN_FORCE = 0.97;
const REACHED = 0.9;

interface CellTally {
  place: Place;
  values: Map<string, Map<number, number>>;
  reachedSum: Map<string, { sum: number; weight: number; within: number; from: number }>;
  time: number;
  length: number;
  layers: Set<number>;
  box: [number, number, number, number];
  print: Gathered;
}

/** What a program does, told from its moves as they come; with a plan, cell by cell. */
export class Look {
  private readonly timer: Timer;
  private readonly heaters = new Map<number, HeaterModel>();
  private tool = 0;
  private readonly area: number;
  private readonly tallies = new Map<number, CellTally>();
  private readonly factors: Factor[];
  private readonly result_: Inspection = {
    time: 0,
    heating: 0,
    filament: { length: 0, mass: 0, cost: 0 },
    layers: [],
    bounds: [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity],
    tools: [],
    roles: {},
    travel: { length: 0, wallCrossings: 0, retractions: 0 },
    cells: [],
    findings: [],
    unknown: {},
    evenness: 1,
    waste: 0,
  };
  private readonly wall = { length: 0, time: 0 };
  /** What was last set, and whether anything was printed under it. */
  private readonly lastSet = new Map<string, { value: number; line: number; used: boolean }>();
  /** Filament pushed by each tool, mm. */
  private readonly pushed = new Float64Array(64);
  private readonly roleTotals = Array.from({ length: 32 }, () => ({ length: 0, volume: 0, time: 0 }));
  private readonly late: Late[] = [];
  private readonly cellSettings = new Map<number, Settings>();
  private candidates: CellTally[] = [];
  private layer: LayerReport | undefined;
  /** The state of the last line, whether anything was told since, and whether its layer knows. */
  private state: MachineState | undefined;
  private told = true;
  private unsaid = true;
  private inForce = { tool: 0, nozzle: 0, fan: 0, advance: 0, acceleration: 0 };
  private pending = 0;
  private readonly layering = new Layering();
  private readonly crossings = new Crossings();
  private readonly trail: Trail;
  private readonly doubts: Doubts;
  private readonly air = new Air();
  /** Whether a factor is read off what is printed of a cell as a whole. */
  private readonly gathers: boolean;
  /** By layer: how much filament was pushed under each share of the fan. */
  private readonly fans: Map<number, number>[] = [];
  private leaver: CellTally | undefined;
  /** What was done since the last line: it counts once another is laid. */
  private events: (() => void)[] = [];
  /** What stands by itself on the bed; of a file without a plan. */
  private readonly objects: Objects | undefined;
  private x = 0;
  private y = 0;
  private z = 0;
  /** Whether filament is being drawn back. */
  private drawing = false;
  /** What is in force for each tool that prints on the layer in hand. */
  private readonly ofTools = new Map<number, NonNullable<LayerReport['tools']>[number]>();
  /** The height that the layer in hand says it has, mm. */
  private marked = 0;
  /** Whether the file marks its layers, and whether one has just been marked. */
  private marks = false;
  private fresh = false;

  constructor(
    private readonly context: Context,
    private readonly plan: Planned | undefined,
    unsaid = plan?.settings.acceleration,
  ) {
    this.timer = new Timer(limitsOf(context.printer, unsaid));
    this.area = filamentArea(context.filament);
    this.factors = (plan?.trial.axes ?? []).flatMap((a) => factorOf(a.factor) ?? []);
    this.gathers = this.factors.some((f) => f.read);
    this.trail = new Trail(this.area);
    this.doubts = new Doubts(this.factors.map((f) => f.id));
    if (!plan) this.objects = new Objects(context);
    for (const place of plan?.built.places ?? []) {
      this.tallies.set(place.cell, {
        place,
        values: new Map(),
        reachedSum: new Map(),
        time: 0,
        length: 0,
        layers: new Set(),
        box: [Infinity, Infinity, -Infinity, -Infinity],
        print: { lines: [], ways: [], extras: [] },
      });
    }
  }

  take(chunk: Chunk): void {
    const { moves, commands, states } = chunk;
    const { time, peak } = this.timer.run(chunk);
    const r = this.result_;
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
      r.time += t;
      const nozzle = this.pass(t);
      const flat = Math.sqrt((x - this.x) ** 2 + (y - this.y) ** 2);
      const prints = e > 0 && flat > 0;
      const state = states[moves.state[i]!]!;
      if (prints && (this.told || state !== this.state)) this.force(state);
      const begins = prints && this.begins(z, z - this.z);
      if (prints) {
        if (begins) this.newLayer(z, moves.height[i]!, moves.line[i]!);
        const b = r.bounds;
        b[0] = Math.min(b[0], x, this.x);
        b[1] = Math.min(b[1], y, this.y);
        b[2] = Math.min(b[2], z - moves.height[i]!);
        b[3] = Math.max(b[3], x, this.x);
        b[4] = Math.max(b[4], y, this.y);
        b[5] = Math.max(b[5], z);
      }
      // The way to a layer belongs to it, not to the one before.
      if (prints && this.layer) {
        this.layer.time += t + this.pending;
        this.pending = 0;
      } else this.pending += t;
      if (e !== 0) this.pushed[state.tool]! += e;
      const total = this.roleTotals[role]!;
      total.time += t;
      total.length += flat;
      if (e > 0 && prints) total.volume += e * this.area;
      if (!prints && flat > 0) {
        r.travel.length += flat;
        this.crossings.travel(this.x, this.y, x, y, this.cellAt((x + this.x) / 2, (y + this.y) / 2)?.place.cell ?? -1);
      }
      // Drawn back in several pieces, as while wiping, it is one retraction.
      if (e < 0 && !this.drawing) {
        r.travel.retractions++;
        if (this.layer) this.layer.retractions++;
      }
      if (e !== 0) this.drawing = e < 0;
      this.air.step(e, flat);
      if (prints) {
        const flow = ((e * this.area) / Math.sqrt(flat * flat + (z - this.z) ** 2)) * peak[i]!;
        const layer = this.layer!;
        if (flow > layer.peakFlow) layer.peakFlow = flow;
        layer.left = Math.min(layer.left, x, this.x);
        layer.right = Math.max(layer.right, x, this.x);
        // What holds on the last line of a layer held on most of it, but for the first lines after a change.
        if (this.unsaid) {
          Object.assign(layer, this.inForce);
          this.byTool(layer);
          this.unsaid = false;
        }
        if (role === roleNumber['outer-wall']) {
          this.wall.length += flat;
          this.wall.time += t;
        }
        if (role === roleNumber['outer-wall']) this.crossings.wall(this.x, this.y, x, y);
        if (this.objects && layer.z > layer.height + 1e-3)
          this.objects.line(this.x, this.y, x, y, z, role, moves.line[i]!);
      }
      if (this.gathers) this.gather(chunk, i, begins);
      if (this.candidates.length > 0) {
        const tally = this.cellAt((x + this.x) / 2, (y + this.y) / 2);
        if (tally) this.tally(tally, chunk, i, t, { nozzle, speed: peak[i]!, asked: moves.speed[i]! }, prints);
        else if (prints) this.happened();
      }
      this.x = x;
      this.y = y;
      this.z = z;
    }
    while (next < commands.length) this.command(commands[next++]!);
  }

  private command(c: Command): void {
    this.told = true;
    this.setting(c);
    this.doubts.said(c, this.layer !== undefined);
    if (c.kind === 'tool') {
      // What a tool was told before it is put away takes effect on it there.
      const last = this.lastSet.get(`nozzle ${this.tool}`);
      if (last && c.to !== this.tool) last.used = true;
      this.air.change(c.to);
      this.tool = c.to;
      this.trail.change(c.to);
    } else if (c.kind === 'layer') {
      this.marked = c.z;
      this.marks = this.fresh = true;
    } else if (c.kind === 'heat') {
      const heater = this.heaterOf(c.tool);
      heater.aim(c.target);
      if (c.wait) {
        const seconds = heater.wait();
        this.result_.heating += seconds;
        for (const [tool, other] of this.heaters) if (tool !== c.tool) other.pass(seconds);
      }
    } else if (c.kind === 'settle') {
      for (const [tool, heater] of this.heaters)
        if (c.heater !== 'bed' && c.heater !== 'chamber' && (c.tool ?? tool) === tool)
          this.result_.heating += heater.wait();
    } else if (c.kind === 'pause') {
      if (this.layer)
        this.result_.findings.push({
          code: 'inspect.pause',
          severity: 'note',
          line: c.line,
          z: this.layer.z,
          cell: this.layer.cell,
          message: `the print pauses here (${c.name})`,
        });
    } else if (c.kind === 'dwell') {
      this.result_.time += c.seconds;
      this.pass(c.seconds);
      this.pending += c.seconds;
      // A wait follows the layer that was too short.
      if (this.layer) {
        this.layer.time += this.pending;
        this.pending = 0;
      }
    }
  }

  /** Names what is set and then set otherwise before anything was printed under it. */
  private setting(c: Command): void {
    if (c.kind !== 'heat' && c.kind !== 'fan' && c.kind !== 'advance') return;
    // What is set for a tool that waits is not meant for the line to come.
    if (c.kind === 'heat' && c.tool !== this.tool) return;
    const key = c.kind === 'heat' ? `nozzle ${c.tool}` : c.kind;
    const value = c.kind === 'heat' ? c.target : c.kind === 'fan' ? c.share : c.value;
    const before = this.lastSet.get(key);
    // In a carried file each such line is answered by the sweep’s own.
    if (
      !this.plan &&
      before &&
      !before.used &&
      before.value !== value &&
      this.layer &&
      before.value > 0 &&
      value > 0 &&
      before.line !== c.line
    ) {
      const words = c.kind === 'heat' ? '°C' : c.kind === 'fan' ? '%' : 's';
      const say = (v: number) => show(c.kind === 'fan' ? v * 100 : v, c.kind === 'advance' ? 4 : 0);
      const name = c.kind === 'heat' ? 'the nozzle' : c.kind === 'fan' ? 'the fan' : 'pressure advance';
      if (this.result_.findings.filter((f) => f.code === 'inspect.overridden').length < 12)
        this.result_.findings.push({
          code: 'inspect.overridden',
          severity: 'warn',
          line: c.line,
          z: this.layer.z,
          cell: -1,
          message: `line ${before.line} sets ${name} to ${say(before.value)} ${words}, line ${c.line} to ${say(value)} ${words} before anything is printed: the first never takes effect`,
        });
    }
    this.lastSet.set(key, { value, line: c.line, used: false });
  }

  /** A line is laid under a state: what was told has taken effect. */
  private force(state: MachineState): void {
    const { tool, nozzle, fan, advance, acceleration } = (this.state = state);
    this.told = false;
    this.unsaid = true;
    this.inForce = { tool, nozzle, fan, advance, acceleration };
    for (const key of [`nozzle ${tool}`, 'fan', 'advance']) {
      const last = this.lastSet.get(key);
      if (last) last.used = true;
    }
  }

  /** Notes what is in force for each tool, once a second one prints. */
  private byTool(layer: LayerReport): void {
    const { tool, nozzle, advance, fan } = this.inForce;
    const own = this.ofTools.get(tool);
    if (own && own.nozzle === nozzle && own.advance === advance && own.fan === fan) return;
    this.ofTools.set(tool, { tool, nozzle, advance, fan });
    if (this.ofTools.size > 1) layer.tools = [...this.ofTools.values()];
  }

  private endWalls(): void {
    if (this.layer && this.wall.time > 0) this.layer.wallSpeed = rounded(this.wall.length / this.wall.time, 2);
    this.wall.length = this.wall.time = 0;
  }

  private heaterOf(tool: number): HeaterModel {
    let heater = this.heaters.get(tool);
    if (!heater) {
      const { rise, fall } = this.context.printer.heater;
      this.heaters.set(tool, (heater = new HeaterModel(rise, fall)));
    }
    return heater;
  }

  /** Lets time pass for all heaters and gives the temperature of the tool in hand, °C. */
  private pass(seconds: number): number {
    for (const heater of this.heaters.values()) heater.pass(seconds);
    return this.heaterOf(this.tool).temperature;
  }

  /** Whether a line begins a layer: as the file marks them, or by height. */
  private begins(z: number, rise: number): boolean {
    const up = this.layering.begins(z, rise);
    return !this.layer || (this.marks ? this.fresh : up);
  }

  private newLayer(z: number, height: number, line: number): void {
    this.crossings.close();
    this.endWalls();
    this.ofTools.clear();
    this.unsaid = true;
    if (!this.marks) z = this.layering.z;
    else {
      // The first line of a layer may lie a little beside its height.
      height += this.marked - z;
      z = this.marked;
      this.fresh = false;
    }
    const middle = z - height / 2;
    this.candidates = [...this.tallies.values()].filter(
      ({ place }) => middle >= place.z[0] - 1e-6 && middle < place.z[1] - 1e-6,
    );
    this.layer = {
      z: rounded(z, 4),
      height: rounded(height, 4),
      time: 0,
      peakFlow: 0,
      cell: this.candidates[0]?.place.cell ?? -1,
      line,
      ...this.inForce,
      wallSpeed: 0,
      retractions: 0,
      left: Infinity,
      right: -Infinity,
    };
    this.result_.layers.push(this.layer);
  }

  private cellAt(x: number, y: number): CellTally | undefined {
    if (this.candidates.length === 0) return undefined;
    const origin = this.plan!.origin;
    return this.candidates.find(({ place }) => inPolygons(place.area, x - origin.x, y - origin.y));
  }

  /** Keeps what several moves show together, for the factors that are read off a cell as a whole. */
  private gather({ moves, states }: Chunk, i: number, newLayer: boolean): void {
    const step = this.trail.step(moves, i, newLayer);
    if (!step) return;
    const tally = this.cellAt((moves.x[i]! + this.x) / 2, (moves.y[i]! + this.y) / 2);
    if (step.kind === 'line') {
      const fans = (this.fans[step.line.layer] ??= new Map<number, number>());
      const { fan } = states[moves.state[i]!]!;
      fans.set(fan, (fans.get(fan) ?? 0) + step.line.e);
      tally?.print.lines.push(step.line);
    } else if (step.kind === 'way') {
      this.leaver = tally;
      tally?.print.ways.push(step.way);
    } else {
      // What is pushed after a way belongs to the cell that the way led through.
      this.leaver?.print.extras.push(step.length);
      this.leaver = undefined;
    }
  }

  /** What the file shows of a factor over all that is printed of a cell. */
  private readCell(factor: Factor, tally: CellTally): Map<number, number> {
    const values = new Map<number, number>();
    const layers = this.result_.layers.map(({ z, height, time }, k) => {
      const fans = [...(this.fans[k] ?? [])].sort((a, b) => b[1] - a[1]);
      return { z, height, time, fan: fans[0]?.[0] ?? 0 };
    });
    const shown = factor.read!({
      ...tally.print,
      layers,
      purges: this.trail.purges,
      settings: this.settingsOf(tally.place.cell),
      context: this.context,
      filament: this.area,
    });
    for (const { value, weight } of shown) values.set(value, (values.get(value) ?? 0) + weight);
    return values;
  }

  private tally(tally: CellTally, chunk: Chunk, i: number, t: number, reach: Reach, prints: boolean): void {
    tally.time += t;
    if (prints) {
      tally.length += chunk.moves.e[i]!;
      this.doubts.laid(tally.place.cell);
      tally.layers.add(this.result_.layers.length - 1);
      const b = tally.box;
      const { x, y } = chunk.moves;
      b[0] = Math.min(b[0], x[i]!, this.x);
      b[1] = Math.min(b[1], y[i]!, this.y);
      b[2] = Math.max(b[2], x[i]!, this.x);
      b[3] = Math.max(b[3], y[i]!, this.y);
    }
    const lies = this.layer !== undefined && this.layer.z <= this.layer.height + 1e-3;
    for (const factor of this.factors) {
      if (lies && !factor.firstLayer) continue;
      const seen = factor.observe?.(chunk, i, { layerZ: this.marked, settings: this.settingsOf(tally.place.cell) });
      if (!seen) continue;
      // What is done after the last line (an unload) is no event of the print.
      if (prints) this.observed(tally, factor, seen, reach);
      else this.events.push(() => this.observed(tally, factor, seen, reach));
    }
    if (prints) this.happened();
  }

  private happened(): void {
    if (this.events.length === 0) return;
    for (const event of this.events) event();
    this.events = [];
  }

  private observed(tally: CellTally, factor: Factor, seen: { value: number; weight: number }, reach: Reach): void {
    let values = tally.values.get(factor.id);
    if (!values) tally.values.set(factor.id, (values = new Map()));
    values.set(seen.value, (values.get(seen.value) ?? 0) + seen.weight);
    const got = factor.reached?.(reach, seen.value) ?? seen.value;
    const planned = this.plan!.cells.find((c) => c.id === tally.place.cell)!.levels[factor.id]!;
    let sums = tally.reachedSum.get(factor.id);
    if (!sums) tally.reachedSum.set(factor.id, (sums = { sum: 0, weight: 0, within: 0, from: NaN }));
    sums.sum += got * seen.weight;
    sums.weight += seen.weight;
    if (Math.abs(got - planned) <= factor.tolerance(planned) + this.halfStep(factor.id)) {
      sums.within += seen.weight;
      if (Number.isNaN(sums.from)) sums.from = this.layer?.z ?? 0;
    }
  }

  result(): Inspection {
    this.crossings.close();
    const r = this.result_;
    this.endWalls();
    if (this.layer) this.layer.time += this.pending;
    this.pending = 0;
    r.travel.wallCrossings = this.crossings.count;
    const length = this.pushed.reduce((a, b) => a + b, 0);
    const own = [...this.pushed].map((l, tool) => [tool, l] as const).filter(([, l]) => l !== 0);
    r.tools = own.map(([tool, l]) => ({
      tool,
      length: l,
      mass: massOf(filamentOf(this.context, tool), l),
      cost: costOf(filamentOf(this.context, tool), l),
    }));
    r.filament = {
      length,
      mass: r.tools.reduce((sum, t) => sum + t.mass, 0),
      cost: r.tools.reduce((sum, t) => sum + t.cost, 0),
    };
    this.roleTotals.forEach((total, i) => {
      if (total.time > 0) r.roles[roleAt(i)] = { ...total };
    });
    r.bounds =
      r.layers.length === 0 ? [0, 0, 0, 0, 0, 0] : (r.bounds.map((v) => rounded(v, 4)) as Inspection['bounds']);
    r.cells = (this.plan?.cells ?? []).map((cell) => this.cellReport(cell.id, cell.levels));
    r.evenness = evennessOf(r.layers);
    const purged = (r.roles['purge']?.volume ?? 0) + this.air.purged * this.area;
    r.waste = (purged * this.context.filament.density) / 1000;
    const labels = new Map((this.plan?.cells ?? []).map((c) => [c.id, c.label]));
    for (const { message, line } of this.doubts.words((cell) => labels.get(cell) ?? ''))
      r.findings.push({ code: 'inspect.not-proven', severity: 'warn', line, z: 0, cell: -1, message });
    lateFindings(r, this.factors, this.late);
    layerFindings(r, this.factors, this.plan);
    if (this.objects) {
      r.objects = this.objects.result();
      fileFindings(r, this.context);
    }
    return r;
  }

  private cellReport(id: number, planned: Record<string, number>): CellReport {
    const tally = this.tallies.get(id)!;
    const times = [...tally.layers].map((k) => this.result_.layers[k]!.time);
    const report: CellReport = {
      id,
      planned,
      effective: {},
      settled: {},
      ok: true,
      z: tally.place.z,
      time: tally.time,
      mass: massOf(this.context.filament, tally.length),
      box: tally.layers.size > 0 ? tally.box : [0, 0, 0, 0],
      layerTime: times.length > 0 ? times.reduce((a, b) => a + b, 0) / times.length : 0,
      crossings: this.crossings.cell(id),
    };
    const notProven = this.doubts.of(id);
    if (notProven.length > 0) {
      report.ok = false;
      report.notProven = notProven;
    }
    for (const factor of this.factors) {
      const read = factor.read && this.readCell(factor, tally);
      // What such a print cannot show (the spacing of columns) is left open.
      if (read ? read.size === 0 : !factor.observe) {
        report.effective[factor.id] = [];
        report.settled[factor.id] = { share: 1, from: tally.place.z[0] };
        continue;
      }
      const values = read ?? tally.values.get(factor.id) ?? new Map<number, number>();
      if (read) this.reads(factor, tally, read, planned[factor.id]!);
      const all = [...values.values()].reduce((a, b) => a + b, 0);
      report.effective[factor.id] = [...values]
        .map(([value, weight]) => ({ value, share: all > 0 ? weight / all : 0 }))
        .sort((a, b) => b.share - a.share);
      const want = planned[factor.id]!;
      let inForce = 0;
      for (const [value, weight] of values)
        if (Math.abs(value - want) <= (factor.rounding ?? 0) + this.halfStep(factor.id) + 1e-9) inForce += weight;
      const share = inForce / (all || 1);
      const sums = tally.reachedSum.get(factor.id);
      const within = sums && sums.weight > 0 ? sums.within / sums.weight : 0;
      report.settled[factor.id] = {
        share: within,
        from: sums && !Number.isNaN(sums.from) ? sums.from : tally.place.z[1],
      };
      if (all === 0 && this.plan?.trial.source) {
        // A part of the user’s own has skins, bridges, supports where it has them.
        report.ok = false;
        report.absent = true;
        const message = `nothing is printed at ${factor.label} in this cell: there is nothing to read`;
        find(this.result_, 'inspect.absent', 'note', id, message);
      } else if (share < IN_FORCE) {
        report.ok = false;
        const found = report.effective[factor.id]![0]?.value;
        find(
          this.result_,
          'inspect.differs',
          'stop',
          id,
          `planned ${show(want * factor.shown)} ${factor.unit}, in the file ${found === undefined ? 'nothing' : `${show(found * factor.shown)} ${factor.unit}`} over ${show((1 - share) * 100, 0)} % of the cell: this cell is void`,
        );
      } else if (within < REACHED && sums && sums.weight > 0) {
        report.reached = { ...report.reached, [factor.id]: rounded(sums.sum / sums.weight, 2) };
        const heats = factor.setting === 'nozzleTemperature';
        this.late.push({
          factor,
          cell: id,
          want,
          severity: within < 0.5 ? 'warn' : 'note',
          message:
            within === 0
              ? `${show(want * factor.shown)} ${factor.unit} is never reached in this cell`
              : heats
                ? `${show(want * factor.shown)} ${factor.unit} is reached only from ${show(report.settled[factor.id]!.from, 1)} mm on, ${show(within * 100, 0)} % of the cell; judge above that`
                : `${show(want * factor.shown)} ${factor.unit} is reached on ${show(within * 100, 0)} % of the cell only; on average it is ${show(report.reached[factor.id]! * factor.shown, 1)}`,
        });
      }
    }
    return report;
  }

  /** What is read off a cell as a whole is what the machine gets to, as far as the file shows it. */
  private reads(factor: Factor, tally: CellTally, values: Map<number, number>, planned: number): void {
    const sums = { sum: 0, weight: 0, within: 0, from: tally.place.z[0] };
    for (const [value, weight] of values) {
      sums.sum += value * weight;
      sums.weight += weight;
      if (Math.abs(value - planned) <= (factor.rounding ?? 0) + factor.tolerance(planned) + this.halfStep(factor.id))
        sums.within += weight;
    }
    tally.reachedSum.set(factor.id, sums);
  }

  /** The settings planned for a cell. */
  private settingsOf(cell: number): Settings {
    let s = this.cellSettings.get(cell);
    if (!s) {
      const plan = this.plan!;
      const levels = plan.cells.find((c) => c.id === cell)?.levels ?? {};
      s = { ...plan.settings, ...levelSettings(levels, plan.settings) };
      this.cellSettings.set(cell, s);
    }
    return s;
  }

  /** On a ramp a band holds what lies half a step to either side of its level. */
  private halfStep(factor: string): number {
    const axis = this.plan?.trial.axes.find((a) => a.factor === factor);
    return axis?.kind === 'ramp' ? widestStep(axis.levels) / 2 : 0;
  }
}

/** 1 less the mean step of wall speed from layer to layer, as a share of the faster. */
function evennessOf(layers: readonly LayerReport[]): number {
  const speeds = layers.slice(1).flatMap((l) => (l.wallSpeed > 0 ? [l.wallSpeed] : []));
  if (speeds.length < 2) return 1;
  const steps = speeds.slice(1).map((v, i) => Math.abs(v - speeds[i]!) / Math.max(v, speeds[i]!));
  return rounded(1 - steps.reduce((a, b) => a + b, 0) / steps.length, 4);
}
