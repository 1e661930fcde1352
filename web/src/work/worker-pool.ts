import { Injectable, type OnDestroy } from '@angular/core';
import { proxy, transfer, wrap, type Remote } from 'comlink';
import { Observable } from 'rxjs';
import { fault, refuse, type Progress, type Result } from '#core/base';
import type { Learnt } from '#core/carry';
import type { Context } from '#core/context';
import type { Inspection } from '#core/inspect';
import type { Trial } from '#core/trial';
import type { CoreApi, MadeFile } from './core.worker';
import type { LayerLines } from './layer-lines';

/** What long work says: how far it is, then its result. */
export type Working<T> = { progress: Progress } | { result: Result<T> };

interface Seat {
  worker: Worker;
  api: Remote<CoreApi>;
  busy: number;
}

const SILENT = 10_000;

/** Two warm workers. Work is an Observable: unsubscribing cancels it; a worker silent for 10 s is replaced. */
@Injectable({ providedIn: 'root' })
export class WorkerPool implements OnDestroy {
  private readonly seats: Seat[] = [];
  private nextId = 1;

  /** Makes the checked G-code of a trial; `source` is the file of other origin that it rests on. */
  make(trial: Trial, today: string, source?: Uint8Array): Observable<Working<MadeFile>> {
    return this.work((api, id, said) => api.make(id, trial, today, source, said));
  }

  /** Says what a file of any origin does. */
  check(bytes: Uint8Array, context: Context): Observable<Working<Inspection>> {
    return this.work((api, id, said) => api.check(id, bytes, context, said));
  }

  /** Learns a pair from a file. */
  learn(bytes: Uint8Array, like: Context | undefined): Observable<Working<Learnt>> {
    return this.work((api, id, said) => api.learn(id, bytes, like, said));
  }

  private work<T>(
    call: (api: Remote<CoreApi>, id: number, said: (p: Progress) => void) => Promise<Result<T>>,
  ): Observable<Working<T>> {
    return new Observable((subscriber) => {
      const id = this.nextId++;
      const seat = this.take();
      let heard = Date.now();
      const watch = setInterval(() => {
        if (Date.now() - heard < SILENT) return;
        clearInterval(watch);
        this.replace(seat);
        subscriber.next({
          result: refuse(
            fault(
              'work.silent',
              'work',
              'the work did not answer for 10 s and was stopped',
              'try it again with fewer levels',
            ),
          ),
        });
        subscriber.complete();
      }, 1000);
      const said = (progress: Progress) => {
        heard = Date.now();
        if (!subscriber.closed) subscriber.next({ progress });
      };
      call(seat.api, id, proxy(said))
        .then((result) => {
          subscriber.next({ result });
          subscriber.complete();
        })
        .catch((error: unknown) => subscriber.error(error))
        .finally(() => {
          clearInterval(watch);
          seat.busy--;
        });
      return () => {
        clearInterval(watch);
        void seat.api.cancel(id);
      };
    });
  }

  /** The lines of a G-code text by layer. The bytes are copied, since the page keeps them. */
  async layers(bytes: Uint8Array, diameter: number, firmware: 'marlin' | 'klipper' | 'reprap'): Promise<LayerLines[]> {
    const seat = this.take();
    try {
      const copy = bytes.slice();
      return await seat.api.layers(transfer(copy, [copy.buffer]), diameter, firmware);
    } finally {
      seat.busy--;
    }
  }

  ngOnDestroy(): void {
    for (const seat of this.seats) seat.worker.terminate();
  }

  private take(): Seat {
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
    this.seats.splice(this.seats.indexOf(seat), 1);
  }
}
