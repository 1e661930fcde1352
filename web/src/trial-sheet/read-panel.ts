import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { InputText } from 'primeng/inputtext';
import { arithmetic, show } from '#core/base';
import { rampAt } from '#core/plan';
import { valueWords } from '#core/route';
import { calculate, calculatorOf } from '#core/sums';
import { readingWords } from './sheet-model';
import { TrialDesk } from './trial-desk';

/** Read: the quality in hand with its anchors, the keys, and the caliper. */
@Component({
  selector: 'st-read-panel',
  imports: [FormsModule, InputText],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (!desk.printed()) {
      <div class="empty">
        <p>There is nothing to read yet: this trial has not been printed.</p>
        <button type="button" class="act" (click)="desk.go('print')">Go to Print</button>
      </div>
    } @else {
      @if (track(); as t) {
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
                (click)="desk.say($index)"
              >
                <kbd>{{ $index }}</kbd> {{ a }}
              </button>
            }
          </div>
          <p class="keys">
            <span><kbd>↑</kbd> <kbd>↓</kbd> {{ what().toLowerCase() }}</span
            ><span><kbd>←</kbd> <kbd>→</kbd> {{ desk.columns() ? 'along the row' : 'track' }}</span>
            <button type="button" (click)="desk.say('broke')"><kbd>X</kbd> broke</button>
            <button type="button" (click)="desk.say('cannot tell')"><kbd>?</kbd> cannot tell</button>
            <button type="button" (click)="openNote()"><kbd>N</kbd> note</button>
            <button type="button" (click)="desk.clear()"><kbd>⌫</kbd> clear</button>
            <span class="look">{{ t.look }}</span>
          </p>
          @if (noting()) {
            <p class="noting">
              <input
                #noteBox
                pInputText
                [(ngModel)]="noteText"
                (keydown.enter)="keepNote()"
                (keydown.escape)="noting.set(false)"
                maxlength="2000"
                aria-label="Note on this reading"
                placeholder="what was seen; Enter keeps it"
              />
            </p>
          } @else if (noteHere(); as n) {
            <p class="small soft">Note: {{ n }}</p>
          }
        </section>
      } @else {
        <section class="read" aria-label="Measured">
          <p class="where">
            <b>{{ desk.measures().length ? 'Measure it' : 'There is nothing to judge on this specimen' }}</b>
          </p>
          @for (w of desk.measuredWords(); track w) {
            <p class="figures">{{ w }}</p>
          }
        </section>
      }
      @if (desk.measures().length) {
        <section class="measure" aria-label="Measured quantities">
          @for (m of desk.measures(); track m.id) {
            <label [for]="'m-' + m.id" [title]="m.how">{{ m.label }}{{ m.unit ? ', ' + m.unit : '' }}</label>
            <span class="entry">
              @if (m.id.startsWith('own-')) {
                <input
                  pInputText
                  class="figures after"
                  [attr.aria-label]="'Seconds after, ' + m.label"
                  placeholder="after s"
                  inputmode="decimal"
                />
              }
              <input
                pInputText
                class="figures"
                [id]="'m-' + m.id"
                #measured
                (keydown.enter)="takeMeasure(m.id, m.unit, measured, afterOf(measured))"
                inputmode="decimal"
                autocomplete="off"
              />
              <button
                type="button"
                class="act small"
                [attr.aria-label]="'Add ' + m.label"
                (click)="takeMeasure(m.id, m.unit, measured, afterOf(measured))"
              >
                Add
              </button>
            </span>
            <p class="small figures said-so">
              @if (hasMeasured(m.id)) {
                {{ measuredWords(m.id, m.unit) }}
                <button type="button" class="act bare small" (click)="desk.unmeasure(cell(), m.id)">
                  take the last back
                </button>
                <button type="button" class="act bare small" (click)="leaving.set(m.id)">leave it out …</button>
              } @else {
                <span class="soft">{{ m.how }}</span>
              }
              @for (l of desk.leftOutAt(cell(), m.id); track $index) {
                <span class="soft">left out: {{ l }}</span>
              }
            </p>
            @if (leaving() === m.id) {
              <p class="entry">
                <input
                  pInputText
                  #reason
                  maxlength="300"
                  placeholder="why the last reading does not count; Enter keeps it"
                  [attr.aria-label]="'Why the last ' + m.label + ' does not count'"
                  (keydown.enter)="leaveOut(m.id, reason.value)"
                  (keydown.escape)="leaving.set(undefined)"
                />
              </p>
            }
          }
          @if (track()) {
            @for (w of desk.measuredWords(); track w) {
              <p class="small figures">{{ w }}</p>
            }
          }
          @if (series(); as t) {
            <p class="small figures">{{ t }}</p>
          }
          @if (measureProblem(); as p) {
            <p class="small wrong" role="alert">{{ p }}</p>
          }
        </section>
      } @else {
        <section class="caliper" aria-label="Caliper">
          <label for="caliper">caliper height, from the bed side</label>
          <div class="box">
            <input
              pInputText
              id="caliper"
              class="figures"
              [ngModel]="height()"
              (ngModelChange)="measure($event)"
              placeholder="26.5 mm"
              inputmode="decimal"
              autocomplete="off"
            />
            <b class="figures" aria-live="polite">{{ caliper().value }}</b>
          </div>
          <p class="small" [class.wrong]="caliper().wrong">{{ caliper().words }}</p>
          <p class="small soft">{{ conditions() }}</p>
        </section>
      }
      <section class="answer" aria-label="Answer so far">
        <details class="own">
          <summary>measure something else</summary>
          <label for="own-label">what</label>
          <input pInputText id="own-label" [(ngModel)]="ownLabel" maxlength="40" placeholder="deflection" />
          <label for="own-unit">unit, and ± of the instrument</label>
          <span class="pair">
            <input pInputText id="own-unit" [(ngModel)]="ownUnit" maxlength="12" placeholder="mm" />
            <input
              pInputText
              class="figures"
              aria-label="Error of the instrument"
              [(ngModel)]="ownError"
              inputmode="decimal"
              placeholder="0.1"
            />
          </span>
          <label for="own-better">better is</label>
          <select id="own-better" [(ngModel)]="ownBetter">
            <option value="neither">neither</option>
            <option value="more">more</option>
            <option value="less">less</option>
          </select>
          <button type="button" class="act small" (click)="addMeasure()">Add the track</button>
        </details>
        <button type="button" class="act main" (click)="desk.go('settle')">{{ answer() }}</button>
        <p class="small soft">{{ next() }}</p>
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
    .own {
      font-size: 12.5px;
    }
    .own label {
      display: block;
      margin-top: 3px;
    }
    .own .act {
      margin: 5px 0;
    }
    .own input,
    .own select {
      width: 100%;
      padding: 2px 6px;
      font-size: 13px;
    }
    .own .pair {
      display: flex;
      gap: 4px;
    }
    .own summary {
      cursor: pointer;
      color: var(--madder);
    }
    .noting input {
      width: 100%;
    }
    .measure {
      width: 300px;
      grid-template-columns: auto 1fr;
      gap: 1px 8px;
      align-items: center;
    }
    .measure > p {
      grid-column: 1 / -1;
    }
    .said-so {
      font-size: 12px;
      margin-bottom: 4px;
    }
    .entry {
      display: flex;
      gap: 6px;
    }
    .entry input {
      min-width: 0;
      width: 100%;
      padding: 3px 8px;
    }
    .entry .after {
      width: 72px;
      flex: 0 0 72px;
    }
    .measure label,
    .caliper label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .box {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      gap: 10px;
      width: 190px;
      align-items: center;
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
  protected readonly desk = inject(TrialDesk);
  private readonly noteBox = viewChild<ElementRef<HTMLInputElement>>('noteBox');
  protected readonly noting = signal(false);
  protected noteText = '';
  protected readonly height = signal('');

  protected readonly row = computed(() => this.desk.rows().find((r) => r.cell === this.desk.spot().cell));
  protected readonly track = computed(() => this.desk.tracks().find((t) => t.id === this.desk.spot().track));
  protected readonly what = computed(() => {
    if (this.desk.columns()) return 'Cell';
    const along = this.desk.record()?.trial.axes[0]?.along;
    return along === 'tile' ? 'Tile' : along === 'print' ? 'Print' : along === 'row' ? 'Place' : 'Band';
  });
  protected readonly heights = computed(() => {
    const r = this.row();
    return r && this.what() === 'Band' ? `${show(r.bottom, 1)}–${show(r.top, 1)} mm` : '';
  });
  private readonly reading = computed(() => this.desk.readingAt(this.desk.spot().cell, this.desk.spot().track));
  protected readonly now = computed(() => this.reading()?.value);
  protected readonly noteHere = computed(() => this.reading()?.note);
  protected readonly said = computed(() => {
    const t = this.track();
    return t ? readingWords(t, this.reading()) : '';
  });
  protected readonly conditions = computed(() => {
    const p = this.desk.print();
    const c = p?.conditions;
    return p && c
      ? ['printed ' + p.on, c.firmware && `firmware ${c.firmware}`, c.room, c.drying].filter((w) => w).join(' · ')
      : '';
  });

  protected readonly caliper = computed<{ value: string; words: string; wrong: boolean }>(() => {
    const text = this.height();
    if (text.trim() === '') return { value: '', words: 'the row lights', wrong: false };
    const parsed = arithmetic(text, 'mm', 'height');
    if (!parsed.ok) return { value: '', words: parsed.faults[0]!.wrong, wrong: true };
    const rows = this.desk.rows();
    const factor = this.desk.factor();
    const calculator = calculatorOf('height');
    const first = rows[0];
    if (!first || !factor || !calculator) return { value: '', words: '', wrong: false };
    const axis = this.desk.record()?.trial.axes.find((a) => a.factor === factor.id);
    const bandHeight = first.top - first.bottom;
    const bottoms = this.desk.rows().filter((r) => r.at[1] === 0);
    // On a ramp the value runs on between the bands.
    if (axis?.kind === 'ramp') {
      const last = bottoms[bottoms.length - 1]!;
      if (parsed.value < first.bottom - 0.2 || parsed.value > last.top + 0.2)
        return {
          value: '',
          words: `${show(parsed.value)} mm is off the specimen, which carries levels from ${show(first.bottom)} to ${show(last.top)} mm; measure again from the bed side`,
          wrong: true,
        };
      const at = (parsed.value - first.bottom) / bandHeight;
      const half =
        (Math.abs(rampAt(axis.levels, at + 0.2 / bandHeight) - rampAt(axis.levels, at - 0.2 / bandHeight)) / 2) *
        factor.shown;
      return {
        value: `= ${show(rampAt(axis.levels, at) * factor.shown)} ${factor.unit}`,
        words: `± ${show(half, 2)} from 0.2 mm of reading`,
        wrong: false,
      };
    }
    const result = calculate(calculator, {
      reading: parsed.value,
      base: first.bottom,
      bandHeight,
      levels: bottoms.map((r) => r.level),
    });
    if (!result.ok) return { value: '', words: result.faults[0]!.wrong, wrong: true };
    const values = result.value['values'] as number[];
    const bands = result.value['bands'] as number[];
    const say = (v: number) => `${show(v * factor.shown)} ${factor.unit}`;
    return values.length > 1
      ? {
          value: `= ${values.map((v) => show(v * factor.shown)).join(' or ')} ${factor.unit}`,
          words: 'on a border between bands, within 0.2 mm',
          wrong: false,
        }
      : { value: `= ${say(values[0]!)}`, words: `band ${bands[0]! + 1}`, wrong: false };
  });

  protected readonly answer = computed(() => {
    const choices = this.desk.choices();
    return choices.length > 0
      ? `Settle ${choices.map((c) => valueWords({ factor: c.factor, value: c.choice })).join(', ')}`
      : 'See what it says';
  });
  protected readonly next = computed(
    () => this.desk.settled()?.nextWhy || this.desk.settled()?.flags[0]?.message || '',
  );
  protected readonly voids = computed(() =>
    (this.desk.settled()?.flags ?? []).filter((f) => f.code === 'void').map((f) => f.message),
  );

  protected measure(text: string): void {
    this.height.set(text);
    const parsed = arithmetic(text, 'mm', 'height');
    if (!parsed.ok) return;
    const row = this.desk.rows().find((r) => parsed.value >= r.bottom && parsed.value < r.top);
    this.desk.pointed.set(row?.cell);
  }

  protected readonly cell = computed(() => this.desk.spot().cell);
  protected readonly measureProblem = signal<string | undefined>(undefined);

  /** The quantity whose last reading is being left out. */
  protected readonly leaving = signal<string | undefined>(undefined);

  protected leaveOut(track: string, reason: string): void {
    if (reason.trim() === '') {
      this.measureProblem.set('there is no reason; say in a few words why the reading does not count');
      return;
    }
    this.measureProblem.set(undefined);
    this.desk.leaveOut(this.cell(), track, reason.trim());
    this.leaving.set(undefined);
  }

  protected hasMeasured(track: string): boolean {
    return this.desk.measuredAt(this.cell(), track).length > 0;
  }

  protected measuredWords(track: string, unit: string): string {
    const all = this.desk.measuredAt(this.cell(), track);
    if (all.length === 0) return 'nothing yet; several readings make it surer';
    const mean = all.reduce((a, b) => a + b, 0) / all.length;
    return `${all.map((v) => show(v, 3)).join(', ')} ${unit}${all.length > 1 ? `; mean ${show(mean, 3)}` : ''}`;
  }

  /** The field that says when a reading was taken, beside the reading's own. */
  protected afterOf(field: HTMLInputElement): HTMLInputElement | undefined {
    return field.parentElement?.querySelector<HTMLInputElement>('input.after') ?? undefined;
  }

  protected takeMeasure(track: string, unit: string, field: HTMLInputElement, when?: HTMLInputElement): void {
    const parsed = arithmetic(field.value, unit, track);
    const after = when && when.value.trim() !== '' ? arithmetic(when.value, 's', track) : undefined;
    const wrong = !parsed.ok ? parsed.faults[0] : after && !after.ok ? after.faults[0] : undefined;
    this.measureProblem.set(wrong && `${wrong.wrong}; ${wrong.right}`);
    if (!parsed.ok || (after && !after.ok)) return;
    this.desk.measure(this.cell(), track, parsed.value, after?.ok ? after.value : undefined);
    field.value = '';
    field.focus();
  }

  protected ownLabel = '';
  protected ownUnit = '';
  protected ownError = '';
  protected ownBetter: 'more' | 'less' | 'neither' = 'neither';

  /** A track of the user's own. */
  protected addMeasure(): void {
    const label = this.ownLabel.trim();
    const error = arithmetic(this.ownError || '0', this.ownUnit, 'error');
    const known = this.desk.measures().some((m) => m.label === label);
    if (label === '' || known || !error.ok || error.value < 0) {
      this.measureProblem.set(
        label === ''
          ? 'the quantity has no name; give it one'
          : known
            ? 'there is a track of that name; give another'
            : 'the error of the instrument is no amount; give a figure such as 0.1',
      );
      return;
    }
    this.measureProblem.set(undefined);
    const id = `own-${
      label
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .slice(0, 30) || 'quantity'
    }`;
    const own = { id, label, unit: this.ownUnit.trim(), better: this.ownBetter, error: error.value };
    this.desk.change(`measure ${label}`, (r) => ({ ...r, measures: [...(r.measures ?? []), own].slice(0, 12) }));
    this.ownLabel = '';
  }

  /** What a series in time says: creep is called only beyond the error of the instrument. */
  protected readonly series = computed(() => {
    const cell = this.cell();
    for (const m of this.desk.record()?.measures ?? []) {
      const readings = (this.desk.record()?.readings ?? []).flatMap((r) =>
        r.track === m.id && r.cells.includes(cell) && r.after !== undefined && typeof r.value === 'number'
          ? [{ after: r.after, value: r.value }]
          : [],
      );
      const result = readings.length > 1 ? calculate(calculatorOf('creep')!, { readings, error: m.error }) : undefined;
      if (result?.ok)
        return `${m.label} changes by ${show(result.value.value, 3)} ${m.unit}: ${result.value['creeps'] === true ? 'it creeps' : 'within the error of the instrument'}`;
    }
    return '';
  });

  /** Opens the note field for the reading in hand. */
  openNote(): void {
    this.noteText = this.noteHere() ?? '';
    this.noting.set(true);
    setTimeout(() => this.noteBox()?.nativeElement.focus());
  }

  protected keepNote(): void {
    this.desk.note(this.noteText);
    this.noting.set(false);
  }
}
