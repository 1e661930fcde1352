import type { Context } from '#core/context';
import { factorOf, type Factor, type Reach } from '#core/factors';
import { inPolygons } from '#core/geometry';
import type { Chunk } from '#core/moves';
import { levelSettings, widestStep, variedIn } from '#core/plan';
import type { Settings } from '#core/settings';
import type { Place } from '#core/specimens';
import { asToolOf, type Planned } from '#core/trial';
import type { LayerReport } from './inspection';
import { SamePaths } from './same-path';
import { RetractionTracker, type Gathered } from './retraction-tracker';

/** What was reached of a factor over a cell: sums by weight, and the height from which the level was, mm. */
export interface ReachedSums {
  sum: number;
  weight: number;
  within: number;
  from: number;
}

/** What is counted of one cell. */
export interface CellTally {
  place: Place;
  values: Map<string, Map<number, number>>;
  reachedSum: Map<string, ReachedSums>;
  time: number;
  /** Filament, mm. */
  length: number;
  layers: Set<number>;
  box: [number, number, number, number];
  print: Gathered;
}

/** Where a move leads, from and to, mm. */
export interface Between {
  x0: number;
  y0: number;
  x: number;
  y: number;
}

/** Follows a program with a plan: which cell a move belongs to, and what each cell shows of what varies. */
export class CellLog {
  readonly factors: readonly Factor[];
  readonly tallies = new Map<number, CellTally>();
  readonly paths = new SamePaths();
  private readonly settings = new Map<number, Settings>();
  private readonly levels: ReadonlyMap<number, Record<string, number>>;
  private candidates: CellTally[] = [];
  private readonly tracker: RetractionTracker;
  /** Whether a factor is read off what is printed of a cell as a whole. */
  private readonly gathers: boolean;
  /** By layer: how much filament was pushed under each share of the fan. */
  private readonly fans: Map<number, number>[] = [];
  private leaver: CellTally | undefined;
  /** What was done since the last line: it counts once another is laid. */
  private events: (() => void)[] = [];

