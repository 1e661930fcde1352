import {
  computed,
  effect,
  inject,
  Injectable,
  linkedSignal,
  signal,
  untracked,
  type OnDestroy,
  type WritableSignal,
} from '@angular/core';
import { Router } from '@angular/router';
import { withBand, withReading, type Order, type Pairing, type Reading } from '#core/judge';
import { levelSettings } from '#core/plan';
import { factorOf } from '#core/factors';
import {
  inOrderOf,
  measuredAt,
  measuresOf,
  newest,
  planOf,
  pairingOf,
  printOfCell,
  printOfLevel,
  reverted,
  steadied,
  tunedFrom,
  withAnswer,
  withMeasure,
  withNote,
  withPhoto,
  withPlan,
  withSettled,
  type Photo,
  type Print,
  type TrialRecord,
} from '#core/route';
import { conditionDifferences, settle, settleMeasured, verdictOf, type LevelCost } from '#core/settle';
import { asPrint, checkedTrial, confirmationOf, planned, titled, type Trial } from '#core/trial';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../route/trial-maker';
import { WorkerPool } from '../work/worker-pool';
import { FileMaker } from './file-maker';
import { blinded, columnsOf, factorOfPlan, firstOpen, moved, rowsOf, stepOn, tracksOf, type Spot } from './sheet-model';

export const stages = ['plan', 'print', 'read', 'settle'] as const;
export type Stage = (typeof stages)[number];

/** How long nothing is scored before the answer is worked out anew, ms. */
const PAUSE = 160;

