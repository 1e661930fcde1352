import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { readingWords, stepOn } from '../trial-sheet/sheet-model';
import type { Reading } from '#core/judge';
import { PhoneBox } from './phone-box';
import { PhoneSheet } from './phone-sheet';

/** The score of the cell in hand, by its anchors. */
@Component({
  selector: 'st-phone-scores',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="look">{{ sheet.track()?.look }}</p>
    <div class="scores" role="group" [attr.aria-label]="sheet.track()?.label">
      @for (a of sheet.track()?.anchors; track $index) {
        <button type="button" [class.on]="now()?.value === $index" (click)="say($index)">
          <b>{{ $index }}</b> {{ a }}
        </button>
      }
      <button type="button" [class.on]="now()?.value === 'broke'" (click)="say('broke')">broke</button>
      <button type="button" [class.on]="now()?.value === 'cannot tell'" (click)="say('cannot tell')">
        cannot tell
      </button>
      <button type="button" (click)="say(null)">clear</button>
    </div>
    <p class="said">{{ words() }}</p>
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    button {
      min-height: 48px;
      border: 1px solid var(--line-strong);
      border-radius: 6px;
      background: var(--well);
      color: inherit;
      font: inherit;
      font-size: 14px;
      cursor: pointer;
    }
    .scores {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 6px;
    }
    .scores .on {
      background: var(--madder);
      color: var(--on-madder);
    }
    .look {
      font-style: italic;
      font-size: 14px;
    }
    .said:empty {
      display: none;
    }
  `,
})
export class PhoneScores {
  protected readonly sheet = inject(PhoneSheet);
  private readonly box = inject(PhoneBox);
  protected readonly now = computed(() => this.sheet.readingOf(this.sheet.spot().cell));
  protected readonly words = computed(() => {
    const t = this.sheet.track();
    return t ? readingWords(t, this.now()) : '';
  });

  protected say(value: Reading['value'] | null): void {
    const record = this.sheet.record();
    const track = this.sheet.track();
    if (!record || !track) return;
    const { cell } = this.sheet.spot();
    this.box.say({
      kind: 'score',
      record: record.id,
      cells: [cell],
      track: track.id,
      value,
      judge: this.sheet.judge(),
    });
    if (value !== null) this.sheet.spot.set(stepOn(this.sheet.rows(), this.sheet.tracks(), { cell, track: track.id }));
  }
}
