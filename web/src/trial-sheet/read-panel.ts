import type { ElementRef } from '@angular/core';
import {
  ChangeDetectionStrategy,
  ChangeDetectorRef,
  Component,
  computed,
  inject,
  output,
  signal,
  viewChild,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { Select } from 'primeng/select';
import { InputText } from 'primeng/inputtext';
import { show } from '#core/base';
import { agreements } from '#core/judge';
import { valueWords } from '#core/route';
import { firstSaid } from '#core/settle';
import { CaliperBox } from './caliper-box';
import { HandBox } from './hand-box';
import { MeasurePanel } from './measure-panel';
import { PairPanel } from './pair-panel';
import { PieceBox } from './piece-box';
import { readingWords } from './sheet-model';
import { TrialDesk } from './trial-desk';
import { Limit } from '../ui/limit';

/** Read: the quality in hand with its anchors, the keys, and the caliper. */
@Component({
  selector: 'st-read-panel',
  imports: [Limit, FormsModule, InputText, CaliperBox, HandBox, MeasurePanel, PairPanel, PieceBox, Select, Checkbox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (!desk.printed()) {
      <div class="empty">
        <p>There is nothing to read yet: this trial has not been printed.</p>
        <button type="button" class="act" (click)="desk.go('print')">Go to Print</button>
      </div>
    } @else {
      @if (desk.unnoted(); as u) {
        <p class="unnoted" role="alert">
          Print {{ u.index + 1 }} is not noted as printed yet, so what you said of it waits.
          <button type="button" class="act main" (click)="desk.noteUnnoted()">It is printed: keep it</button>
          <button type="button" class="act" (click)="desk.unnoted.set(undefined)">Leave it out</button>
        </p>
      }
      @if (desk.pairing(); as on) {
        <st-pair-panel [track]="on" />
      } @else if (track(); as t) {
        <section class="read" [attr.aria-label]="'Reading ' + t.label">
          <p class="where">
            <b>{{ what() }} {{ row()?.number }} of {{ desk.rows().length }} · {{ row()?.label }}</b>
            <span class="soft figures">{{ heights() }}</span>
            <span class="said" role="status">{{ said() }}</span>
          </p>
          <div class="scores" role="group" [attr.aria-label]="t.label + ', ' + row()?.label">
            <span class="track">{{ t.label }}</span>
            @for (a of t.anchors; track $index) {
              <button
                type="button"
                class="score"
                [class.on]="now() === $index"
                [attr.aria-pressed]="now() === $index"
                (click)="desk.scores.say($index)"
              >
                <kbd>{{ $index }}</kbd> {{ a }}
              </button>
            }
          </div>
          <p class="keys">
            <span><kbd>↑</kbd> <kbd>↓</kbd> {{ what().toLowerCase() }}</span
            ><span><kbd>←</kbd> <kbd>→</kbd> {{ desk.columns() ? 'along the row' : 'track' }}</span>
            <button type="button" (click)="desk.scores.say('broke')"><kbd>X</kbd> broke</button>
            <button type="button" (click)="desk.scores.say('cannot tell')"><kbd>?</kbd> cannot tell</button>
            <button type="button" (click)="openNote()"><kbd>N</kbd> note</button>
            <button type="button" (click)="closeUp.click()"><kbd>P</kbd> close-up</button>
            <input
              #closeUp
              type="file"
              accept="image/*"
              capture="environment"
              class="visually-hidden"
              tabindex="-1"
              [attr.aria-label]="'Close-up of ' + row()?.label"
              (change)="addCloseUp(closeUp)"
            />
            <button type="button" (click)="desk.scores.clear()"><kbd>⌫</kbd> clear</button>
            <span><kbd>⇧</kbd> <kbd>↑</kbd> a band</span>
            @if (reading(); as r) {
              @if (r.excluded) {
                <button type="button" (click)="desk.scores.include()">count it again</button>
              } @else {
                <button type="button" (click)="leaving.set(true)">leave it out …</button>
              }
            }
            <span class="look">{{ t.look }} {{ side() }}</span>
          </p>
          @if (desk.cursor.band().length > 1) {
            <p class="small" role="status">The next score is for {{ desk.cursor.band().length }} cells together.</p>
          }
          @if (reading()?.excluded; as why) {
            <p class="small soft">Left out: {{ why }}</p>
          }
          @if (leaving()) {
            <p class="noting">
              <input
                #why
                pInputText
                [stLimit]="300"
                aria-label="Why this score does not count"
                placeholder="why this score does not count; Enter keeps it"
                (keydown.enter)="leaveOut(why.value)"
                (keydown.escape)="leaving.set(false)"
              />
            </p>
          }
          <p class="who">
            <label for="judge">read by</label>
            <input
              pInputText
              id="judge"
              [stLimit]="30"
              [ngModel]="desk.scores.judge()"
              (ngModelChange)="desk.scores.judge.set($event.trim() || 'me')"
            />
            <label for="replicate">time</label>
            <p-select
              inputId="replicate"
              size="small"
              [options]="times"
              optionLabel="label"
              optionValue="value"
              [ngModel]="desk.scores.replicate()"
              (ngModelChange)="desk.scores.replicate.set($event)"
            />
            @if (t.brush) {
              <label class="box"
                ><p-checkbox
                  [binary]="true"
                  [ngModel]="desk.scores.brushed()"
                  (ngModelChange)="desk.scores.brushed.set($event)"
                />
                after brushing</label
              >
            }
            <button type="button" class="act small" (click)="desk.comparisons.compare(t.id)">Which is better?</button>
            <button type="button" class="act small" (click)="photos.emit()">
              Photos{{ desk.record()?.photos?.length ? ' (' + desk.record()?.photos?.length + ')' : '' }}
            </button>
            <span class="soft figures">{{ conditions() }}</span>
            @if (agreement(); as a) {
              <span>{{ a }}</span>
            }
          </p>
          @if (hides(); as h) {
            <p class="small warn">{{ h }}</p>
          }
          @if (noting()) {
            <p class="noting">
              <input
                #noteBox
                pInputText
                [(ngModel)]="noteText"
                (keydown.enter)="keepNote()"
                (keydown.escape)="noting.set(false)"
                [stLimit]="2000"
                [attr.aria-label]="reading() ? 'Note on this reading' : 'Note on ' + row()?.label"
                placeholder="what was seen; Enter keeps it"
              />
            </p>
          } @else {
            @if (reading()?.note; as n) {
              <p class="small soft">Note: {{ n }}</p>
            }
            @if (desk.scores.cellNoteAt(desk.cursor.spot().cell); as n) {
              <p class="small soft">Of {{ row()?.label }}: {{ n }}</p>
            }
          }
        </section>
      } @else {
        <section class="read" aria-label="Measured">
          <p class="where">
            <b>{{ desk.bench.measures().length ? 'Measure it' : 'There is nothing to judge on this specimen' }}</b>
          </p>
          @if (desk.bench.measures().length) {
            <p class="small soft">{{ desk.specimen()?.guide?.look }}</p>
          }
          @for (w of desk.bench.measuredWords(); track w) {
            <p class="figures">{{ w }}</p>
          }
        </section>
      }
      @if (desk.pairing()) {
        <span></span>
      } @else {
        <div class="beside">
          <!-- What was printed in practice lies in nobody’s hand: instruments are held to it here. -->
          @if (desk.hand.holdable()) {
            <st-hand-box />
          } @else if (pieces()) {
            <st-piece-box />
          }
          @if (!pieces() && byHeight()) {
            <st-caliper-box />
          }
          <st-measure-panel />
        </div>
      }
      <section class="answer" aria-label="Answer so far">
        <button type="button" class="act main" (click)="desk.go('settle')">{{ answer() }}</button>
        <p class="small soft">{{ desk.blind() ? 'read blind: the values show once you have decided' : next() }}</p>
        @for (f of voids(); track f) {
          <p class="small wrong">{{ f }}</p>
        }
      </section>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto 176px;
      gap: 18px;
    }
    .unnoted {
      grid-column: 1 / -1;
      display: flex;
      gap: 12px;
      align-items: center;
    }
    .empty {
      grid-column: 1 / -1;
      display: flex;
      gap: 18px;
      align-items: center;
    }
    section {
      display: grid;
      gap: 7px;
      align-content: start;
      min-width: 0;
    }
    .where {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 12px;
      align-items: baseline;
    }
    .said {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .scores {
      display: flex;
      flex-wrap: wrap;
      gap: 5px;
      align-items: center;
    }
    .track {
      font-weight: 640;
      color: var(--madder);
      min-width: 62px;
    }
    .score {
      display: inline-flex;
      gap: 7px;
      align-items: center;
      padding: 4px 9px 4px 5px;
      border: 1px solid var(--line-strong);
      border-radius: 14px;
      background: var(--well);
      font-size: 13px;
      cursor: pointer;
      white-space: nowrap;
    }
    .score:hover {
      border-color: var(--ink);
    }
    .score.on {
      background: var(--madder);
      border-color: var(--madder);
      color: var(--on-madder);
      font-weight: 600;
    }
    .score.on kbd {
      color: var(--ink);
    }
    .keys {
      display: flex;
      flex-wrap: wrap;
      gap: 5px 14px;
      font-size: 12px;
      color: var(--ink-soft);
      align-items: center;
    }
    .keys button {
      border: 0;
      padding: 0;
      background: none;
      color: inherit;
      cursor: pointer;
    }
    .keys button:hover {
      color: var(--ink);
    }
    .look {
      flex-basis: 100%;
      font-style: italic;
    }
    .who {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 8px;
      align-items: center;
      font-size: 12.5px;
    }
    .who input[pInputText] {
      width: 84px;
      padding: 1px 6px;
      font-size: 13px;
    }
    .warn {
      color: var(--shaken-ink);
    }
    .noting input {
      width: 100%;
    }
    .beside {
      display: grid;
      gap: 8px;
      align-content: start;
    }
    .answer .act {
      justify-content: center;
      white-space: normal;
      line-height: 1.25;
    }
    @media (max-width: 760px) {
      :host {
        grid-template-columns: minmax(0, 1fr);
        gap: 12px;
      }
      .score {
        min-height: 44px;
        flex: 1 1 45%;
        justify-content: flex-start;
      }
      .track {
        flex-basis: 100%;
      }
      .keys button {
        min-height: 40px;
        padding: 0 6px;
      }
      .keys > span:not(.look) {
        display: none;
      }
    }
  `,
})
export class ReadPanel {
  readonly photos = output();
  readonly closeUp = output<{ file: File; cell: number }>();
  protected readonly desk = inject(TrialDesk);
  private readonly noteBox = viewChild<ElementRef<HTMLInputElement>>('noteBox');
  private readonly changes = inject(ChangeDetectorRef);
  protected readonly noting = signal(false);
  protected noteText = '';

  protected readonly row = computed(() => this.desk.rows().find((r) => r.cell === this.desk.cursor.spot().cell));
  protected readonly track = computed(() => this.desk.tracks().find((t) => t.id === this.desk.cursor.spot().track));
  protected readonly what = computed(() => {
    if (this.desk.columns()) return 'Cell';
    const along = this.desk.record()?.trial.axes[0]?.along;
    const own = along && this.desk.specimen()?.words?.[along]?.one;
    if (own) return own[0]!.toUpperCase() + own.slice(1);
    return along === 'tile' ? 'Tile' : along === 'print' ? 'Print' : along === 'row' ? 'Place' : 'Band';
  });
  protected readonly heights = computed(() => {
    const r = this.row();
    return r && this.what() === 'Band' ? `${show(r.bottom, 1)}–${show(r.top, 1)} mm` : '';
  });
  /** Loose pieces are found by the figures printed on them. */
  protected readonly pieces = computed(() =>
    (this.desk.record()?.trial.axes ?? []).some((a) => a.along === 'tile' || a.along === 'print'),
  );
  /** A caliper tells where the value goes by height, and nothing where it is hidden or the piece itself is measured. */
  protected readonly byHeight = computed(
    () =>
      !this.desk.blind() &&
      !/-bar$/.test(this.desk.record()?.trial.specimen.id ?? '') &&
      (this.desk.record()?.trial.axes ?? []).some((a) => a.along === 'height'),
  );

  protected readonly leaving = signal(false);
  protected readonly times = [1, 2, 3, 4, 5].map((value) => ({
    value,
    label: ['first', 'second', 'third', 'fourth', 'fifth'][value - 1]!,
  }));
  protected leaveOut(reason: string): void {
    if (reason.trim() === '') return;
    this.desk.scores.exclude(reason.trim());
    this.leaving.set(false);
  }
  /** What a bad score says of the value. */
  protected readonly side = computed(() => {
    const fault = this.track()?.fault[this.desk.factor()?.id ?? ''];
    return fault === 'either'
      ? 'Here both sides spoil it: too low and too high look alike from afar.'
      : fault
        ? `A bad score says that the value is ${fault}.`
        : '';
  });
  /** Finishes on which faults hide. */
  protected readonly hides = computed(() => {
    const finish = this.desk.record()?.trial.context.filament.finish;
    return finish && finish !== 'plain'
      ? `On ${finish} filament faults hide: use raking light, trust touch more than sight, and say “cannot tell” rather than guess.`
      : '';
  });
  /** How far other judges say the same on the track in hand. */
  protected readonly agreement = computed(() => {
    const track = this.track()?.id;
    if (track === undefined) return '';
    return agreements(this.desk.record()?.readings ?? [], track, this.desk.scores.judge())
      .map(
        (a) =>
          `with ${a.judge}: order agrees to ${show(a.tau, 2)}, ${a.apart} of ${a.cells} cells more than a point apart`,
      )
      .join('; ');
  });
  protected readonly reading = computed(() =>
    this.desk.scores.readingAt(this.desk.cursor.spot().cell, this.desk.cursor.spot().track),
  );
  protected readonly now = computed(() => this.reading()?.value);
  private readonly noteHere = computed(() =>
    this.reading() ? this.reading()?.note : this.desk.scores.cellNoteAt(this.desk.cursor.spot().cell),
  );
  protected readonly said = computed(() => {
    const t = this.track();
    return t ? readingWords(t, this.reading()) : '';
  });
  protected readonly conditions = computed(() => {
    const p = this.desk.printOfCell(this.desk.cursor.spot().cell);
    const c = p?.conditions;
    return p && c
      ? ['printed ' + p.on, c.firmware && `firmware ${c.firmware}`, c.room, c.drying].filter((w) => w).join(' · ')
      : '';
  });

  protected readonly answer = computed(() => {
    const choices = this.desk.blind() ? [] : this.desk.settlement.choices();
    return choices.length > 0
      ? `Settle ${choices.map((c) => valueWords({ factor: c.factor, value: c.choice })).join(', ')}`
      : 'See what it says';
  });
  protected readonly next = computed(
    // What is void stands there by itself already.
    () =>
      this.desk.settlement.settled()?.nextWhy ||
      firstSaid({ flags: (this.desk.settlement.settled()?.flags ?? []).filter((f) => f.code !== 'void') }),
  );
  protected readonly voids = computed(() =>
    (this.desk.settlement.settled()?.flags ?? []).filter((f) => f.code === 'void').map((f) => f.message),
  );

  /** Opens the note field for the reading in hand. */
  openNote(): void {
    this.noteText = this.noteHere() ?? '';
    this.noting.set(true);
    // At once: what is typed next belongs to the note, not to the sheet.
    this.changes.detectChanges();
    this.noteBox()?.nativeElement.focus();
  }

  private readonly closeBox = viewChild<ElementRef<HTMLInputElement>>('closeUp');

  /** Asks for a close look at the cell in hand. */
  openCloseUp(): void {
    this.closeBox()?.nativeElement.click();
  }

  protected addCloseUp(input: HTMLInputElement): void {
    const file = input.files?.[0];
    input.value = '';
    if (file) this.closeUp.emit({ file, cell: this.desk.cursor.spot().cell });
  }

  protected keepNote(): void {
    this.desk.scores.note(this.noteText);
    this.noting.set(false);
  }
}
