import { inject, Injectable } from '@angular/core';
import { concatMap, defer, EMPTY, filter, map, Observable, of, Subject, take, tap } from 'rxjs';
import { costing, dayOf, duration, show, type Result } from '#core/base';
import { asPrint, type Trial } from '#core/trial';
import type { MadeFile } from '../work/core.worker';
import { Habits } from './habits';
import { WorkerPool } from '../work/worker-pool';

/** What a trial takes by the planner: s, g, money; or why it cannot be made. By print: of all its prints together. */
export type Cost = { time: number; mass: number; cost: number; prints: number } | { refused: string };

/** Makes the files of trials beforehand, one after the other, and remembers what they take. */
@Injectable({ providedIn: 'root' })
export class CostOf {
  private readonly pool = inject(WorkerPool);
  private readonly habits = inject(Habits);
  private readonly known = new Map<string, Cost>();
  private readonly queue = new Subject<Observable<unknown>>();

  constructor() {
    this.queue.pipe(concatMap((work) => work)).subscribe();
  }

  /** A cost in words, in the person’s currency. */
  words(cost: Cost | undefined): string {
    return costWords(cost, this.habits.currency());
  }

  /**
   * What a trial takes; nobody waiting any more ends the work.
   *
   * @param trial or how it is made, which is done in its turn
   */
  trial(trial: Trial | (() => Trial | undefined)): Observable<Cost> {
    const known = typeof trial === 'function' ? undefined : this.known.get(JSON.stringify(trial));
    if (known) return of(known);
    return new Observable<Cost>((out) => {
      let gone = false;
      const work = defer(() => {
        const own = typeof trial === 'function' ? trial() : trial;
        return own ? this.made(own) : EMPTY;
      }).pipe(
        tap((cost) => {
          if (gone) return;
          out.next(cost);
          out.complete();
        }),
      );
      // A page that is left no longer asks; what was begun is let end.
      this.queue.next(new Observable((o) => (gone ? o.complete() : work.subscribe(o))));
      return () => (gone = true);
    });
  }

  private made(trial: Trial): Observable<Cost> {
    const key = JSON.stringify(trial);
    const known = this.known.get(key);
    if (known) return of(known);
    const prints = trial.axes.find((a) => a.along === 'print')?.levels.length ?? 1;
    return this.pool.make(asPrint(trial), dayOf()).pipe(
      filter((said): said is { result: Result<MadeFile> } => 'result' in said),
      take(1),
      map(({ result }): Cost => {
        if (!result.ok) return { refused: result.faults[0]?.wrong ?? 'it cannot be made' };
        const { time, heating, filament } = result.value.report;
        return { time: (time + heating) * prints, mass: filament.mass * prints, cost: filament.cost * prints, prints };
      }),
      tap((cost) => this.known.set(key, cost)),
    );
  }
}

/** The cost in words: 13 min · 2.0 g · costs 0.05. */
export function costWords(cost: Cost | undefined, currency = ''): string {
  if (!cost) return 'estimating …';
  if ('refused' in cost) return cost.refused;
  const prints = cost.prints > 1 ? `${cost.prints} prints, ` : '';
  return [`${prints}${duration(cost.time)}`, `${show(cost.mass, 1)} g`, costing(cost.cost, currency)]
    .filter((w) => w)
    .join(' · ');
}
