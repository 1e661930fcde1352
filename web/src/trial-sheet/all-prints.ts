import { computed, effect, signal, untracked, type Signal } from '@angular/core';
import { concatMap, defer, delay, EMPTY, from, of, tap, throwError, type Observable } from 'rxjs';
import { sentence } from '#core/base';
import { figuresOf } from '#core/carry';
import type { CellReport } from '#core/inspect';
import type { Report } from '#core/make';
import { asPrint, asThePairPrints, type Trial } from '#core/trial';
import { latelyOf, madeOf } from '../data/made-of';
import type { Keeper } from '../data/keeper';
import type { MadeFile } from '../work/core.worker';
import type { WorkerPool } from '../work/worker-pool';

/** What is known of one print of a trial. */
export interface PrintFigures {
  report: Report;
  cells: readonly CellReport[];
  /** What files are compared by. */
  figures: Record<string, number>;
}

/** The other prints are begun when the plan has stood still for so long, ms. */
const STILL = 1200;
const MOST_KNOWN = 60;

/** Figures found lately, by the words of the plan: without the bytes they are small. */
const lately = new Map<string, PrintFigures>();

/** What each print of a trial by print takes, one found after the other once the print in hand is made. */
export class AllPrints {
  private readonly found = signal(0);
  private readonly plans: Signal<readonly { trial: Trial; key: string }[]>;
  /** Of a part, one print of it as the pair prints it, which the others are held against. */
  private readonly plain: Signal<{ trial: Trial; key: string } | undefined>;
  /** What that takes; undefined where it is not found yet, or is one of the prints. */
  readonly asItIs: Signal<PrintFigures | undefined>;
  /** By print, counted from 0; undefined where it is not found yet. */
  readonly figures: Signal<readonly (PrintFigures | undefined)[]>;
  /** All prints together, time with heating s, mass g, cost; undefined until each is found. */
  readonly total = computed(() => {
    const all = this.figures();
    if (all.length < 2 || all.some((f) => !f)) return undefined;
    const sum = (of: (r: Report) => number) => all.reduce((a, f) => a + of(f!.report), 0);
    return {
      prints: all.length,
      time: sum((r) => r.time + r.heating),
      mass: sum((r) => r.filament.mass),
      cost: sum((r) => r.filament.cost),
    };
  });

  /**
   * @param trial the trial whose prints count; undefined where it has none, or its plan has faults
   * @param made the file of the print in hand
   */
  constructor(
    private readonly pool: WorkerPool,
    private readonly keeper: Keeper,
    trial: Signal<Trial | undefined>,
    made: Signal<MadeFile | undefined>,
  ) {
    this.plans = computed(() => {
      const t = trial();
      const prints = t?.axes.find((a) => a.along === 'print')?.levels ?? [];
      return t ? prints.map((_, i) => ({ trial: asPrint(t, i), key: JSON.stringify(asPrint(t, i)) })) : [];
    });
    this.plain = computed(() => {
      const t = trial();
      const plain = t?.part && this.plans().length > 1 ? asThePairPrints(t) : undefined;
      return plain && { trial: plain, key: JSON.stringify(plain) };
    });
    this.figures = computed(() => {
      this.found();
      return this.plans().map((p) => lately.get(p.key));
    });
    this.asItIs = computed(() => {
      this.found();
      return lately.get(this.plain()?.key ?? '');
    });
    effect((onCleanup) => {
      if (!made() || this.plans().length === 0) return;
      const plain = this.plain();
      const plans = [...this.plans(), ...(plain ? [plain] : [])];
      for (const p of plans) {
        const known = latelyOf(pool, p.trial);
        if (known) this.note(p.key, known);
      }
      const missing = plans.filter((p) => !lately.has(p.key));
      const work = of(missing)
        .pipe(
          delay(STILL),
          concatMap((list) => from(list)),
          concatMap((p) =>
            lately.has(p.key)
              ? EMPTY
              : madeOf(pool, keeper, p.trial).pipe(
                  tap((said) => {
                    if ('result' in said && said.result.ok) this.note(p.key, said.result.value);
                  }),
                ),
          ),
        )
        // A print that cannot be made says why when it is in hand.
        .subscribe({ error: () => undefined });
      onCleanup(() => work.unsubscribe());
    });
  }

  /**
   * The file of a print, counted from 0, or of the part as the pair prints it; made anew where that was not done lately. Why
   * it cannot be made is its error.
   */
  file(print: number | 'as it is'): Observable<Blob> {
    return defer(() => {
      const plan = print === 'as it is' ? this.plain() : this.plans()[print];
      if (!plan) return EMPTY;
      return madeOf(this.pool, this.keeper, plan.trial).pipe(
        concatMap((said) => {
          if (!('result' in said)) return EMPTY;
          if (said.result.ok) return of(new Blob([said.result.value.bytes]));
          const { faults } = said.result;
          return throwError(() => new Error(faults.map(sentence).join(' ')));
        }),
      );
    });
  }

  private note(key: string, { report, inspection }: MadeFile): void {
    if (lately.has(key)) return;
    lately.set(key, { report, cells: inspection.cells, figures: figuresOf(inspection) });
    if (lately.size > MOST_KNOWN) lately.delete(lately.keys().next().value!);
    untracked(() => this.found.update((n) => n + 1));
  }
}
