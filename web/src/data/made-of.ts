import { from, map, of, switchMap, type Observable } from 'rxjs';
import { dayOf, done } from '#core/base';
import { filesUnder } from '#core/carry';
import type { Trial } from '#core/trial';
import type { Keeper } from './keeper';
import type { MadeFile, Rests } from '../work/core.worker';
import type { WorkerPool, Working } from '../work/worker-pool';

/** The file of other origin or the parts that a trial rests on, as far as this browser keeps them. */
export function restsOn(keeper: Keeper, trial: Trial): Observable<Rests> {
  const hashes = [...new Set(filesUnder(trial).map((f) => f.hash))];
  if (hashes.length === 0) return of(new Map());
  return from(Promise.all(hashes.map((hash) => keeper.file(hash)))).pipe(
    map((files) => new Map(files.flatMap((file, k) => (file ? [[hashes[k]!, file] as const] : [])))),
  );
}

/** Makes the file of a trial; where it rests on a file of other origin or on parts, from the bytes that this browser keeps. */
export function madeOf(pool: WorkerPool, keeper: Keeper, trial: Trial): Observable<Working<MadeFile>> {
  const known = latelyOf(pool, trial);
  if (known) return of({ result: done(known) });
  return restsOn(keeper, trial).pipe(switchMap((rests) => pool.make(trial, dayOf(), rests)));
}

/** The file of a trial, if it was made lately. */
export const latelyOf = (pool: WorkerPool, trial: Trial): MadeFile | undefined => pool.lately(trial, dayOf());
