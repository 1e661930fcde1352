import { effect, computed, signal, inject, linkedSignal, untracked } from '@angular/core';
import { Router } from '@angular/router';
import type { Subscription } from 'rxjs';
import { dayOf, sentence } from '#core/base';
import { factorOf, levelInForce } from '#core/factors';
import {
  choiceByHand,
  disagreements,
  inOrderOf,
  keptOf,
  methodsIn,
  movedIn,
  readBeside,
  steadied,
  newest,
  withSettled,
  reverted,
  tunedFrom,
  verdictIn,
  type PairRecord,
  type Settling,
  type TrialRecord,
  type Tuned,
} from '#core/route';
import type { Choice, LevelCost, WholeSettled } from '#core/settle';
import { confirmationOf, reallyMoved, type Moved } from '#core/trial';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../data/trial-maker';
import { WorkerPool } from '../work/worker-pool';
import type { OpenTrial } from './open-trial';

/** How long nothing is scored before the answer is worked out anew, ms. */
const PAUSE = 160;

/** Whatever is kept is looked through anew with every score; what says the same changes no answer. */
const alike = <T>(a: readonly T[], b: readonly T[]): boolean =>
  a.length === b.length && JSON.stringify(a) === JSON.stringify(b);

/** What the readings come to, and what is done with it: tune sheet, next trial, confirmation. */
export class Settlement {
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);
  private readonly pool = inject(WorkerPool);
  /** The record as it was when reading last paused: a score is painted first, what it says comes after. */
  private readonly atPause = signal<TrialRecord | undefined>(undefined);
  private readonly debounced = computed(() => {
    const [now, then] = [this.desk.record(), this.atPause()];
    return this.desk.stage() === 'read' && then !== undefined && then.id === now?.id ? then : now;
  });
  /** What is to be settled, as it stands. */
  private readonly asked = computed(
    (): Settling | undefined => {
      const record = this.debounced();
      if (!this.desk.plan() || !record || record.prints.length === 0) return undefined;
      const inspection = this.desk.byPrint() ? undefined : this.desk.inspection();
      return { ...keptOf(record), earlier: this.earlier(), inspection, costs: this.costs() };
    },
    // A photo, a note or that it is settled changes no answer.
    { equal: (a, b) => a === b || (!!a && !!b && Object.entries(a).every(([k, v]) => b[k as keyof Settling] === v)) },
  );
  /** Of the trial that is shown, the last answer, with what was asked. */
  private readonly answer = linkedSignal({
    source: () => this.desk.id(),
    computation: (): { asked: Settling; settled: WholeSettled | undefined } | undefined => undefined,
  });
  /** Why there is no answer, in words. */
  readonly failed = linkedSignal({ source: () => this.desk.id(), computation: () => '' });
  /** What the readings come to; while they are worked out anew, what they came to before. */
  readonly settled = computed(() => (this.asked() ? this.answer()?.settled : undefined));
  /** Whether that is said of everything as it stands: only then it can be acted on. */
  readonly current = computed(() => this.asked() !== undefined && this.answer()?.asked === this.asked());
  /** Whether nothing is known yet though it was read. */
  readonly working = computed(() => this.asked() !== undefined && this.answer() === undefined && !this.failed());
  /** What each level costs, from the file as it was read back; of a trial by print, from what its prints took. */
  readonly costs = computed<LevelCost[]>(() =>
    this.desk.byPrint()
      ? this.printCosts()
      : (this.desk.inspection()?.cells ?? []).map((c) => ({ cell: c.id, time: c.time, mass: c.mass })),
  );
  private readonly printCosts = computed<LevelCost[]>(
    () => {
      const [plan, record] = [this.desk.plan(), this.desk.record()];
      const which = plan?.trial.axes.findIndex((a) => a.along === 'print') ?? -1;
      return (record?.prints ?? []).flatMap(({ index, took }) => {
        const own = took ? (plan?.cells.filter((c) => c.index[which] === index) ?? []) : [];
        return own.map((c) => ({ cell: c.id, time: took!.time / own.length, mass: took!.mass / own.length }));
      });
    },
    { equal: alike },
  );
  /** What else was read for this answer. */
  readonly earlier = computed(
    () => {
      const record = this.debounced();
      if (!record) return [];
      return readBeside(
        record,
        this.keeper.documents().records.filter((r) => r.pair === record.pair),
      );
    },
    { equal: alike },
  );
  /** Cells from the lowest level up: the places that pairs speak of. */
  readonly inOrder = computed(() => {
    const plan = this.desk.plan();
    return plan ? inOrderOf(plan) : [];
  });
  readonly choices = computed(() => this.settled()?.choices ?? []);
  readonly choice = computed(() => this.choices()[0]);
  /** The value of the tune sheet that came from this trial. */
  readonly tuned = computed(() =>
    newest(this.keeper.find('pairs', this.desk.record()?.pair)?.values ?? []).find((v) => v.trial === this.desk.id()),
  );
  /** Where this trial and other methods for its setting do not agree, in words. */
  readonly disagreements = computed(() => {
    const tuned = this.tuned();
    const pair = this.keeper.find('pairs', this.desk.record()?.pair);
    if (!tuned || !pair) return [];
    const methods = methodsIn(this.keeper.documents().records);
    return disagreements(pair.values, methods).filter((d) => d.factor === tuned.factor);
  });
  /** What was settled here, each beside the value that stood before: of the tune sheet, else of the baseline. */
  readonly moved = computed((): Moved[] =>
    reallyMoved(
      this.choices().flatMap((c) => {
        const old = this.before(c);
        return old === undefined ? [] : [{ factor: c.factor, old, new: c.choice }];
      }),
    ),
  );

  private before(choice: Choice): number | undefined {
    const pair = this.keeper.find('pairs', this.desk.record()?.pair);
    const factor = factorOf(choice.factor);
    if (!pair || !factor) return undefined;
    const known = pair.values.filter((v) => v.factor === choice.factor && v.trial !== this.desk.id()).at(-1)?.value;
    // What a level sets in another unit (a speed for a flow) is no value of it.
    if (known !== undefined || factor.sets || !factor.setting) return known;
    const context = this.keeper.contextOf(pair);
    const held = context && levelInForce(factor, pair.baseline, context.printer);
    return factor.choices && held === choice.choice ? undefined : held;
  }
  /** How the confirmation in hand stands; undefined where this trial is none. */
  readonly verdict = computed(() => {
    const [record, plan] = [this.desk.record(), this.desk.plan()];
    return record && plan && verdictIn(record, plan.cells);
  });

  constructor(private readonly desk: OpenTrial) {
    effect((onCleanup) => {
      const record = this.desk.record();
      const timer = setTimeout(() => this.atPause.set(record), untracked(this.atPause)?.id === record?.id ? PAUSE : 0);
      onCleanup(() => clearTimeout(timer));
    });
    effect((onCleanup) => {
      const asked = this.asked();
      const work = asked && untracked(() => this.workOut(asked));
      onCleanup(() => work?.unsubscribe());
    });
  }

  /** Works the answer out, beside the page; what is asked later ends it. */
  private workOut(asked: Settling): Subscription {
    return this.pool.settle(asked).subscribe({
      next: (said) => {
        if (!('result' in said)) return;
        if (said.result.ok) this.answer.set({ asked, settled: said.result.value });
        this.failed.set(said.result.ok ? '' : said.result.faults.map(sentence).join(' '));
      },
      error: (e: unknown) => this.failed.set(String(e)),
    });
  }

  /** Works it out once more, where that failed. */
  again(): void {
    const asked = this.asked();
    this.failed.set('');
    if (asked) this.workOut(asked);
  }

  /** Writes the choices into the tune sheet; what rests on a changed value is shaken. */
  settleNow(): void {
    const record = this.desk.record();
    const pair = this.keeper.find('pairs', record?.pair);
    if (!record || this.choices().length === 0 || !pair || !this.current()) return;
    this.write(this.choices());
  }

  /** Writes values that the person gives, with the reason. */
  settleByHand(values: readonly { factor: string; value: number }[], why: string): void {
    this.write(
      values.map((v) => choiceByHand(v.factor, v.value, why)),
      [],
    );
  }

  private write(choices: readonly Choice[], beside = this.earlier()): void {
    const record = this.desk.record();
    const pair = this.keeper.find('pairs', record?.pair);
    if (!record || !pair) return;
    const on = new Date().toISOString();
    this.desk.change('settle', (r) => ({ ...r, settledOn: on }));
    this.settleInto(
      pair,
      choices.map((choice) => tunedFrom(record, choice, dayOf(on), beside)),
    );
  }

  private settleInto(pair: PairRecord, values: readonly Tuned[]): void {
    const context = this.keeper.contextOf(pair);
    if (context)
      this.keeper.save(
        'pairs',
        values.reduce((p, v) => withSettled(p, context, v), pair),
      );
  }

  /** Opens the proposed next trial. */
  openNext(): void {
    const next = this.current() ? this.settled()?.next : undefined;
    const record = this.desk.record();
    if (!next || !record) return;
    const id = this.maker.open(record.pair, record.stop, next, { after: record.id });
    void this.router.navigate(['/trial', id]);
  }

  /** Opens a confirmation print of what is settled here against what stood before, or another value that is named. */
  confirm(against?: number): boolean {
    const record = this.desk.record();
    const choice = this.choice();
    const pair = this.keeper.find('pairs', record?.pair);
    if (!record || !choice || !pair) return false;
    const moved = against === undefined ? this.moved() : [{ factor: choice.factor, old: against, new: choice.choice }];
    const seed = crypto.getRandomValues(new Uint32Array(1))[0]!;
    const trial = confirmationOf(record.trial, moved, this.maker.baselineOf(pair), seed);
    const [first, also] = moved;
    if (!trial || !first) return false;
    const confirms = { ...first, trial: record.id, ...(also && { also }) };
    void this.router.navigate(['/trial', this.maker.open(record.pair, record.stop, trial, { confirms })]);
    return true;
  }

  /** Writes what the confirmation showed: the new value is steady, or the old one stands again. */
  decide(): void {
    const record = this.desk.record();
    const verdict = this.verdict();
    const pair = this.keeper.find('pairs', record?.pair);
    if (!record?.confirms || !verdict || verdict.state === 'open' || !pair) return;
    const moved = movedIn(record.confirms);
    const on = new Date().toISOString();
    this.desk.change('confirm', (r) => ({ ...r, settledOn: on }));
    if (verdict.state === 'steady')
      this.keeper.save('pairs', {
        ...pair,
        values: moved.reduce((now, m) => steadied(now, m.factor, verdict.why), pair.values),
      });
    else
      this.settleInto(
        pair,
        moved.flatMap((m) => reverted(pair.values, m.factor, m.old, verdict.why, dayOf(on)) ?? []),
      );
  }
}
