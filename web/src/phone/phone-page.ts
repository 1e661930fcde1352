import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { toBase64 } from '#core/base';
import { levelColor } from '../ui/level-color';
import { Limit } from '../ui/limit';
import { PhoneBox } from './phone-box';
import { PhoneMeasures } from './phone-measures';
import { PhonePairs } from './phone-pairs';
import { PhoneScores } from './phone-scores';
import { PhoneSheet } from './phone-sheet';

const MOST_SIDE = 1600;

/** The reading view of the sheet open on the desk, for a phone at the printer. */
@Component({
  selector: 'st-phone-page',
  imports: [Limit, FormsModule, PhoneMeasures, PhonePairs, PhoneScores],
  providers: [PhoneBox, PhoneSheet],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="state" role="status" [class.waits]="box.waiting().length > 0">{{ line() }}</p>
    @if (box.refused(); as no) {
      <p class="wrong" role="alert">{{ no }}</p>
    }
    @if (box.homeless(); as one) {
      <p class="wrong" role="alert">
        {{ one.what }} waits: {{ one.why }}.
        <button type="button" class="drop" (click)="box.forget(one.id)">Do not say it any more</button>
      </p>
    }
    @if (sheet.record(); as r) {
      <h1>{{ r.trial.title }}</h1>
      @if (!sheet.print()) {
        <p>This trial is not printed yet. Once it is, it is read here.</p>
      } @else {
        @let t = sheet.track();
        @if (t && sheet.way() !== 'measures') {
          <select
            aria-label="What is read"
            [ngModel]="t.id"
            (ngModelChange)="sheet.spot.set({ cell: sheet.spot().cell, track: $event })"
          >
            @for (q of sheet.tracks(); track q.id) {
              <option [value]="q.id">{{ q.label }}</option>
            }
          </select>
        }
        @if (sheet.way() !== 'pairs') {
          <div class="rows" role="group" aria-label="Cells">
            @for (row of sheet.rows(); track row.cell) {
              <button
                type="button"
                [class.here]="row.cell === sheet.spot().cell"
                [attr.aria-pressed]="row.cell === sheet.spot().cell"
                [style.--level]="color(row.share)"
                (click)="sheet.spot.set({ cell: row.cell, track: sheet.spot().track })"
              >
                <b>{{ row.label }}</b>
                <span class="figures" [class.waits]="waits(row.cell)">{{ short(row.cell) }}</span>
              </button>
            }
          </div>
        }
        @if (sheet.ways().length > 1) {
          <div class="ways" role="group" aria-label="How it is read">
            @for (w of sheet.ways(); track w.id) {
              <button type="button" [attr.aria-pressed]="sheet.way() === w.id" (click)="sheet.chosen.set(w.id)">
                {{ w.words }}
              </button>
            }
          </div>
        }
        @switch (sheet.way()) {
          @case ('pairs') {
            <st-phone-pairs />
          }
          @case ('measures') {
            <st-phone-measures />
          }
          @default {
            <st-phone-scores />
          }
        }
        <div class="more">
          <input
            aria-label="Note"
            placeholder="note; Enter keeps it"
            [stLimit]="2000"
            #note
            (keydown.enter)="keepNote(note)"
          />
          <label class="photo"
            >Photo of the print
            <input
              type="file"
              accept="image/*"
              capture="environment"
              class="visually-hidden"
              (change)="photo($event, false)"
            />
          </label>
          <label class="photo"
            >Close-up of {{ here() }}
            <input
              type="file"
              accept="image/*"
              capture="environment"
              class="visually-hidden"
              (change)="photo($event, true)"
            />
          </label>
        </div>
        <p class="small">
          read by
          <input
            aria-label="Read by"
            [stLimit]="30"
            [ngModel]="sheet.judge()"
            (ngModelChange)="sheet.judge.set($event.trim() || 'me')"
          />
        </p>
      }
    } @else {
      <h1>Steady Tune</h1>
      <p>{{ empty() }}</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
      align-content: start;
      padding: 12px;
      max-width: 560px;
      margin: 0 auto;
    }
    h1 {
      font-size: 18px;
    }
    select,
    input {
      font: inherit;
      min-height: 44px;
      padding: 6px 10px;
      background: var(--well);
      color: inherit;
      border: 1px solid var(--line-strong);
      border-radius: 4px;
      min-width: 0;
    }
    .rows {
      display: grid;
      grid-template-columns: repeat(4, 1fr);
      gap: 6px;
    }
    .rows button,
    .photo {
      min-height: 48px;
      border: 1px solid var(--line-strong);
      border-radius: 6px;
      background: var(--well);
      color: inherit;
      font: inherit;
      font-size: 14px;
      cursor: pointer;
    }
    .rows button {
      border-left: 6px solid var(--level);
      padding: 4px;
    }
    .rows .here {
      outline: 3px solid var(--madder);
    }
    .rows span {
      display: block;
      font-size: 13px;
    }
    .more {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px;
    }
    .more input {
      grid-column: 1 / -1;
    }
    .ways {
      display: flex;
      gap: 6px;
    }
    .ways [aria-pressed='true'] {
      border-color: var(--madder);
      color: var(--madder);
      font-weight: 600;
    }
    .wrong::first-letter {
      text-transform: uppercase;
    }
    .photo {
      display: inline-flex;
      align-items: center;
      padding: 0 14px;
    }
    .state.waits {
      padding: 8px 10px;
      border: 1px solid var(--line-strong);
      border-radius: 6px;
      background: var(--well);
    }
    .figures.waits {
      font-style: italic;
      text-decoration: underline dotted;
    }
    .state:empty {
      display: none;
    }
    .ways button,
    .drop {
      flex: 1;
      min-height: 44px;
      border: 1px solid var(--line-strong);
      border-radius: 6px;
      background: none;
      color: inherit;
      font: inherit;
      font-size: 14px;
    }
  `,
})
export class PhonePage {
  protected readonly sheet = inject(PhoneSheet);
  protected readonly box = inject(PhoneBox);
  protected readonly state = signal('');
  /** How things stand between phone and desk, in one line. */
  protected readonly line = computed(() => {
    const n = this.box.waiting().length;
    const waits =
      n === 0 ? '' : `${n} ${n === 1 ? 'waits' : 'wait'} on this phone until the desk has ${n === 1 ? 'it' : 'them'}. `;
    const fragile = n > 0 && this.box.fragile() !== undefined ? 'Do not close this page before that. ' : '';
    const where =
      this.box.line() === 'down'
        ? 'The desk is out of reach; go on, it is said when it is there again.'
        : this.box.desks() === 0
          ? 'Steady Tune is closed on the desk; open it there.'
          : this.box.unread()
            ? 'The desk shows something newer; load this page anew.'
            : '';
    return `${waits}${fragile}${where || (n === 0 ? this.state() : '')}`.trim();
  });
  protected readonly empty = computed(() =>
    this.box.line() === 'down' ? '' : 'No trial is open on the desk. Open one there; it shows here by itself.',
  );
  protected readonly here = computed(
    () => this.sheet.rows().find((r) => r.cell === this.sheet.spot().cell)?.label ?? '',
  );
  constructor() {
    this.box.kept$
      .pipe(takeUntilDestroyed())
      .subscribe((said) => this.state.set(said.kind === 'photo' ? 'The photo is on the desk.' : 'Kept on the desk.'));
  }

  /** Whether something said of a cell is not on the desk yet. */
  protected waits(cell: number): boolean {
    return this.box
      .waiting()
      .some((s) => (s.kind === 'score' ? s.cells.includes(cell) : 'cell' in s && s.cell === cell));
  }

  /** What stands on a cell: its score on the track in hand, or its first quantity. */
  protected short(cell: number): string {
    if (this.sheet.way() === 'measures') return this.sheet.measured(cell, this.sheet.measures()[0]?.id ?? '') || '·';
    const value = this.sheet.readingOf(cell)?.value;
    return value === undefined ? '·' : value === 'broke' ? '✕' : value === 'cannot tell' ? '?' : String(value);
  }

  protected color(share: number): string {
    return levelColor(share);
  }

  protected keepNote(field: HTMLInputElement): void {
    const record = this.sheet.record();
    const track = this.sheet.track()?.id ?? this.sheet.measures()[0]?.id;
    if (!record || track === undefined) return;
    const { cell } = this.sheet.spot();
    const text = field.value;
    field.value = '';
    this.box.say({ kind: 'note', record: record.id, cell, track, text, judge: this.sheet.judge() });
  }

  protected async photo(event: Event, close: boolean): Promise<void> {
    const input = event.target as HTMLInputElement;
    const file = input.files?.[0];
    input.value = '';
    const record = this.sheet.record();
    if (!file || !record) return;
    this.state.set('making the photo small …');
    try {
      const bitmap = await createImageBitmap(file, { imageOrientation: 'from-image' });
      const scale = Math.min(1, MOST_SIDE / Math.max(bitmap.width, bitmap.height));
      const canvas = document.createElement('canvas');
      canvas.width = Math.max(1, Math.round(bitmap.width * scale));
      canvas.height = Math.max(1, Math.round(bitmap.height * scale));
      canvas.getContext('2d')!.drawImage(bitmap, 0, 0, canvas.width, canvas.height);
      const blob = await new Promise<Blob | null>((made) => canvas.toBlob(made, 'image/jpeg', 0.85));
      const data = toBase64(new Uint8Array(await blob!.arrayBuffer()));
      const cell = close ? { cell: this.sheet.spot().cell } : {};
      this.state.set('');
      this.box.say({ kind: 'photo', record: record.id, name: 'from the phone', data, ...cell });
    } catch {
      this.state.set('This picture cannot be read; take another.');
    }
  }
}
