import { defer, Observable, of, Subject } from 'rxjs';
import { done } from '#core/base';
import { settledOf, type Settling } from '#core/route';
import type { WholeSettled } from '#core/settle';
import type { SameLevels } from '#core/toolpath';
import type { Trial } from '#core/trial';
import type { MadeFile } from '../work/core.worker';
import type { Working } from '../work/worker-pool';

/** Stands in for the workers: the test says when work comes on and how it ends. */
export class QuietPool {
  readonly started: Trial[] = [];
  said = new Subject<Working<MadeFile>>();
  cancelled = 0;
  private readonly made = new Map<string, MadeFile>();
  make(trial: Trial): Observable<Working<MadeFile>> {
    this.started.push(trial);
    const said = (this.said = new Subject());
    return new Observable((subscriber) => {
      const inner = said.subscribe(subscriber);
      return () => {
        inner.unsubscribe();
        this.cancelled++;
      };
    });
  }

  lately(trial: Trial): MadeFile | undefined {
    return this.made.get(JSON.stringify(trial));
  }

  /** What a trial comes to, at once; a test may put something else here. */
  settle = (asked: Settling): Observable<Working<WholeSettled | undefined>> =>
    defer(() => of({ result: done(structuredClone(settledOf(structuredClone(asked)))) }));

  /** Which levels print the same, where a test says so. */
  same(): Observable<Working<SameLevels[]>> {
    return of({ result: { ok: true, value: this.sameLevels } });
  }
  sameLevels: SameLevels[] = [];

  /** Ends the work in hand with a file that takes so much. */
  done(time: number, mass: number, cost: number): void {
    const report = { time, heating: 60, filament: { length: 1, mass, cost } };
    const { said } = this;
    const inspection = { cells: [], layers: [] };
    const made = { report, inspection, bytes: new Uint8Array([71]) } as unknown as MadeFile;
    this.made.set(JSON.stringify(this.started.at(-1)), made);
    said.next({ result: { ok: true, value: made } });
    said.complete();
  }
}
