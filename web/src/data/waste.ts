import { inject, Injectable, signal } from '@angular/core';
import { nothing, type Documents, type Shelf } from './documents';
import { shelves } from '#core/route';
import { Keeper } from './keeper';

/** What was taken away last, with the words that name it. */
export interface Taken extends Documents {
  words: string;
}

const KEY = 'waste';

/** Takes documents away; what was taken last can be put back, after a reload too. */
@Injectable({ providedIn: 'root' })
export class Waste {
  private readonly keeper = inject(Keeper);
  readonly last = signal<Taken | undefined>(undefined);

  /** Whether something was taken or put back since: what is read late must not come over it. */
  private touched = false;

  constructor() {
    // A restored backup has nothing to do with what was taken away before it.
    this.keeper.replaced$.subscribe(() => {
      this.touched = true;
      this.last.set(undefined);
    });
    void this.keeper.recall(KEY).then((kept) => {
      // Written by this service alone, but perhaps by an older one.
      const taken = kept as Partial<Taken> | undefined;
      if (typeof taken?.words === 'string' && !this.touched)
        this.last.set({ ...nothing, ...taken, words: taken.words });
    });
  }

  /** Why a document has to stay; undefined where it can go. */
  staysFor(shelf: Shelf, id: string): string | undefined {
    const { pairs } = this.keeper.documents();
    if (shelf === 'records')
      return pairs.some((p) => p.values.some((v) => v.trial === id)) ? 'its value stands on the tune sheet' : undefined;
    if (shelf === 'pairs') return undefined;
    const user = pairs.find((p) =>
      shelf === 'printers' ? p.printer === id : p.filament === id || p.others?.includes(id),
    );
    return user && `the pair ${this.keeper.labelOf(user)} uses it`;
  }

  /** Takes a document away; a pair takes its trials along. */
  take(shelf: Shelf, id: string): void {
    const document = this.keeper.find(shelf, id);
    if (!document || this.staysFor(shelf, id)) return;
    const records =
      shelf === 'pairs' ? this.keeper.documents().records.filter((r) => r.pair === id) : ([] as Documents['records']);
    const trials = records.length === 1 ? '1 trial' : `${records.length} trials`;
    const words =
      'trial' in document
        ? document.trial.title
        : 'baseline' in document
          ? `${this.keeper.labelOf(document)}${records.length > 0 ? `, with ${trials}` : ''}`
          : document.name;
    const taken: Taken = { ...nothing, records, [shelf]: [document], words };
    const gone = { ...(records.length > 0 && { records: records.map((r) => r.id) }), [shelf]: [id] };
    if (this.keeper.removeAll(gone, KEY, taken)) {
      this.touched = true;
      this.last.set(taken);
    }
  }

  putBack(): void {
    const taken = this.last();
    if (!taken) return;
    // What it belonged to may be gone meanwhile: then it stays here, and the reason is said.
    const back = shelves.every((shelf) =>
      taken[shelf].every((d) => this.keeper.find(shelf, d.id) !== undefined || this.keeper.save(shelf, d)),
    );
    if (back) this.forget();
  }

  forget(): void {
    this.remember(undefined);
  }

  private remember(taken: Taken | undefined): void {
    this.touched = true;
    this.last.set(taken);
    this.keeper.meta(KEY, taken);
  }
}
