import { computed, effect, inject, Injectable, signal, untracked, type OnDestroy } from '@angular/core';
import { Router } from '@angular/router';
import type { Subscription } from 'rxjs';
import { sentence, type Progress } from '#core/base';
import { readingAt, withReading, type Reading } from '#core/judge';
import { newest, tunedFrom, type TrialRecord } from '#core/route';
import { settle } from '#core/settle';
import { planned, titled, type Trial } from '#core/trial';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../route/trial-maker';
import type { MadeFile } from '../work/core.worker';
import { WorkerPool } from '../work/worker-pool';
import { factorOfPlan, firstOpen, moved, rowsOf, stepOn, tracksOf, type Spot } from './sheet-model';

export const stages = ['plan', 'print', 'read', 'settle'] as const;
export type Stage = (typeof stages)[number];

/** How the making of the file stands. */
export type Making =
  | { state: 'idle' }
  | { state: 'working'; progress: Progress }
  | { state: 'made'; made: MadeFile }
  | { state: 'refused'; faults: string[]; cancelled: boolean };

/** Files made lately, so that going between stages costs nothing. */
const lately = new Map<string, MadeFile>();

/** Everything on the desk while one trial is open; the parts of the sheet read it and speak to it. */
@Injectable()
export class TrialDesk implements OnDestroy {
  private readonly keeper = inject(Keeper);
  private readonly pool = inject(WorkerPool);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);

  readonly id = signal('');
  readonly stage = signal<Stage>('plan');
  readonly record = computed(() => this.keeper.find('records', this.id()));
  private lastGood: ReturnType<typeof planned> | undefined;
  /** The plan of the trial; where the present one has faults, the last good one stays on the sheet. */
  readonly planResult = computed(() => {
    const record = this.record();
    return record ? planned(record.trial) : undefined;
  });
  readonly plan = computed(() => {
    const result = this.planResult();
    if (result?.ok) this.lastGood = result;
    return this.lastGood?.ok ? this.lastGood.value : undefined;
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
    return plan ? rowsOf(plan) : [];
  });
  readonly tracks = computed(() => {
    const plan = this.plan();
    return plan ? tracksOf(plan) : [];
  });

  readonly print = computed(() => this.record()?.prints.at(-1));
  readonly spot = signal<Spot>({ cell: 0, track: '' });
  /** The cell pointed at, lit everywhere. */
  readonly pointed = signal<number | undefined>(undefined);
  readonly making = signal<Making>({ state: 'idle' });
  readonly made = computed(() => {
    const m = this.making();
    return m.state === 'made' ? m.made : undefined;
  });
  readonly inspection = computed(() => this.made()?.inspection);
  readonly settled = computed(() => {
    const plan = this.plan();
    const record = this.record();
    if (!plan || !record || record.prints.length === 0) return undefined;
    return settle(plan, record.readings, { rule: record.rule, weights: record.weights, inspection: this.inspection() });
  });
  readonly choice = computed(() => this.settled()?.choices[0]);
  /** The value of the tune sheet that came from this trial. */
  readonly tuned = computed(() =>
    newest(this.keeper.find('pairs', this.record()?.pair)?.values ?? []).find((v) => v.trial === this.id()),
  );
  readonly history = computed(() => this.keeper.historyOf(this.id()));
  readonly locked = computed(() => (this.record()?.prints.length ?? 0) > 0);

  private work: Subscription | undefined;

  constructor() {
    effect((onCleanup) => {
      const record = this.record();
      const result = this.planResult();
      const key = record && result?.ok ? JSON.stringify(record.trial) : undefined;
      const timer = setTimeout(
        () => untracked(() => this.remake(key, record?.trial)),
        this.making().state === 'idle' ? 0 : 350,
      );
      onCleanup(() => clearTimeout(timer));
    });
    effect(() => {
      const rows = this.rows();
      const tracks = this.tracks();
      this.id();
      untracked(() => {
        const at = this.spot();
        if (rows.some((r) => r.cell === at.cell) && tracks.some((t) => t.id === at.track)) return;
        this.spot.set(firstOpen(rows, tracks, this.record()?.readings ?? [], this.print()?.id ?? ''));
      });
    });
  }

  ngOnDestroy(): void {
    this.work?.unsubscribe();
  }

  private madeKey: string | undefined;

  private remake(key: string | undefined, trial: Trial | undefined): void {
    if (key === this.madeKey) return;
    this.madeKey = key;
    this.work?.unsubscribe();
    if (key === undefined || !trial) {
      this.making.set({ state: 'idle' });
      return;
    }
    const known = lately.get(key);
    if (known) {
      this.making.set({ state: 'made', made: known });
      return;
    }
    this.makeNow(key, trial);
  }

  /** Makes the file again, after it was cancelled. */
  again(): void {
    const trial = this.record()?.trial;
    if (trial && this.madeKey !== undefined) this.makeNow(this.madeKey, trial);
  }

  private makeNow(key: string, trial: Trial): void {
    this.making.set({ state: 'working', progress: { stage: 'starting', done: 0, of: 1 } });
    this.work = this.pool.make(trial, new Date().toISOString().slice(0, 10)).subscribe({
      next: (said) => {
        if ('progress' in said) this.making.set({ state: 'working', progress: said.progress });
        else if (said.result.ok) {
          lately.set(key, said.result.value);
          if (lately.size > 5) lately.delete(lately.keys().next().value!);
          this.making.set({ state: 'made', made: said.result.value });
        } else this.making.set({ state: 'refused', faults: said.result.faults.map(sentence), cancelled: false });
      },
      error: (error: unknown) => this.making.set({ state: 'refused', faults: [String(error)], cancelled: false }),
    });
  }

  cancel(): void {
    this.work?.unsubscribe();
    this.making.set({ state: 'refused', faults: [], cancelled: true });
  }

  /** Changes the record as one step of the history. */
  change(words: string, recipe: (record: TrialRecord) => TrialRecord): void {
    const record = this.record();
    if (record) this.keeper.change(record, recipe(record), words);
  }

  changeTrial(words: string, recipe: (trial: Trial) => Trial): void {
    this.change(words, (r) => ({ ...r, trial: titled(recipe(r.trial)) }));
  }

  /** Makes the values held by this trial the pair’s baseline, for this trial and those to come. */
  keepAsBaseline(): void {
    const record = this.record();
    const pair = this.keeper.find('pairs', record?.pair);
    if (!record || !pair) return;
    this.keeper.save('pairs', { ...pair, baseline: { ...pair.baseline, ...record.trial.frozen } });
    this.changeTrial('baseline', (t) => ({ ...t, baseline: { ...t.baseline, ...t.frozen }, frozen: {} }));
  }

  undo(): string | undefined {
    return this.keeper.undo(this.id());
  }

  redo(): string | undefined {
    return this.keeper.redo(this.id());
  }

  go(stage: Stage): void {
    void this.router.navigate([], { queryParams: { stage }, queryParamsHandling: 'merge', replaceUrl: true });
  }

  readingAt(cell: number, track: string): Reading | undefined {
    const record = this.record();
    const print = this.print();
    return record && print ? readingAt(record.readings, print.id, cell, track) : undefined;
  }

  /** Says a reading at the spot and steps on. */
  say(value: Reading['value']): void {
    const at = this.spot();
    this.put(at, value);
    this.spot.set(stepOn(this.rows(), this.tracks(), at));
  }

  /** Takes the reading at the spot out. */
  clear(): void {
    this.put(this.spot(), undefined);
  }

  private put(at: Spot, value: Reading['value'] | undefined): void {
    const print = this.print();
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
          judge: 'me',
          replicate: 1,
          cell: at.cell,
          ...(note !== undefined && { note }),
        },
        value,
      ),
    }));
  }

  /** Puts a note on the reading at the spot; an unread cell gets “cannot tell” with the note. */
  note(text: string): void {
    const at = this.spot();
    const print = this.print();
    if (!print) return;
    const value = this.readingAt(at.cell, at.track)?.value ?? 'cannot tell';
    const note = text.trim();
    this.change('note', (r) => ({
      ...r,
      readings: withReading(
        r.readings,
        { print: print.id, track: at.track, judge: 'me', replicate: 1, cell: at.cell, ...(note !== '' && { note }) },
        value,
      ),
    }));
  }

  move(up: number, right: number): void {
    // Bands are numbered from below, tiles in reading order from above.
    const way = this.plan()?.built.drawing.view === 'above' ? -up : up;
    if (this.rows().length > 0 && this.tracks().length > 0)
      this.spot.set(moved(this.rows(), this.tracks(), this.spot(), way, right));
  }

  /** Writes the choice into the tune sheet. */
  settleNow(): void {
    const record = this.record();
    const choice = this.choice();
    const pair = this.keeper.find('pairs', record?.pair);
    if (!record || !choice || !pair) return;
    const on = new Date().toISOString();
    this.change('settle', (r) => ({ ...r, settledOn: on }));
    this.keeper.save('pairs', { ...pair, values: [...pair.values, tunedFrom(record, choice, on.slice(0, 10))] });
  }

  /** Opens the proposed next trial. */
  openNext(): void {
    const next = this.settled()?.next;
    const record = this.record();
    if (!next || !record) return;
    void this.router.navigate(['/trial', this.maker.open(record.pair, record.stop, next)]);
  }
}
