import { computed, effect, signal, inject, linkedSignal, untracked, type WritableSignal } from '@angular/core';
import { Router } from '@angular/router';
import {
  followed,
  levelOfCell,
  planOf,
  printOfCell,
  withPhoto,
  printOfLevel,
  withPlan,
  type Print,
  type Photo,
  type TrialRecord,
  paceOf,
} from '#core/route';
import { dayOf } from '#core/base';
import { specimenOf } from '#core/specimens';
import { planned, asPrint, titled, checkedTrial, type Trial, personal } from '#core/trial';
import { Keeper } from '../data/keeper';
import { PrintRun } from '../data/print-run';
import { WorkerPool } from '../work/worker-pool';
import { AllPrints } from './all-prints';
import { FileMaker } from './file-maker';
import { columnsOf, rowsOf, sameTracks, tracksOf, blinded, factorOfPlan } from './sheet-model';

export const stages = ['plan', 'print', 'read', 'settle'] as const;
export type Stage = (typeof stages)[number];

/** One trial that is open: its record, plan, rows and file, and the steps of its history. */
export class OpenTrial {
  protected readonly keeper = inject(Keeper);
  private readonly pool = inject(WorkerPool);
  protected readonly router = inject(Router);
  readonly run = inject(PrintRun);
  readonly id = signal('');

