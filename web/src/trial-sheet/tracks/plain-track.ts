import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import type { PlainTrack } from '../plain-tracks';
import { SheetFrame } from '../sheet-frame';
import { TrialDesk } from '../trial-desk';

/** What stands in words or figures for each cell: planned, in the file, reached, times. */
@Component({
  selector: 'st-plain-track',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (r of track().mapped ? frame.rows() : frame.firstOfRows(); track r.cell) {
      <div
        class="cell figures"
        [class.lit]="desk.cursor.pointed() === r.cell"
        [class.differs]="track().wrong?.(r)"
        [class.doubtful]="track().doubtful?.(r)"
        [style.top.px]="frame.y(r.top)"
        [style.height.px]="frame.y(r.bottom) - frame.y(r.top)"
        [style.left.%]="track().mapped ? r.left : null"
        [style.width.%]="track().mapped ? r.width : null"
        [style.right]="track().mapped ? 'auto' : null"
        [style.--level]="track().id === 'planned' ? frame.color(r) : null"
        [class.tinted]="track().id === 'planned'"
        (pointerenter)="desk.cursor.pointed.set(r.cell)"
        (pointerleave)="desk.cursor.pointed.set(undefined)"
      >
        @if (track().bar; as bar) {
          <span class="bar" [style.width.%]="bar(r)"></span>
        }
        <span>{{ track().text(r) }}</span>
        @if (track().id === 'planned' && frame.judged() && desk.scores.cellNoteAt(r.cell); as note) {
          <span class="noted" [title]="note">✎</span>
        }
      </div>
    }
  `,
  styleUrl: './track.css',
})
export class PlainTrackCells {
  protected readonly desk = inject(TrialDesk);
  protected readonly frame = inject(SheetFrame);
  readonly track = input.required<PlainTrack>();
}
