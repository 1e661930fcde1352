import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { Shelf } from '../data/documents';
import { Keeper } from '../data/keeper';
import { Waste } from '../data/waste';

/** Takes a document away, where nothing rests on it; else its title says what does. */
@Component({
  selector: 'st-remove-button',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button
      type="button"
      class="act bare small"
      [attr.aria-label]="'Remove ' + name()"
      [attr.aria-disabled]="!!stays()"
      [title]="stays() ? 'It stays: ' + stays() : 'Remove it; it can be put back'"
      (click)="waste.take(shelf(), id())"
    >
      <i class="pi pi-trash" aria-hidden="true"></i>
    </button>
  `,
  styles: `
    button {
      color: var(--ink-soft);
    }
    button[aria-disabled='true'] {
      opacity: 0.35;
      cursor: default;
    }
  `,
})
export class RemoveButton {
  readonly shelf = input.required<Shelf>();
  readonly id = input.required<string>();
  readonly name = input.required<string>();
  protected readonly waste = inject(Waste);
  private readonly keeper = inject(Keeper);
  protected readonly stays = computed(() => {
    this.keeper.documents();
    return this.waste.staysFor(this.shelf(), this.id());
  });
}
