import { from, of, switchMap, type Observable } from 'rxjs';
import { sourceOf } from '#core/carry';
import type { Trial } from '#core/trial';
import type { Keeper } from './keeper';
import type { MadeFile } from '../work/core.worker';
import type { WorkerPool, Working } from '../work/worker-pool';

/** The file of other origin or the part that a trial rests on, as far as this browser keeps it. */
export function restsOn(keeper: Keeper, trial: Trial): Observable<Blob | undefined> {
  const source = sourceOf(trial) ?? trial.part;
  return source ? from(keeper.file(source.hash)) : of(undefined);
}

/** Makes the file of a trial; where it rests on a file of other origin or on a part, from the bytes that this browser keeps. */
export function madeOf(pool: WorkerPool, keeper: Keeper, trial: Trial): Observable<Working<MadeFile>> {
  const today = new Date().toISOString().slice(0, 10);
  return restsOn(keeper, trial).pipe(switchMap((file) => pool.make(trial, today, file)));
}
