import { computed, inject, Injectable, signal } from '@angular/core';
import type { Context } from '#core/context';
import type { Inspection } from '#core/inspect';
import { Keeper } from '../data/keeper';
import type { TrialDesk } from '../trial-sheet/trial-desk';

/** What the toolpath drawer asks of the desk. */
type Seen = Pick<TrialDesk, 'made' | 'rows' | 'spot' | 'plan' | 'inspection' | 'record'>;

/** A desk with one file of other origin on it, for the toolpath drawer: no cells, no plan, the file itself. */
@Injectable()
export class FileDesk {
  private readonly keeper = inject(Keeper);
  private readonly file = signal<Blob | undefined>(undefined);
  private readonly known = signal<{ inspection: Inspection; context: Context } | undefined>(undefined);

  readonly inspection = computed(() => this.known()?.inspection);
  readonly made = computed(() => {
    const [bytes, known] = [this.file(), this.known()];
    return bytes && known
      ? ({ bytes, inspection: known.inspection } as unknown as ReturnType<Seen['made']>)
      : undefined;
  });
  readonly rows = computed((): ReturnType<Seen['rows']> => []);
  readonly spot = computed(() => ({ cell: -1, track: '' }) as unknown as ReturnType<Seen['spot']>);
  readonly plan = computed((): ReturnType<Seen['plan']> => undefined);
  readonly record = computed(
    () => ({ trial: { context: this.known()?.context } }) as unknown as ReturnType<Seen['record']>,
  );

  /** Lays a file on the desk. */
  async lay(hash: string, inspection: Inspection, context: Context): Promise<void> {
    this.file.set(await this.keeper.file(hash));
    this.known.set({ inspection, context });
  }
}
