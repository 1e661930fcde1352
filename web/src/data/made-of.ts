import { from, switchMap, type Observable } from 'rxjs';
import { sourceOf } from '#core/carry';
import type { Trial } from '#core/trial';
import type { Keeper } from './keeper';
import type { MadeFile } from '../work/core.worker';
import type { WorkerPool, Working } from '../work/worker-pool';

/** Makes the file of a trial; where it rests on a file of other origin, from the bytes that this browser keeps. */
export function madeOf(pool: WorkerPool, keeper: Keeper, trial: Trial): Observable<Working<MadeFile>> {
  const today = new Date().toISOString().slice(0, 10);
  const source = sourceOf(trial);
  if (!source) return pool.make(trial, today);
  return from(keeper.file(source.hash)).pipe(switchMap((file) => pool.make(trial, today, file)));
}
