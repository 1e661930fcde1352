import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { Waste } from '../data/waste';

/** Says what was taken away last, with the way to put it back. */
@Component({
  selector: 'st-waste-note',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (waste.last(); as taken) {
      <p role="status">
        Removed: <b>{{ taken.words }}</b>
        <button type="button" class="act small" (click)="waste.putBack()">Put it back</button>
        <button type="button" class="act bare small" aria-label="Close this note" (click)="waste.forget()">
          <i class="pi pi-times" aria-hidden="true"></i>
        </button>
      </p>
    }
  `,
  styles: `
    p {
      display: flex;
      gap: 10px;
      align-items: center;
      flex-wrap: wrap;
      padding: 6px 12px;
      border-left: 3px solid var(--line-strong);
      background: var(--sheet);
    }
  `,
})
export class WasteNote {
  protected readonly waste = inject(Waste);
}
