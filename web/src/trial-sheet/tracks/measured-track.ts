import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { show } from '#core/base';
import type { Row } from '../sheet-model';
import { SheetFrame } from '../sheet-frame';
import { TrialDesk } from '../trial-desk';

/** What is measured of a quantity, cell by cell: its mean, and of how many. */
@Component({
  selector: 'st-measured-track',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (r of frame.rows(); track r.cell) {
      <button
        type="button"
        class="cell figures measured"
        [class.here]="frame.reads() && desk.cursor.spot().cell === r.cell"
        [style.top.px]="frame.y(r.top)"
        [style.height.px]="frame.y(r.bottom) - frame.y(r.top)"
        [style.left.%]="frame.mapped() ? r.left : null"
        [style.width.%]="frame.mapped() ? r.width : null"
        [attr.aria-label]="r.label + ', ' + measure().label + ': ' + (measured(r) || 'not measured')"
        tabindex="-1"
        (click)="desk.cursor.spot.set({ cell: r.cell, track: desk.cursor.spot().track })"
      >
        {{ measured(r) || '·' }}
      </button>
    }
  `,
  styleUrl: './track.css',
})
export class MeasuredTrack {
  protected readonly desk = inject(TrialDesk);
  protected readonly frame = inject(SheetFrame);
  readonly measure = input.required<{ id: string; label: string }>();

  protected measured(r: Row): string {
    const all = this.desk.bench.measuredAt(r.cell, this.measure().id);
    if (all.length === 0) return '';
    const mean = all.reduce((a, b) => a + b, 0) / all.length;
    return all.length > 1 ? `${show(mean, 2)} (${all.length})` : show(mean, 3);
  }
}
