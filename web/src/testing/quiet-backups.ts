import { Subject } from 'rxjs';
import type { Kept, Restored, ToKeep } from '../work/backup-parts';
import type { Working } from '../work/worker-pool';

/** Stands in for the worker of backups: the test says what comes of it. */
export class QuietBackups {
  readonly kept: ToKeep[] = [];
  readonly chosen: string[][] = [];
  readonly keeping = new Subject<Working<Kept>>();
  readonly reading = new Subject<Working<Restored>>();

  keep(what: ToKeep): Subject<Working<Kept>> {
    this.kept.push(what);
    return this.keeping;
  }

  read(chosen: { name: string }[]): Subject<Working<Restored>> {
    this.chosen.push(chosen.map((c) => c.name));
    return this.reading;
  }
}
