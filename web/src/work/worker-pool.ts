import { Injectable, type OnDestroy } from '@angular/core';
import { proxy, wrap, type Remote } from 'comlink';
import { combineLatest, defer, map, Observable, of } from 'rxjs';
import { done, fault, refuse, sentence, type Progress, type Result } from '#core/base';
import type { Learnt } from '#core/carry';
import type { Context } from '#core/context';
import type { FirstHalf, Inspection, PairSays } from '#core/inspect';
import type { Pose } from '#core/part';
import type { Backup, Settling } from '#core/route';
import type { WholeSettled } from '#core/settle';
import type { SameLevels } from '#core/toolpath';
import type { PartFileNamed, PartPlaced, Trial } from '#core/trial';
import type { CoreApi, MadeFile, Placing, Rests } from './core.worker';
import type { LayerLines } from './layer-lines';
import { MadeLately } from './made-lately';
import type { LayerPair } from './over-one-another';
import type { PartView, TakenPart } from './part-info';
import type { Taken } from './take-in';

/** What long work says: how far it is, then its result. */
export type Working<T> = { progress: Progress } | { result: Result<T> };

/** What the check of a file says: of a long one, what speaks against it and what it takes come first. */
export type CheckSaid = Working<Inspection> | { progress: Progress; early: FirstHalf };

interface Seat {
  worker: Worker;
  api: Remote<CoreApi>;
  busy: number;
}

/** Ticks of the page, one a second, without a word from a worker. A clock would count what a sleeping machine slept. */
const SILENT = 20;

/** Two warm workers. Work is an Observable: unsubscribing cancels it; a worker silent for 20 s is replaced. */
@Injectable({ providedIn: 'root' })
export class WorkerPool implements OnDestroy {
  private readonly seats: Seat[] = [];
  private nextId = 1;
  private readonly made = new MadeLately();

  /**
   * Makes the checked G-code of a trial; of the same trial on the same day once.
   *
   * @param rests the file of other origin, or the parts, that it rests on
   */
  make(trial: Trial, today: string, rests: Rests = new Map()): Observable<Working<MadeFile>> {
    return defer(() => {
      const known = this.lately(trial, today);
      if (known) return of({ result: done(known) });
      return this.made.once(words(trial, today), () =>
        this.work((api, id, said) => api.make(id, trial, today, rests, said)),
      );
    });
  }

  /** The file of a trial, where it was made lately. */
  lately(trial: Trial, today: string): MadeFile | undefined {
    return this.made.known(words(trial, today));
  }

  /** Finds neighbouring levels of a trial that print the same. */
  same(trial: Trial, rests: Rests): Observable<Working<SameLevels[]>> {
    return this.work((api, id, said) => api.same(id, trial, rests, said));
  }

  /** What the readings of a trial come to; undefined before it is printed. */
  settle(of: Settling): Observable<Working<WholeSettled | undefined>> {
    return this.work((api) => api.settle(of));
  }

  /** Makes the demo data. */
  demo(): Observable<Working<Backup>> {
    return this.work((api) => api.demo());
  }

  /** Takes a part in. */
  takePart(file: Blob, name: string): Observable<Working<TakenPart>> {
    return this.work((api, id, said) => api.takePart(id, file, name, said));
  }

  /** Places a part: how it looks so, and what can be seen on it. */
  place(part: PartFileNamed, file: Blob | undefined, placing: Placing): Observable<Working<PartPlaced>> {
    return this.work((api, id, said) => api.place(id, part, file, placing, said));
  }

  /** What a part looks like in space, and how it can lie. */
  view(
    part: PartFileNamed,
    file: Blob | undefined,
    of: Pick<Pose, 'object' | 'mirror'>,
  ): Observable<Working<PartView>> {
    return this.work((api, id, said) => api.view(id, part, file, of, said));
  }

  /** Takes a file of any origin in. */
  take(file: Blob, name: string): Observable<Working<Taken>> {
    return this.work((api, id, said) => api.take(id, file, name, said));
  }

  /**
   * Says what a file of any origin does, with what the pair says where the file does not: one worker reads what it does,
   * another what speaks against it and what it takes, which is known first.
   */
  check(file: Blob, context: Context, says?: PairSays): Observable<CheckSaid> {
    return combineLatest([
      this.work((api, id, said) => api.inspect(id, file, context, says, said)),
      this.work((api, id, said) => api.firstHalf(id, file, context, says, said)),
    ]).pipe(map(([seen, first]) => joined(seen, first)));
  }