/** Everything on the desk while one trial is open; the parts of the sheet read it and speak to it. */
@Injectable()
export class TrialDesk implements OnDestroy {
  private readonly keeper = inject(Keeper);
  private readonly pool = inject(WorkerPool);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);

  readonly id = signal('');
  /** What belongs to the trial that is shown: with another one it begins anew. */
  private ofTrial<T>(first: () => T): WritableSignal<T> {
    return linkedSignal({ source: this.id, computation: first });
  }
  readonly stage = signal<Stage>('plan');
  readonly record = computed(() => this.keeper.find('records', this.id()));
  /** The last good plan as it is kept: a score does not change it, so nothing is planned anew for one. */
  private readonly good = computed(() => this.record()?.trial);
  /** The plan as it stands on the sheet, whether or not it can be made. */
  readonly trial = computed(() => {
    const record = this.record();
    return record && planOf(record);
  });
  readonly planResult = computed(() => {
    const trial = this.trial();
    return trial && (trial === this.good() ? planned(trial) : checkedTrial(trial));
  });
  /** The plan of the trial; where the present one has faults, the last good one stays on the sheet. */
  readonly plan = computed(() => {
    const result = this.planResult();
    const good = this.good();
    if (result?.ok || !good || good === this.trial()) return result?.ok ? result.value : undefined;
    const last = planned(good);
    return last.ok ? last.value : undefined;
  });
  readonly faults = computed(() => {
    const result = this.planResult();
    return result && !result.ok ? result.faults : [];
  });
  readonly factor = computed(() => {
    const plan = this.plan();
    return plan && factorOfPlan(plan);
  });
  readonly rows = computed(() => {
    const plan = this.plan();
    const rows = plan ? rowsOf(plan) : [];
    // Blind: pieces have letters, and no colour tells their level.
    return this.blind() ? blinded(rows) : rows;
  });
  /** The track on which pieces are being compared two by two. */
  readonly pairing = this.ofTrial<string | undefined>(() => undefined);
  /** Values are hidden: pairs are being answered, or a confirmation is not decided. */
  readonly blind = computed(() => {
    const record = this.record();
    if (this.stage() !== 'read' && this.stage() !== 'settle') return false;
    return this.pairing() !== undefined || (record?.confirms !== undefined && record.settledOn === undefined);
  });
  /** Who reads, and for the which time. */
  readonly judge = signal('me');
  readonly replicate = this.ofTrial<number>(() => 1);
  readonly brushed = this.ofTrial<boolean>(() => false);
  /** Cells of one track that the next score is for. */
  readonly band = this.ofTrial<readonly number[]>(() => []);
  readonly columns = computed(() => {
    const plan = this.plan();
    return plan && columnsOf(plan);
  });
  readonly tracks = computed(() => {
    const plan = this.plan();
    return plan ? tracksOf(plan) : [];
  });

  /** Where each level is a print of its own: the axis that does so. */
  readonly byPrint = computed(() => this.record()?.trial.axes.find((a) => a.along === 'print'));
  /** Which of the prints is in hand, counted from 0. */
  readonly printIndex = this.ofTrial<number>(() => 0);
  readonly print = computed(() => this.printOf(this.printIndex()));
  /** Whether anything is printed. */
  readonly printed = computed(() => (this.record()?.prints.length ?? 0) > 0);
  readonly spot = this.ofTrial<Spot>(() => ({ cell: 0, track: '' }));
  /** The cell pointed at, lit everywhere. */
  readonly pointed = this.ofTrial<number | undefined>(() => undefined);
  private readonly file = new FileMaker(
    this.pool,
    this.keeper,
    this.id,
    computed(() => {
      const record = this.record();
      const trial = record && asPrint(planOf(record), this.byPrint() ? this.printIndex() : undefined);
      return this.planResult()?.ok ? trial : undefined;
    }),
  );
  readonly making = this.file.making;
  readonly made = this.file.made;
  readonly refused = this.file.refused;
  readonly inspection = computed(() => this.made()?.inspection);
  /** The record as it was when reading last paused: a score is painted first, what it says comes after. */
  private readonly paused = signal<TrialRecord | undefined>(undefined);
  private readonly considered = computed(() => {
    const [now, then] = [this.record(), this.paused()];
    return this.stage() === 'read' && then !== undefined && then.id === now?.id ? then : now;
  });
  readonly settled = computed(() => {
    const plan = this.plan();
    const record = this.considered();
    if (!plan || !record || record.prints.length === 0) return undefined;
    const measured = settleMeasured(plan, record.readings);
    // What a file by print shows belongs to its own cells only.
    const inspection = this.byPrint() ? undefined : this.inspection();
    const judged = settle(plan, record.readings, {
      rule: record.rule,
      weights: record.weights,
      inspection,
      costs: this.costs(),
      differed: this.differed(),
      earlier: this.earlier(),
      preferred: this.preferred(),
    });
    return record.trial.axes.length === 0 ? { ...judged, flags: [], choices: measured.choices } : judged;
  });
  /** What each level costs, from the file as it was read back; of a trial by print, from what its prints took. */
  readonly costs = computed<LevelCost[]>(() =>
    this.byPrint()
      ? this.printCosts()
      : (this.inspection()?.cells ?? []).map((c) => ({ cell: c.id, time: c.time, mass: c.mass })),
  );
  private readonly printCosts = computed<LevelCost[]>(() => {
    const [plan, record] = [this.plan(), this.record()];
    const which = plan?.trial.axes.findIndex((a) => a.along === 'print') ?? -1;
    return (record?.prints ?? []).flatMap(({ index, took }) => {
      const own = took ? (plan?.cells.filter((c) => c.index[which] === index) ?? []) : [];
      return own.map((c) => ({ cell: c.id, time: took!.time / own.length, mass: took!.mass / own.length }));
    });
  });
  /** What differed between the prints that are read, besides what varies. */
  readonly differed = computed(() => {
    const record = this.considered();
    const used = new Set(record?.readings.map((r) => r.print));
    return conditionDifferences((record?.prints ?? []).filter((p) => used.has(p.id)));
  });
  /** The trials that this one goes on from. */
  readonly earlier = computed(() => {
    const found: { cells: NonNullable<ReturnType<TrialDesk['plan']>>['cells']; readings: Reading[] }[] = [];
    let at = this.considered()?.after;
    while (at !== undefined && found.length < 8) {
      const record = this.keeper.find('records', at);
      const result = record && planned(record.trial);
      if (!record || !result?.ok) break;
      found.push({ cells: result.value.cells, readings: record.readings });
      at = record.after;
    }
    return found;
  });
  /** Cells from the lowest level up: the places that pairs speak of. */
  readonly inOrder = computed(() => {
    const plan = this.plan();
    return plan ? inOrderOf(plan) : [];
  });
  private readonly preferred = computed(() => {
    const [plan, record] = [this.plan(), this.considered()];
    return plan && record?.pairs?.length ? pairingOf(plan, record.pairs).order() : undefined;
  });
  readonly choices = computed(() => this.settled()?.choices ?? []);
  readonly choice = computed(() => this.choices()[0]);
  readonly measuredWords = computed(() => {
    const plan = this.plan();
    const record = this.record();
    return plan && record ? settleMeasured(plan, record.readings).words : [];
  });
  readonly measures = computed(() => {
    const record = this.record();
    return record && this.plan() ? measuresOf(record) : [];
  });
  /** The value of the tune sheet that came from this trial. */
  readonly tuned = computed(() =>
    newest(this.keeper.find('pairs', this.record()?.pair)?.values ?? []).find((v) => v.trial === this.id()),
  );
  readonly history = computed(() => this.keeper.historyOf(this.id()));
  readonly locked = computed(() => (this.record()?.prints.length ?? 0) > 0);

  constructor() {
    effect((onCleanup) => {
      const record = this.record();
      const timer = setTimeout(() => this.paused.set(record), untracked(this.paused)?.id === record?.id ? PAUSE : 0);
      onCleanup(() => clearTimeout(timer));
    });
    effect(() => {
      const rows = this.rows();
      const tracks = this.tracks();
      this.id();
      untracked(() => {
        const at = this.spot();
        if (rows.some((r) => r.cell === at.cell) && tracks.some((t) => t.id === at.track)) return;
        this.spot.set(
          firstOpen(rows, tracks, this.record()?.readings ?? [], (cell) => this.printOfCell(cell)?.id ?? ''),
        );
      });
    });
  }

  ngOnDestroy(): void {
    this.file.stop();
  }

  /** Makes the file again, after it was cancelled or refused. */
  again(): void {
    this.file.again();
  }

  cancel(): void {
    this.file.cancel();
  }

  /** Changes the record as one step of the history. */
  change(words: string, recipe: (record: TrialRecord) => TrialRecord): boolean {
    const record = this.record();
    return record !== undefined && this.keeper.change(record, recipe(record), words);
  }

  changeTrial(words: string, recipe: (trial: Trial) => Trial): void {
    this.change(words, (r) => withPlan(r, titled(recipe(planOf(r)))));
  }

  /** Makes the values held by this trial the pair’s baseline, for this trial and those to come. */
  keepAsBaseline(): void {
    const record = this.record();
    const pair = this.keeper.find('pairs', record?.pair);
    const trial = this.trial();
    if (!record || !pair || !trial) return;
    // What cannot be set is said, and nothing changes.
    if (!this.keeper.save('pairs', { ...pair, baseline: { ...pair.baseline, ...trial.frozen } })) return;
    this.changeTrial('baseline', (t) => ({ ...t, baseline: { ...t.baseline, ...t.frozen }, frozen: {} }));
  }

  undo(): string | undefined {
    return this.keeper.undo(this.id());
  }

  redo(): string | undefined {
    return this.keeper.redo(this.id());
  }

  go(stage: Stage): void {
    // At once: keys pressed before the address has followed belong to the new stage.
    this.stage.set(stage);
    void this.router.navigate([], { queryParams: { stage }, queryParamsHandling: 'merge', replaceUrl: true });
  }

  /** The newest print of an index; without prints by level, the newest of all. */
  printOf(index: number): Print | undefined {
    const record = this.record();
    return record && printOfLevel(record, index);
  }

  /** The print in which a cell lies. */
  printOfCell(cell: number): Print | undefined {
    const record = this.record();
    return record && printOfCell(record, this.plan()?.cells ?? [], cell);
  }

  /**
   * What stands on each cell and track, the last one said. While reading, only what this person said this time: another's
   * score would sway it.
   */
  private readonly standing = computed(() => {
    const [reads, judge, replicate, brushed] = [
      this.stage() === 'read',
      this.judge(),
      this.replicate(),
      this.brushed(),
    ];
    const twice = new Set(this.tracks().flatMap((t) => (t.brush === true ? [t.id] : [])));
    const all = new Map<string, Reading>();
    for (const r of this.record()?.readings ?? []) {
      const after = r.brushed ?? false;
      const own = reads
        ? r.judge === judge && r.replicate === replicate && after === (brushed && twice.has(r.track))
        : !after;
      if (own) for (const cell of r.cells) all.set(`${r.print} ${cell} ${r.track}`, r);
    }
    return all;
  });

  readingAt(cell: number, track: string): Reading | undefined {
    const print = this.printOfCell(cell);
    return print && this.standing().get(`${print.id} ${cell} ${track}`);
  }

  /** Whether a track is read twice, before and after brushing. */
  brushes(track: string): boolean {
    return this.tracks().some((t) => t.id === track && t.brush === true);
  }

  /** The answers on a track; of all tracks and judges where left out. */
  pairingOf(track?: string, judge?: string): Pairing | undefined {
    const plan = this.plan();
    return plan && pairingOf(plan, this.record()?.pairs, track, judge);
  }

  /** The order that the answers give; undefined without answers. */
  orderOf(track?: string, judge?: string): Order | undefined {
    const pairing = this.record()?.pairs?.length ? this.pairingOf(track, judge) : undefined;
    return pairing && pairing.answers.length > 0 ? pairing.order() : undefined;
  }

  /** Adds a photo of the print in hand; the same picture twice is one. */
  addPhoto(photo: Omit<Photo, 'corners'>): void {
    this.change('add a photo', (r) => withPhoto(r, photo));
  }

  /** Begins to compare pieces two by two on a track. */
  compare(track: string): void {
    this.band.set([]);
    this.pairing.set(track);
  }

  /** Records an answer to “which is better?”. */
  prefer(track: string, a: number, b: number, result: 'a' | 'b' | 'tie', judge = this.judge()): void {
    const known = (cell: number) => this.plan()?.cells.some((c) => c.id === cell) ?? false;
    if (!known(a) || !known(b) || a === b || !this.tracks().some((t) => t.id === track)) return;
    this.change('which is better', (r) => withAnswer(r, { track, judge, a, b, result }));
  }

  /** All numbers measured on a cell. */
  measuredAt(cell: number, track: string): number[] {
    const record = this.record();
    return record ? measuredAt(record, cell, track) : [];
  }

  /** Adds a measured number to a cell, as one more replicate. */
  measure(cell: number, track: string, value: number, after?: number): void {
    const print = this.printOfCell(cell)?.id;
    if (print === undefined) return;
    const at = { print, cell, track, ...(after !== undefined && { after }) };
    this.change(`measure ${track}`, (r) => withMeasure(r, at, value));
  }

  /** Leaves the last number of a cell out of the sums, with the reason; it stays in the record. */
  leaveOut(cell: number, track: string, reason: string): void {
    this.change(`leave out ${track}`, (r) => {
      const at = r.readings.findLastIndex(
        (q) => q.track === track && q.cells.includes(cell) && q.excluded === undefined,
      );
      return at < 0
        ? r
        : { ...r, readings: r.readings.map((q, i) => (i === at ? { ...q, excluded: reason.slice(0, 300) } : q)) };
    });
  }

  /** Numbers of a cell that are left out, with why. */
  leftOutAt(cell: number, track: string): string[] {
    return (this.record()?.readings ?? []).flatMap((r) =>
      r.track === track && r.cells.includes(cell) && r.excluded !== undefined
        ? [`${String(r.value)} (${r.excluded})`]
        : [],
    );
  }

  /** Takes the last number of a cell back. */
  unmeasure(cell: number, track: string): void {
    this.change(`take back ${track}`, (r) => {
      const at = r.readings.findLastIndex((q) => q.track === track && q.cells.includes(cell));
      return at < 0 ? r : { ...r, readings: r.readings.filter((_, i) => i !== at) };
    });
  }

  /** Says a reading at the spot and steps on. */
  say(value: Reading['value']): void {
    const at = this.spot();
    const band = this.band();
    if (band.length > 1 && band.includes(at.cell)) {
      this.putBand(at.track, band, value);
      this.band.set([]);
      const last = this.rows().findLast((r) => band.includes(r.cell))!;
      this.spot.set(stepOn(this.rows(), this.tracks(), { ...at, cell: last.cell }));
      return;
    }
    this.put(at, value);
    this.spot.set(stepOn(this.rows(), this.tracks(), at));
  }

  /** One reading over a band of cells. */
  private putBand(track: string, cells: readonly number[], value: Reading['value']): void {
    const print = this.printOfCell(cells[0]!);
    if (!print) return;
    const label = this.tracks().find((t) => t.id === track)?.label ?? track;
    this.change(`${label} of ${cells.length} cells: ${value}`, (r) => ({
      ...r,
      readings: withBand(r.readings, { print: print.id, track, ...this.reader(track) }, cells, value),
    }));
  }

  /** Who reads, the which time, and whether after brushing. */
  private reader(track: string): Pick<Reading, 'judge' | 'replicate' | 'brushed'> {
    return {
      judge: this.judge(),
      replicate: this.replicate(),
      ...(this.brushed() && this.brushes(track) && { brushed: true }),
    };
  }

  /** Grows the band in hand by a step up or down the sheet. */
  stretch(up: number): void {
    const rows = this.rows();
    const way = this.plan()?.built.drawing.view === 'above' ? -up : up;
    const band = this.band().length > 0 ? this.band() : [this.spot().cell];
    this.move(up, 0);
    const here = this.spot().cell;
    this.band.set(
      band.includes(here) && band.length > 1 && way !== 0
        ? band.filter((c) => c !== band[band.length - 1])
        : rows.filter((r) => band.includes(r.cell) || r.cell === here).map((r) => r.cell),
    );
  }

  /** The score at the spot does not count, with the reason; it stays in the record. */
  exclude(reason: string): void {
    const at = this.spot();
    const here = this.readingAt(at.cell, at.track);
    if (!here) return;
    this.change('leave out a score', (r) => ({
      ...r,
      readings: r.readings.map((q) => (q === here ? { ...q, excluded: reason.slice(0, 300) } : q)),
    }));
  }

  /** The score at the spot counts again. */
  include(): void {
    const at = this.spot();
    const here = this.readingAt(at.cell, at.track);
    this.change('count a score again', (r) => ({
      ...r,
      readings: r.readings.map((q) => {
        if (q !== here) return q;
        const { excluded: _, ...rest } = q;
        return rest;
      }),
    }));
  }

  /** Takes the reading at the spot out. */
  clear(): void {
    this.put(this.spot(), undefined);
  }

  private put(at: Spot, value: Reading['value'] | undefined): void {
    const print = this.printOfCell(at.cell);
    if (!print) return;
    const label = this.tracks().find((t) => t.id === at.track)?.label ?? at.track;
    const row = this.rows().find((r) => r.cell === at.cell);
    const words = value === undefined ? `clear ${label} of ${row?.label}` : `${label} of ${row?.label}: ${value}`;
    const note = this.readingAt(at.cell, at.track)?.note;
    this.change(words, (r) => ({
      ...r,
      readings: withReading(
        r.readings,
        {
          print: print.id,
          track: at.track,
          ...this.reader(at.track),
          cell: at.cell,
          ...(note !== undefined && { note }),
        },
        value,
      ),
    }));
  }

  /** What was noted of a cell as a whole. */
  cellNoteAt(cell: number): string | undefined {
    const print = this.printOfCell(cell);
    return this.record()?.notes?.find((n) => n.print === print?.id && n.cell === cell)?.text;
  }

  /** Puts a note on the reading at the spot; where nothing is read yet, on the cell as a whole. */
  note(text: string): void {
    const { cell, track } = this.spot();
    const print = this.printOfCell(cell)?.id;
    if (print === undefined) return;
    const reading = this.readingAt(cell, track);
    this.change('note', (r) => withNote(r, { print, cell, reading }, text));
  }

  move(up: number, right: number): void {
    // Bands are numbered from below, tiles in reading order from above.
    const way = this.plan()?.built.drawing.view === 'above' ? -up : up;
    if (this.rows().length > 0 && this.tracks().length > 0)
      this.spot.set(moved(this.rows(), this.tracks(), this.spot(), way, right));
  }

  /** Writes the choices into the tune sheet; what rests on a changed value is shaken. */
  settleNow(): void {
    const record = this.record();
    const pair = this.keeper.find('pairs', record?.pair);
    if (!record || this.choices().length === 0 || !pair) return;
    const on = new Date().toISOString();
    this.change('settle', (r) => ({ ...r, settledOn: on }));
    let values = pair.values;
    for (const choice of this.choices()) values = withSettled(values, tunedFrom(record, choice, on.slice(0, 10)));
    this.keeper.save('pairs', { ...pair, values });
  }

  /** Opens the proposed next trial. */
  openNext(): void {
    const next = this.settled()?.next;
    const record = this.record();
    if (!next || !record) return;
    const id = this.maker.open(record.pair, record.stop, next, { after: record.id });
    void this.router.navigate(['/trial', id]);
  }

  /** The value that stood before the one settled here: of the tune sheet, else of the baseline. */
  readonly before = computed(() => {
    const choice = this.choice();
    const pair = this.keeper.find('pairs', this.record()?.pair);
    const factor = choice && factorOf(choice.factor);
    if (!choice || !pair || !factor?.setting) return undefined;
    const known = pair.values.filter((v) => v.factor === choice.factor && v.trial !== this.id()).at(-1)?.value;
    const settings = { ...pair.baseline };
    const changed = Object.keys(levelSettings({ [choice.factor]: choice.choice }, settings))[0];
    const held = changed === undefined ? undefined : settings[changed as keyof typeof settings];
    if (known !== undefined || typeof held === 'number') return known ?? (held as number);
    const named = factor.choices?.indexOf(String(held)) ?? -1;
    return named < 0 || named === choice.choice ? undefined : named;
  });

  /** Opens a confirmation print of the value settled here against the one before. */
  confirm(): void {
    const record = this.record();
    const choice = this.choice();
    const old = this.before();
    const pair = this.keeper.find('pairs', record?.pair);
    if (!record || !choice || old === undefined || !pair) return;
    const seed = crypto.getRandomValues(new Uint32Array(1))[0]!;
    const values = { old, new: choice.choice };
    const trial = confirmationOf(record.trial, choice.factor, values, this.maker.baselineOf(pair), seed);
    if (!trial) return;
    const confirms = { factor: choice.factor, ...values, trial: record.id };
    void this.router.navigate(['/trial', this.maker.open(record.pair, record.stop, trial, { confirms })]);
  }

  /** How the confirmation in hand stands; undefined where this trial is none. */
  readonly verdict = computed(() => {
    const record = this.record();
    const confirms = record?.confirms;
    const cells = this.plan()?.cells;
    if (!record || !confirms || !cells || record.prints.length === 0) return undefined;
    const at = (value: number) => cells.find((c) => Math.abs(c.levels[confirms.factor]! - value) < 1e-6)?.id ?? -1;
    return verdictOf({ old: at(confirms.old), new: at(confirms.new) }, record.readings, record.pairs ?? []);
  });

  /** Writes what the confirmation showed: the new value is steady, or the old one stands again. */
  decide(): void {
    const record = this.record();
    const verdict = this.verdict();
    const pair = this.keeper.find('pairs', record?.pair);
    if (!record?.confirms || !verdict || verdict.state === 'open' || !pair) return;
    const { factor, old } = record.confirms;
    const on = new Date().toISOString();
    this.change('confirm', (r) => ({ ...r, settledOn: on }));
    const values =
      verdict.state === 'steady'
        ? steadied(pair.values, factor, verdict.why)
        : reverted(pair.values, factor, old, verdict.why, on.slice(0, 10));
    this.keeper.save('pairs', { ...pair, values });
  }
}
