import { inject, Injectable } from '@angular/core';
import { zipSync } from 'fflate';
import { concatMap, filter, from, map, toArray, type Observable } from 'rxjs';
import { dayOf, sentence, type Result } from '#core/base';
import { fileName } from '../data/download';
import type { MadeFile } from '../work/core.worker';
import { WorkerPool } from '../work/worker-pool';
import { TrialMaker } from '../data/trial-maker';

/** The trials that are printed again whenever a printer was moved, cleaned or taken apart. */
const checks = ['feed-check', 'bed-loops', 'nozzle-height'];

/** Makes the standing checks of a printer as one zip. */
@Injectable({ providedIn: 'root' })
export class StandingChecks {
  private readonly pool = inject(WorkerPool);
  private readonly maker = inject(TrialMaker);

  files(pair: string): Observable<Uint8Array<ArrayBuffer>> {
    const today = dayOf();
    return from(checks).pipe(
      concatMap((kind, i) => {
        const trial = this.maker.trial(pair, kind);
        if (!trial) throw new Error(`${kind} cannot be made for this pair`);
        return this.pool.make(trial, today).pipe(
          filter((said): said is { result: Result<MadeFile> } => 'result' in said),
          map(({ result }) => {
            if (!result.ok) throw new Error(result.faults.map(sentence).join('. '));
            // A name that begins with 00 sorts before all parts.
            return [fileName(`00-${i + 1}-${kind}`, 'gcode'), result.value.bytes] as const;
          }),
        );
      }),
      toArray(),
      map((files) => new Uint8Array(zipSync(Object.fromEntries(files)))),
    );
  }
}
