import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { show, toBase64 } from '#core/base';
import { measuredFrom, readingAt, type Measure, type Reading } from '#core/judge';
import { answersFor, heard, inOrderOf, measuresOf, pairingOf, printOfCell, type TrialRecord } from '#core/route';
import { planned } from '#core/trial';
import { blinded, placeWords, readingWords, rowsOf, stepOn, tracksOf, type Spot } from '../trial-sheet/sheet-model';
import { levelColor } from '../ui/level-color';
import { Limit } from '../ui/limit';
import { PhoneBox } from './phone-box';

const MOST_SIDE = 1600;

/** The reading view of the sheet open on the desk, for a phone at the printer. */
@Component({
  selector: 'st-phone-page',
  imports: [Limit, FormsModule],
  providers: [PhoneBox],
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
    @if (record(); as r) {
      <h1>{{ r.trial.title }}</h1>
      @if (!print()) {
        <p>This trial is not printed yet. Once it is, it is read here.</p>
      } @else {
        @let t = track();
        @if (t && way() !== 'measures') {
          <select
            aria-label="What is read"
            [ngModel]="t.id"
            (ngModelChange)="spot.set({ cell: spot().cell, track: $event })"
          >
            @for (q of tracks(); track q.id) {
              <option [value]="q.id">{{ q.label }}</option>
            }
          </select>
        }
        @if (way() !== 'pairs') {
          <div class="rows" role="group" aria-label="Cells">
            @for (row of rows(); track row.cell) {
              <button
                type="button"
                [class.here]="row.cell === spot().cell"
                [attr.aria-pressed]="row.cell === spot().cell"
                [style.--level]="color(row.share)"
                (click)="spot.set({ cell: row.cell, track: spot().track })"
              >
                <b>{{ row.label }}</b>
                <span class="figures" [class.waits]="waits(row.cell)">{{ short(row.cell) }}</span>
              </button>
            }
          </div>
        }
        @if (ways().length > 1) {
          <div class="ways" role="group" aria-label="How it is read">
            @for (w of ways(); track w.id) {
              <button type="button" [attr.aria-pressed]="way() === w.id" (click)="chosen.set(w.id)">
                {{ w.words }}
              </button>
            }
          </div>
        }
        @switch (way()) {
          @case ('pairs') {
            @if (asked(); as pair) {
              <p class="look">Which is better on {{ t?.label }}? {{ t?.look }} {{ answered() }} answered.</p>
              <div class="pair">
                <button type="button" (click)="prefer('a')">
                  <b>{{ name(pair[0]) }}</b> {{ placeOf(pair[0]) }}
                </button>
                <button type="button" (click)="prefer('b')">
                  <b>{{ name(pair[1]) }}</b> {{ placeOf(pair[1]) }}
                </button>
                <button type="button" class="tie" (click)="prefer('tie')">no difference</button>
              </div>
            } @else {
              <p role="status">The order on {{ t?.label }} is known, by {{ answered() }} answers; the desk shows it.</p>
            }
          }
          @case ('measures') {
            @for (m of measures(); track m.id) {
              <div class="measure">
                <label [for]="'m-' + m.id"
                  >{{ m.label }}{{ m.unit ? ', ' + m.unit : '' }}
                  <i class="figures">{{ measured(spot().cell, m.id) }}</i></label
                >
                <input
                  [id]="'m-' + m.id"
                  [attr.inputmode]="m.unit === 'yes/no' ? 'text' : 'decimal'"
                  autocomplete="off"
                  enterkeyhint="done"
                  #figure
                  (keydown.enter)="measure(m, figure)"
                  (change)="measure(m, figure)"
                />
                <button type="button" [attr.aria-label]="'Add ' + m.label" (click)="measure(m, figure)">Add</button>
                <span class="how">{{ m.how }}</span>
              </div>
            }
            @if (problem(); as p) {
              <p class="wrong" role="alert">{{ p }}</p>
            }
          }
          @default {
            <p class="look">{{ t?.look }}</p>
            <div class="scores" role="group" [attr.aria-label]="t?.label">
              @for (a of t?.anchors; track $index) {
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
            [ngModel]="judge()"
            (ngModelChange)="judge.set($event.trim() || 'me')"
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
    .scores button,
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
    .ways button,
    .drop,
    .pair button {
      flex: 1;
      min-height: 44px;
      border: 1px solid var(--line-strong);
      border-radius: 6px;
      background: none;
      color: inherit;
      font: inherit;
      font-size: 14px;
    }
    .ways [aria-pressed='true'] {
      border-color: var(--madder);
      color: var(--madder);
      font-weight: 600;
    }
    .wrong::first-letter {
      text-transform: uppercase;
    }
    .pair {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px;
    }
    .pair button {
      min-height: 84px;
      background: var(--well);
    }
    .pair b {
      display: block;
      font-size: 20px;
    }
    .pair .tie {
      grid-column: 1 / -1;
      min-height: 48px;
    }
    .measure {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 84px;
      gap: 4px 8px;
      font-size: 14px;
    }
    .measure label,
    .measure .how {
      grid-column: 1 / -1;
    }
    .measure .how {
      font-size: 13px;
      color: var(--ink-soft);
    }
    .measure button {
      border: 1px solid var(--line-strong);
      border-radius: 6px;
      background: var(--well);
      color: inherit;
      font: inherit;
    }
    .measure i {
      color: var(--ink-soft);
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
    .state:empty,
    .said:empty {
      display: none;
    }
  `,
})
export class PhonePage {
  protected readonly box = inject(PhoneBox);
  /** The sheet as the desk shows it. */
  private readonly shown = signal<{ record: TrialRecord; heard: readonly string[] } | undefined>(undefined);
  /** The sheet with what was said here and is not on the desk yet. */
  protected readonly record = computed(() => {
    const shown = this.shown();
    if (!shown) return undefined;
    return this.box.waiting().reduce((record, said) => {
      if (said.kind === 'photo' || said.record !== record.id || shown.heard.includes(said.id)) return record;
      const next = heard(record, said);
      return next.ok ? next.value.record : record;
    }, shown.record);
  });
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
  protected readonly spot = signal<Spot>({ cell: 0, track: '' });
  protected readonly judge = signal('me');
  private readonly plan = computed(() => {
    const r = this.record();
    const result = r && planned(r.trial);
    return result?.ok ? result.value : undefined;
  });
  /** Scores, pairs, or what is measured. */
  protected readonly chosen = signal<'scores' | 'pairs' | 'measures'>('scores');
  /** The one chosen; what is only measured has no scores. */
  protected readonly way = computed(() => {
    const ways = this.ways();
    return (ways.find((w) => w.id === this.chosen()) ?? ways[0])?.id ?? 'scores';
  });
  protected readonly problem = signal<string | undefined>(undefined);
  protected readonly rows = computed(() => {
    const plan = this.plan();
    const confirming = this.record()?.confirms !== undefined && this.record()?.settledOn === undefined;
    const rows = plan ? rowsOf(plan) : [];
    return confirming || this.chosen() === 'pairs' ? blinded(rows) : rows;
  });
  protected readonly measures = computed(() => {
    const record = this.record();
    return record ? measuresOf(record) : [];
  });
  protected readonly ways = computed(() => [
    ...(this.tracks().length > 0 ? [{ id: 'scores' as const, words: 'scores' }] : []),
    ...(this.tracks().length > 0 && this.cells().length > 2
      ? [{ id: 'pairs' as const, words: 'which is better?' }]
      : []),
    ...(this.measures().length > 0 ? [{ id: 'measures' as const, words: 'measured' }] : []),
  ]);
  private readonly pairing = computed(() => {
    const plan = this.plan();
    const track = this.track()?.id;
    return plan && track !== undefined && this.way() === 'pairs'
      ? pairingOf(plan, this.record()?.pairs, track, this.judge())
      : undefined;
  });
  protected readonly answered = computed(() => this.pairing()?.answers.length ?? 0);
  protected readonly asked = computed(() => {
    const pairing = this.pairing();
    return pairing && pairing.answers.length < answersFor(pairing) ? pairing.next() : undefined;
  });
  protected readonly here = computed(() => this.rows().find((r) => r.cell === this.spot().cell)?.label ?? '');
  protected readonly tracks = computed(() => {
    const plan = this.plan();
    return plan ? tracksOf(plan) : [];
  });
  protected readonly track = computed(() => this.tracks().find((t) => t.id === this.spot().track) ?? this.tracks()[0]);
  private readonly cells = computed(() => this.plan()?.cells ?? []);
  protected readonly print = computed(() => this.record()?.prints.at(-1));
  protected readonly now = computed(() => this.readingOf(this.spot().cell));
  protected readonly words = computed(() => {
    const t = this.track();
    return t ? readingWords(t, this.now()) : '';
  });

  constructor() {
    this.box.sheet$.pipe(takeUntilDestroyed()).subscribe((sheet) => {
      if (sheet.kind === 'steady-tune/no-sheet') {
        this.shown.set(undefined);
        return;
      }
      const other = this.shown()?.record.id !== sheet.record.id;
      this.shown.set(sheet);
      const first = this.rows()[0];
      if (other && first) this.spot.set({ cell: first.cell, track: this.tracks()[0]?.id ?? '' });
    });
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

  private printOf(cell: number): string | undefined {
    const record = this.record();
    return record && printOfCell(record, this.cells(), cell)?.id;
  }

  private readingOf(cell: number): Reading | undefined {
    const own = this.record()?.readings.filter((r) => r.judge === this.judge()) ?? [];
    const print = this.printOf(cell);
    return print === undefined ? undefined : readingAt(own, print, cell, this.track()?.id ?? '');
  }

  /** What stands on a cell: its score on the track in hand, or its first quantity. */
  protected short(cell: number): string {
    if (this.way() === 'measures') return this.measured(cell, this.measures()[0]?.id ?? '') || '·';
    const value = this.readingOf(cell)?.value;
    return value === undefined ? '·' : value === 'broke' ? '✕' : value === 'cannot tell' ? '?' : String(value);
  }

  protected color(share: number): string {
    return levelColor(share);
  }

  protected say(value: Reading['value'] | null): void {
    const record = this.record();
    const track = this.track();
    if (!record || !track) return;
    const { cell } = this.spot();
    this.box.say({ kind: 'score', record: record.id, cells: [cell], track: track.id, value, judge: this.judge() });
    if (value !== null) this.spot.set(stepOn(this.rows(), this.tracks(), { cell, track: track.id }));
  }

  private cellAt(place: number): number {
    const plan = this.plan();
    return (plan ? inOrderOf(plan) : [])[place]?.id ?? -1;
  }

  protected name(place: number): string {
    return this.rows().find((r) => r.cell === this.cellAt(place))?.label ?? '';
  }

  protected placeOf(place: number): string {
    return placeWords(this.rows(), this.cellAt(place), this.record()?.trial.axes[0]?.along);
  }

  protected prefer(result: 'a' | 'b' | 'tie'): void {
    const [record, track, pair] = [this.record(), this.track(), this.asked()];
    if (!record || !track || !pair) return;
    const [a, b] = pair.map((place) => this.cellAt(place)) as [number, number];
    this.box.say({ kind: 'pair', record: record.id, track: track.id, a, b, result, judge: this.judge() });
  }

  protected measured(cell: number, track: string): string {
    const print = this.printOf(cell);
    const own = (this.record()?.readings ?? []).filter(
      (r) => r.track === track && r.print === print && r.cells.includes(cell),
    );
    return own.map((r) => (typeof r.value === 'number' ? show(r.value, 3) : r.value)).join(', ');
  }

  protected measure(m: Measure, field: HTMLInputElement): void {
    const record = this.record();
    if (!record || field.value.trim() === '') return;
    const parsed = measuredFrom(field.value, m);
    this.problem.set(parsed.ok ? undefined : parsed.faults.map((f) => `${f.wrong}; ${f.right}`).join(' '));
    if (!parsed.ok) return;
    const { cell } = this.spot();
    field.value = '';
    this.box.say({ kind: 'measure', record: record.id, cell, track: m.id, value: parsed.value });
  }

  protected keepNote(field: HTMLInputElement): void {
    const record = this.record();
    const track = this.track()?.id ?? this.measures()[0]?.id;
    if (!record || track === undefined) return;
    const { cell } = this.spot();
    const text = field.value;
    field.value = '';
    this.box.say({ kind: 'note', record: record.id, cell, track, text, judge: this.judge() });
  }

  protected async photo(event: Event, close: boolean): Promise<void> {
    const input = event.target as HTMLInputElement;
    const file = input.files?.[0];
    input.value = '';
    const record = this.record();
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
      const cell = close ? { cell: this.spot().cell } : {};
      this.state.set('');
      this.box.say({ kind: 'photo', record: record.id, name: 'from the phone', data, ...cell });
    } catch {
      this.state.set('This picture cannot be read; take another.');
    }
  }
}
