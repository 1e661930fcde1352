import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { PhotoStrips } from '../photo-strips';
import { SheetFrame } from '../sheet-frame';
import { TrialDesk } from '../trial-desk';

/** The photo of the print, straightened and cut into cells. */
@Component({
  selector: 'st-photo-track',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (r of frame.rows(); track r.cell) {
      <div
        class="cell"
        [class.lit]="desk.cursor.pointed() === r.cell"
        [style.top.px]="frame.y(r.top)"
        [style.height.px]="frame.y(r.bottom) - frame.y(r.top)"
        [style.left.%]="frame.mapped() ? r.left : null"
        [style.width.%]="frame.mapped() ? r.width : null"
        (pointerenter)="desk.cursor.pointed.set(r.cell)"
        (pointerleave)="desk.cursor.pointed.set(undefined)"
      >
        @if (strips.strips().get(r.cell); as strip) {
          <img [src]="strip" [alt]="'photo of ' + r.label" />
        }
      </div>
    }
  `,
  styleUrl: './track.css',
  styles: `
    img {
      width: 100%;
      height: 100%;
      object-fit: cover;
      display: block;
    }
  `,
})
export class PhotoTrack {
  protected readonly desk = inject(TrialDesk);
  protected readonly frame = inject(SheetFrame);
  protected readonly strips = inject(PhotoStrips);
}
