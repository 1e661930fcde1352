import { computed, effect, inject, signal, untracked, type Signal } from '@angular/core';
import { Keeper } from '../data/keeper';
import { withValue } from '../ui/document-form';

/** A document being edited beside the one that is kept. */
export class Draft<D extends object> {
  private readonly edited;
  private readonly kept;
  /** The document as it stands in the form. */
  readonly now: Signal<D>;
  readonly before: Signal<D>;
  readonly dirty: Signal<boolean>;

  /** @param keep hears every edit, and nothing once there is none */
  constructor(
    blank: D,
    private readonly keep: (document: D | undefined) => void = () => undefined,
  ) {
    this.edited = signal(blank);
    this.kept = signal(blank);
    this.now = this.edited.asReadonly();
    this.before = this.kept.asReadonly();
    this.dirty = computed(() => this.edited() !== this.kept());
  }

  /** Takes another document, unless that would lose edits. */
  load(document: D): void {
    if (this.dirty()) return;
    this.edited.set(document);
    this.kept.set(document);
  }

  /** Begins with another document, whatever was edited. */
  open(document: D): void {
    this.kept.set(document);
    this.edited.set(document);
  }

  /** Goes on with edits of before. */
  resume(document: D): void {
    if (!this.dirty()) this.edited.set(document);
  }

  change(recipe: (document: D) => D): void {
    this.edited.update(recipe);
    this.keep(this.edited());
  }

  set(path: string, value: unknown): void {
    this.change((d) => withValue(d, path, value));
  }

  /** What is edited is now what is kept. */
  saved(): void {
    this.kept.set(this.edited());
    this.keep(undefined);
  }

  /** Takes all edits back. */
  discard(): void {
    this.edited.set(this.kept());
    this.keep(undefined);
  }
}

/** A draft of a document on the shelf: edits survive leaving the page and reloading it. */
export interface ShelfDraft<D extends object> {
  draft: Draft<D>;
  /** Whether edits of before are shown, which were never saved. */
  resumed: Signal<boolean>;
}

/**
 * The draft of the document whose id is given (`new` for one that is not there yet).
 * Built where effects may be (in an injection context).
 *
 * @param fresh makes a blank document
 */
export function draftOnShelf<D extends { id: string; kind: string }>(
  shelf: 'printers' | 'filaments',
  id: Signal<string>,
  fresh: () => D,
): ShelfDraft<D> {
  const keeper = inject(Keeper);
  const key = () => `draft/${shelf}/${id()}`;
  const resumed = signal(false);
  const draft = new Draft<D>(fresh(), (document) => {
    if (document === undefined) resumed.set(false);
    keeper.meta(key(), document);
  });
  let shown: string | undefined;
  effect(() => {
    const now = id();
    const stored = keeper.find(shelf, now) as unknown as D | undefined;
    untracked(() => {
      if (now === shown) {
        if (stored) draft.load(stored);
        return;
      }
      shown = now;
      resumed.set(false);
      draft.open(stored ?? fresh());
      void keeper.recall(key()).then((edits) => {
        const was = edits as D | undefined;
        if (now !== id() || was?.kind !== draft.now().kind || (now !== 'new' && was.id !== now)) return;
        draft.resume(was);
        resumed.set(draft.dirty());
      });
    });
  });
  return { draft, resumed: resumed.asReadonly() };
}
