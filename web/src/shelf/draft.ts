import { computed, signal, type Signal } from '@angular/core';
import { withValue } from '../ui/document-form';

/** A document being edited beside the one that is kept. */
export class Draft<D extends object> {
  private readonly edited;
  private readonly kept;
  /** The document as it stands in the form. */
  readonly now: Signal<D>;
  readonly before: Signal<D>;
  readonly dirty: Signal<boolean>;

  constructor(blank: D) {
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

  change(recipe: (document: D) => D): void {
    this.edited.update(recipe);
  }

  set(path: string, value: unknown): void {
    this.change((d) => withValue(d, path, value));
  }

  /** What is edited is now what is kept. */
  saved(): void {
    this.kept.set(this.edited());
  }
}