  /** @param area cross-section of the filament, mm² */
  constructor(
    private readonly plan: Planned,
    private readonly context: Context,
    private readonly area: number,
  ) {
    this.factors = variedIn(plan.trial.axes).flatMap((id) => factorOf(id) ?? []);
    this.gathers = this.factors.some((f) => f.read);
    this.tracker = new RetractionTracker(area);
    this.levels = new Map(plan.cells.map((c) => [c.id, c.levels]));
    for (const place of plan.built.places)
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

  /** A layer begins whose middle is at a height, mm; gives the first cell that it may belong to. */
  begin(middle: number): number {
    this.candidates = [...this.tallies.values()].filter(
      ({ place }) => middle >= place.z[0] - 1e-6 && middle < place.z[1] - 1e-6,
    );
    return this.candidates[0]?.place.cell ?? -1;
  }

  /** The cell of a place on the layer in hand. */
  at(x: number, y: number): CellTally | undefined {
    if (this.candidates.length === 0) return undefined;
    const { origin } = this.plan;
    for (const tally of this.candidates) if (inPolygons(tally.place.area, x - origin.x, y - origin.y)) return tally;
    return undefined;
  }

  change(tool: number): void {
    this.tracker.change(tool);
  }

  /** Keeps what several moves show together, for the factors that are read off a cell as a whole. */
  gather({ moves, states }: Chunk, i: number, newLayer: boolean, { x0, y0, x, y }: Between): void {
    if (!this.gathers) return;
    const step = this.tracker.step(moves, i, newLayer);
    if (!step) return;
    const tally = this.at((x + x0) / 2, (y + y0) / 2);
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

  /**
   * Counts a move for its cell, if it has one.
   *
   * @param layer the layer in hand, its number from 0, and the height that it says it has, mm
   * @returns the cell in which a line was laid
   */
  count(
    chunk: Chunk,
    i: number,
    between: Between,
    time: number,
    reach: Reach,
    prints: boolean,
    layer: { now: LayerReport | undefined; index: number; marked: number },
  ): number | undefined {
    if (this.candidates.length === 0) return undefined;
    const { x0, y0, x, y } = between;
    const tally = this.at((x + x0) / 2, (y + y0) / 2);
    if (!tally) {
      if (prints) this.happened();
      return undefined;
    }
    tally.time += time;
    this.paths.move(tally.place.cell, chunk, i, between, prints);
    if (prints) {
      tally.length += chunk.moves.e[i]!;
      tally.layers.add(layer.index);
      const b = tally.box;
      if (x < b[0]) b[0] = x;
      if (x0 < b[0]) b[0] = x0;
      if (y < b[1]) b[1] = y;
      if (y0 < b[1]) b[1] = y0;
      if (x > b[2]) b[2] = x;
      if (x0 > b[2]) b[2] = x0;
      if (y > b[3]) b[3] = y;
      if (y0 > b[3]) b[3] = y0;
    }
    const lies = layer.now !== undefined && layer.now.z <= layer.now.height + 1e-3;
    const { tool } = chunk.states[chunk.moves.state[i]!]!;
    const z = layer.now?.z ?? 0;
    const at = { layerZ: layer.marked, settings: this.settingsOf(tally.place.cell) };
    for (const factor of this.factors) {
      if (lies && !factor.firstLayer) continue;
      const seen = factor.observe?.(chunk, i, at);
      if (!seen) continue;
      // What is done after the last line (an unload) is no event of the print.
      if (prints) this.observed(tally, factor, seen, reach, tool, z);
      else this.events.push(this.later(tally, factor, seen, reach, tool, z));
    }
    if (!prints) return undefined;
    this.happened();
    return tally.place.cell;
  }

  /** What the file shows of a factor over all that is printed of a cell; undefined where single moves show it. */
  read(factor: Factor, tally: CellTally, layers: readonly LayerReport[]): Map<number, number> | undefined {
    if (!factor.read) return undefined;
    const values = new Map<number, number>();
    const shown = factor.read({
      ...tally.print,
      layers: layers.map(({ z, height, time }, k) => {
        const fans = [...(this.fans[k] ?? [])].sort((a, b) => b[1] - a[1]);
        return { z, height, time, fan: fans[0]?.[0] ?? 0 };
      }),
      purges: this.tracker.purges,
      settings: this.settingsOf(tally.place.cell),
      context: this.context,
      filament: this.area,
    });
    for (const { value, weight } of shown) values.set(value, (values.get(value) ?? 0) + weight);
    return values;
  }

  /** On a ramp a band holds what lies half a step to either side of its level. */
  halfStep(factor: string): number {
    const axis = this.plan.trial.axes.find((a) => a.factor === factor);
    return axis?.kind === 'ramp' ? widestStep(axis.levels) / 2 : 0;
  }

  private happened(): void {
    if (this.events.length === 0) return;
    for (const event of this.events) event();
    this.events = [];
  }

  /** Apart, so that only what waits is kept on the heap. */
  private later(...seen: Parameters<CellLog['observed']>): () => void {
    return () => this.observed(...seen);
  }

  private observed(
    tally: CellTally,
    factor: Factor,
    seen: { value: number; weight: number },
    reach: Reach,
    tool: number,
    z: number,
  ): void {
    // A tool that keeps its distance from the first counts as the first would.
    const as = (value: number) => asToolOf(this.plan.trial, factor.id, value, tool);
    const value = as(seen.value);
    let values = tally.values.get(factor.id);
    if (!values) tally.values.set(factor.id, (values = new Map()));
    values.set(value, (values.get(value) ?? 0) + seen.weight);
    const got = factor.reached ? as(factor.reached(reach, seen.value)) : value;
    const planned = this.levels.get(tally.place.cell)![factor.id]!;
    let sums = tally.reachedSum.get(factor.id);
    if (!sums) tally.reachedSum.set(factor.id, (sums = { sum: 0, weight: 0, within: 0, from: NaN }));
    sums.sum += got * seen.weight;
    sums.weight += seen.weight;
    if (Math.abs(got - planned) <= factor.tolerance(planned) + this.halfStep(factor.id)) {
      sums.within += seen.weight;
      if (Number.isNaN(sums.from)) sums.from = z;
    }
  }

  /** The settings planned for a cell. */
  private settingsOf(cell: number): Settings {
    let s = this.settings.get(cell);
    if (!s) {
      const { plan } = this;
      const levels = this.levels.get(cell) ?? {};
      s = { ...plan.settings, ...levelSettings(levels, plan.settings) };
      this.settings.set(cell, s);
    }
    return s;
  }
}