  /** Learns a pair from a file. */
  learn(file: Blob, like: Context | undefined): Observable<Working<Learnt>> {
    return this.work((api, id, said) => api.learn(id, file, like, said));
  }

  private work<T>(
    call: (api: Remote<CoreApi>, id: number, said: (p: Progress) => void) => Promise<Result<T>>,
  ): Observable<Working<T>> {
    return new Observable((subscriber) => {
      const id = this.nextId++;
      const seat = this.seat();
      let [silent, ended] = [0, false];
      const watch = setInterval(() => {
        if (++silent < SILENT) return;
        clearInterval(watch);
        this.replace(seat);
        subscriber.next({
          result: refuse(
            fault(
              'work.silent',
              'work',
              'the work did not answer for 20 s and was stopped',
              'try it again with fewer levels',
            ),
          ),
        });
        subscriber.complete();
      }, 1000);
      const said = (progress: Progress) => {
        silent = 0;
        if (!subscriber.closed) subscriber.next({ progress });
      };
      call(seat.api, id, proxy(said))
        .then((result) => {
          ended = true;
          subscriber.next({ result });
          subscriber.complete();
        })
        .catch((error: unknown) => {
          ended = true;
          subscriber.error(error);
        })
        .finally(() => {
          clearInterval(watch);
          seat.busy--;
        });
      return () => {
        clearInterval(watch);
        // What is done is not cancelled: the worker would keep its number for ever.
        if (!ended) void seat.api.cancel(id);
      };
    });
  }

  /** The lines of a G-code text: layers in batches, from below, each with how far the reading is. */
  layers(file: Blob, context: Context, retraction: number): Observable<{ progress: Progress; layers: LayerLines[] }> {
    return this.batches<LayerLines>((api, id, said) => api.layers(id, file, { context, retraction }, said)).pipe(
      map(({ progress, batch }) => ({ progress, layers: batch })),
    );
  }

  /** Two files laid over one another, pair of layers by pair of layers from below. */
  over(first: Blob, second: Blob, context: Context): Observable<{ progress: Progress; batch: LayerPair[] }> {
    return this.batches<LayerPair>((api, id, said) => api.over(id, first, second, { context }, said));
  }

  /** Work that hands over what it finds bit by bit; refusal is an error in words. */
  private batches<T>(
    call: (api: Remote<CoreApi>, id: number, said: (p: Progress, batch: T[]) => void) => Promise<Result<undefined>>,
  ): Observable<{ progress: Progress; batch: T[] }> {
    return new Observable((subscriber) => {
      const work = this.work<undefined>((api, id, said) =>
        call(
          api,
          id,
          proxy((progress: Progress, batch: T[]) => {
            said(progress);
            subscriber.next({ progress, batch });
          }),
        ),
      ).subscribe({
        next: (said) => {
          if ('result' in said && !said.result.ok) subscriber.error(said.result.faults.map(sentence).join(' '));
        },
        error: (e: unknown) => subscriber.error(e),
        complete: () => subscriber.complete(),
      });
      return () => work.unsubscribe();
    });
  }

  ngOnDestroy(): void {
    for (const seat of this.seats) seat.worker.terminate();
  }

  private seat(): Seat {
    const free = this.seats.find((s) => s.busy === 0) ?? (this.seats.length < 2 ? this.add() : undefined);
    const seat = free ?? this.seats.reduce((a, b) => (a.busy <= b.busy ? a : b));
    seat.busy++;
    return seat;
  }

  private add(): Seat {
    const worker = new Worker(new URL('./core.worker', import.meta.url), { type: 'module' });
    const seat: Seat = { worker, api: wrap<CoreApi>(worker), busy: 0 };
    this.seats.push(seat);
    return seat;
  }

  private replace(seat: Seat): void {
    seat.worker.terminate();
    // Two jobs of one worker may both find it silent.
    const at = this.seats.indexOf(seat);
    if (at >= 0) this.seats.splice(at, 1);
  }
}

const words = (trial: Trial, today: string): string => `${today} ${JSON.stringify(trial)}`;

/** What two halves of a check have said so far. */
export function joined(seen: Working<Inspection>, first: Working<FirstHalf>): CheckSaid {
  if ('result' in seen && !seen.result.ok) return seen;
  if ('result' in first && !first.result.ok) return { result: first.result };
  const early = 'result' in first && first.result.ok ? first.result.value : undefined;
  if ('progress' in seen) return early ? { progress: seen.progress, early } : seen;
  if (!early || !seen.result.ok) return 'progress' in first ? first : seen;
  return { result: done({ ...seen.result.value, findings: [...early.findings, ...seen.result.value.findings] }) };
}
