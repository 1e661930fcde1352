import { Injectable } from '@angular/core';
import { proxy, wrap, type Remote } from 'comlink';
import { Observable } from 'rxjs';
import type { Result } from '#core/base';
import type { Kept, Restored, ToKeep } from './backup-parts';
import type { BackupApi } from './backup.worker';
import type { Working } from './worker-pool';

/** Packs and reads backups, each in a worker of its own; unsubscribing stops it. */
@Injectable({ providedIn: 'root' })
export class BackupWork {
  keep(what: ToKeep): Observable<Working<Kept>> {
    return work((api, said) => api.keep(what, said));
  }

  read(chosen: { name: string; blob: Blob }[]): Observable<Working<Restored>> {
    return work((api, said) => api.read(chosen, said));
  }
}

function work<T>(
  call: (api: Remote<BackupApi>, said: Parameters<BackupApi['keep']>[1]) => Promise<Result<T>>,
): Observable<Working<T>> {
  return new Observable((subscriber) => {
    const worker = new Worker(new URL('./backup.worker', import.meta.url), { type: 'module' });
    worker.onerror = (event) => subscriber.error(new Error(event.message || 'the work stopped'));
    call(
      wrap<BackupApi>(worker),
      proxy((progress) => subscriber.next({ progress })),
    )
      .then((result) => {
        subscriber.next({ result });
        subscriber.complete();
      })
      .catch((error: unknown) => subscriber.error(error));
    return () => worker.terminate();
  });
}