  /** What belongs to the trial that is shown: with another one it begins anew. */
  ofTrial<T>(first: () => T): WritableSignal<T> {
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
  /** What it is printed on. */
  readonly specimen = computed(() => specimenOf(this.trial()?.specimen.id ?? ''));
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
  /** Whether it only pushes filament into the air: nothing lies on the bed, and there are no layers. */
  readonly pushes = computed(() => this.plan()?.built.pushes !== undefined);
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
  readonly columns = computed(() => {
    const plan = this.plan();
    return plan && columnsOf(plan);
  });
  readonly tracks = computed(
    () => {
      const plan = this.plan();
      return plan ? tracksOf(plan, this.record()?.readings) : [];
    },
    { equal: sameTracks },
  );
  /** Where each level is a print of its own: the axis that does so. */
  readonly byPrint = computed(() => this.record()?.trial.axes.find((a) => a.along === 'print'));
  /** Which of the prints is in hand, counted from 0. */
  readonly printIndex = this.ofTrial<number>(() => 0);
  readonly print = computed(() => this.printOf(this.printIndex()));
  /** Whether anything is printed. */
  readonly printed = computed(() => (this.record()?.prints.length ?? 0) > 0);
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
  /** Whether that file is the one of the plan and the print in hand, as they stand. */
  readonly current = this.file.current;
  readonly refused = this.file.refused;
  readonly inspection = computed(() => this.made()?.inspection);
  /** What each print takes, where each level is one. */
  readonly prints = new AllPrints(
    this.pool,
    this.keeper,
    computed(() => (this.byPrint() && this.planResult()?.ok ? this.trial() : undefined)),
    this.made,
  );
  /** What is known of the cells, in whichever print they lie. */
  readonly cells = computed(() => {
    const own = this.inspection()?.cells ?? [];
    const all = new Map(this.prints.figures().flatMap((f) => f?.cells.map((c) => [c.id, c] as const) ?? []));
    for (const c of own) all.set(c.id, c);
    return all;
  });
  readonly history = computed(() => this.keeper.historyOf(this.id()));
  readonly locked = computed(() => (this.record()?.prints.length ?? 0) > 0);

  /** The plan as it was before it followed its pair just now, and what that changed, in words. */
  readonly followed = this.ofTrial<{ before: TrialRecord; changes: readonly string[] } | undefined>(() => undefined);

  constructor() {
    // It is no step that can be undone: undone, it would follow again.
    effect(() => {
      const record = this.record();
      const pair = this.keeper.find('pairs', record?.pair);
      const context = this.keeper.contextOf(pair);
      const after = record && pair && context && this.keeper.writes() ? followed(record, pair, context) : undefined;
      if (!record || !after) return;
      untracked(() => {
        if (!this.keeper.save('records', after.record)) return;
        const known = this.followed();
        const changes = [...new Set([...(known?.changes ?? []), ...after.changes])];
        if (changes.length > 0) this.followed.set({ before: known?.before ?? record, changes });
      });
    });
  }

  /** The plan as it was before it followed its pair, which it does no more. */
  keepAsPlanned(): void {
    const before = this.followed()?.before;
    if (before) this.change('keep it as planned', () => ({ ...before, asPlanned: true }));
    this.followed.set(undefined);
  }

  /** It follows its pair again. */
  followAgain(): void {
    this.change('follow the pair', ({ asPlanned: _, ...r }) => r);
  }

  /** Stops what is being made. */
  protected stop(): void {
    this.file.stop();
  }

  /** Makes the file again, after it was cancelled or refused. */
  again(): void {
    this.file.again();
  }

  cancel(): void {
    this.file.cancel();
  }

  /** How long the prints of this printer take against what was planned. */
  readonly pace = computed(() => {
    const printer = this.record()?.trial.context.printer.id;
    return printer === undefined ? undefined : paceOf(this.keeper.documents().records, printer);
  });

  /** The print of this trial that is under way, or that has just ended. */
  readonly running = computed(() => {
    const under = this.run.under();
    return under?.trial === this.id() ? under : undefined;
  });

  /** While it prints: the height reached, mm, and the cell that lies there, where cells lie above one another. */
  readonly climbs = computed(() => {
    const under = this.running();
    if (!under || !this.run.active() || under.place === 0) return undefined;
    const places = this.plan()?.built.places ?? [];
    const here = places.filter((p) => p.z[0] < under.z - 1e-6 && under.z <= p.z[1] + 1e-6);
    const one = new Set(here.map((p) => p.cell)).size === 1;
    return { z: under.z, cell: one ? here[0]!.cell : undefined };
  });

  /** Changes the record as one step of the history. */
  change(words: string, recipe: (record: TrialRecord) => TrialRecord): boolean {
    const record = this.record();
    return record !== undefined && this.keeper.change(record, recipe(record), words);
  }

  changeTrial(words: string, recipe: (trial: Trial) => Trial): void {
    this.change(words, (r) => withPlan(r, titled(recipe(planOf(r)))));
  }

  /** Makes what the person holds in this trial the pair’s baseline, for this trial and those to come. */
  keepAsBaseline(): void {
    const record = this.record();
    const pair = this.keeper.find('pairs', record?.pair);
    const trial = this.trial();
    if (!record || !pair || !trial) return;
    // What cannot be set is said, and nothing changes.
    const own = personal(trial);
    if (!this.keeper.save('pairs', { ...pair, baseline: { ...pair.baseline, ...own } })) return;
    this.changeTrial('baseline', (t) => ({
      ...t,
      baseline: { ...t.baseline, ...own },
      frozen: Object.fromEntries(Object.entries(t.frozen).filter(([id]) => !(id in own))),
    }));
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

  /** What was said of a print that is not noted as printed yet: it waits, and nothing of it is lost. */
  readonly unnoted = this.ofTrial<{ index: number; keep: () => void } | undefined>(() => undefined);

  /** The print in which a cell lies; where it is not noted yet, what was said of it waits until it is. */
  printFor(cell: number, keep: () => void): Print | undefined {
    const [record, print] = [this.record(), this.printOfCell(cell)];
    if (record && !print) this.unnoted.set({ index: levelOfCell(record, this.plan()?.cells ?? [], cell), keep });
    return print;
  }

  /** Notes that a print was made, under the conditions given or those of the one before. */
  notePrinted(index: number, conditions?: Print['conditions']): void {
    const report = index === this.printIndex() ? this.made()?.report : undefined;
    const none = { firmware: '', room: '', drying: '', note: '' };
    this.change('printed', (r) => ({
      ...r,
      prints: [
        ...r.prints,
        {
          id: crypto.randomUUID(),
          on: dayOf(),
          conditions: conditions ?? r.prints.at(-1)?.conditions ?? none,
          ...(this.byPrint() && { index }),
          ...(report && {
            took: { time: report.time + report.heating, mass: report.filament.mass, cost: report.filament.cost },
          }),
        },
      ],
    }));
  }

  /** The print of which something was said is noted now, and what was said is kept. */
  noteUnnoted(): void {
    const waits = this.unnoted();
    if (!waits) return;
    this.notePrinted(waits.index);
    this.unnoted.set(undefined);
    waits.keep();
  }

  /** The print in which a cell lies. */
  printOfCell(cell: number): Print | undefined {
    const record = this.record();
    return record && printOfCell(record, this.plan()?.cells ?? [], cell);
  }

  /** Adds a photo of the print in hand; the same picture twice is one. */
  addPhoto(photo: Omit<Photo, 'corners'>): void {
    this.change('add a photo', (r) => withPhoto(r, photo));
  }
}
