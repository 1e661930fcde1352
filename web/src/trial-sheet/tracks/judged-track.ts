import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import type { Quality } from '#core/judge';
import { readingWords, type Row } from '../sheet-model';
import { SheetFrame } from '../sheet-frame';
import { TrialDesk } from '../trial-desk';

/** What is scored of a quality, cell by cell; a score is picked, a band dragged. */
@Component({
  selector: 'st-judged-track',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      class="grid"
      [attr.height]="frame.height()"
      width="100%"
      aria-hidden="true"
      preserveAspectRatio="none"
      viewBox="0 0 100 100"
    >
      @if (!frame.mapped()) {
        @for (s of scale; track s) {
          <path [attr.d]="'M' + frame.at(s) + ' 0V100'" vector-effect="non-scaling-stroke" />
        }
      }
      @if (!frame.mapped()) {
        <path class="thread" [attr.d]="thread()" vector-effect="non-scaling-stroke" />
      }
    </svg>
    @for (r of frame.rows(); track r.cell) {
      <button
        type="button"
        class="cell score"
        [class.lit]="desk.cursor.pointed() === r.cell"
        [class.here]="frame.reads() && desk.cursor.spot().cell === r.cell && desk.cursor.spot().track === quality().id"
        [class.banded]="
          frame.reads() && desk.cursor.spot().track === quality().id && desk.cursor.band().includes(r.cell)
        "
        (pointerdown)="dragFrom(r, $event)"
        [style.top.px]="frame.y(r.top)"
        [style.height.px]="frame.y(r.bottom) - frame.y(r.top)"
        [style.left.%]="frame.mapped() ? r.left : null"
        [style.width.%]="frame.mapped() ? r.width : null"
        [style.right]="frame.mapped() ? 'auto' : null"
        [class.heat]="frame.mapped()"
        [class.dark]="frame.mapped() && inkOf(r) > 0.6"
        [style.--ink-share]="frame.mapped() ? inkOf(r) : null"
        [attr.aria-label]="r.label + ', ' + quality().label + ': ' + words(r)"
        [attr.aria-current]="
          frame.reads() && desk.cursor.spot().cell === r.cell && desk.cursor.spot().track === quality().id
            ? 'true'
            : null
        "
        [attr.data-cell]="r.cell"
        [attr.data-track]="quality().id"
        tabindex="-1"
        (click)="pick(r)"
        (pointerenter)="desk.cursor.pointed.set(r.cell); dragOver(r, $event)"
        (pointerleave)="desk.cursor.pointed.set(undefined)"
      >
        @if (value(r); as v) {
          @if (frame.mapped()) {
            <span class="figure figures">{{ v.kind === 'score' ? v.score : v.kind === 'broke' ? '✕' : '?' }}</span>
          } @else if (v.kind === 'score') {
            <span class="dot" [style.left.%]="frame.at(v.score)" [style.background]="frame.color(r)"></span>
          } @else if (v.kind === 'broke') {
            <span class="broke" [style.left.%]="frame.at(0)">✕</span>
          } @else {
            <span class="untold" [style.left.%]="50">?</span>
          }
          @if (v.note) {
            <span class="noted" title="there is a note">✎</span>
          }
        }
      </button>
    }
  `,
  styleUrl: './track.css',
})
export class JudgedTrack {
  protected readonly desk = inject(TrialDesk);
  protected readonly frame = inject(SheetFrame);
  readonly quality = input.required<Quality>();
  protected readonly scale = [0, 1, 2, 3, 4];

  /** How dark a cell of a map is: the better, the lighter. */
  protected inkOf(r: Row): number {
    const v = this.desk.scores.readingAt(r.cell, this.quality().id)?.value;
    return v === 'broke' ? 1 : typeof v === 'number' ? 1 - v / 4 : 0;
  }

  protected value(r: Row): { kind: 'score' | 'broke' | 'untold'; score: number; note: boolean } | undefined {
    const reading = this.desk.scores.readingAt(r.cell, this.quality().id);
    if (!reading) return undefined;
    const kind = typeof reading.value === 'number' ? 'score' : reading.value === 'broke' ? 'broke' : 'untold';
    return { kind, score: typeof reading.value === 'number' ? reading.value : 0, note: reading.note !== undefined };
  }

  protected words(r: Row): string {
    return readingWords(this.quality(), this.desk.scores.readingAt(r.cell, this.quality().id));
  }

  /** The line that joins the scores of a track, in percent of its box. */
  protected thread(): string {
    const points = this.frame.rows().flatMap((r) => {
      const v = this.desk.scores.readingAt(r.cell, this.quality().id)?.value;
      return typeof v === 'number'
        ? [`${this.frame.at(v)} ${(100 * this.frame.y((r.bottom + r.top) / 2)) / Math.max(1, this.frame.height())}`]
        : [];
    });
    return points.length > 1 ? `M${points.join('L')}` : '';
  }

  private dragged: { cell: number; track: string } | undefined;
  protected dragFrom(r: Row, event: PointerEvent): void {
    this.dragged = this.frame.reads() && event.button === 0 ? { cell: r.cell, track: this.quality().id } : undefined;
    // A touch would hold on to the first cell.
    (event.target as HTMLElement).releasePointerCapture?.(event.pointerId);
  }

  /** A band is dragged over the cells of one track. */
  protected dragOver(r: Row, event: PointerEvent): void {
    const from = this.dragged;
    if (!from || event.buttons !== 1 || from.track !== this.quality().id || from.cell === r.cell) return;
    const cells = this.frame.rows().map((row) => row.cell);
    const [i, j] = [cells.indexOf(from.cell), cells.indexOf(r.cell)].sort((a, b) => a - b) as [number, number];
    this.desk.cursor.spot.set(from);
    this.desk.cursor.band.set(cells.slice(i, j + 1));
  }

  protected pick(r: Row): void {
    if (this.desk.cursor.band().length > 1 && this.desk.cursor.band().includes(r.cell)) return;
    this.desk.cursor.band.set([]);
    this.desk.cursor.spot.set({ cell: r.cell, track: this.quality().id });
    if (this.desk.stage() === 'settle') this.desk.go('read');
  }
}
