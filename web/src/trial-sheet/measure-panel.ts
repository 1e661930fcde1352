import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Select } from 'primeng/select';
import { InputText } from 'primeng/inputtext';
import { arithmetic, show } from '#core/base';
import { measuredFrom } from '#core/judge';
import { isBar } from '#core/specimens';
import { calculate, calculatorOf } from '#core/sums';
import { BarBench } from './bar-bench';
import { TrialDesk } from './trial-desk';
import { Limit } from '../ui/limit';

const MOST_OWN = 12;

/** Quantities measured on the cell in hand, with replicates, and tracks of the user's own. */
@Component({
  selector: 'st-measure-panel',
  imports: [BarBench, Limit, FormsModule, InputText, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (bars()) {
      <st-bar-bench />
    }
    @if (desk.bench.measures().length) {
      <section class="measure" aria-label="Measured quantities">
        @for (m of quantities(); track m.id) {
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
              <button type="button" class="act bare small" (click)="desk.bench.unmeasure(cell(), m.id)">
                take the last back
              </button>
              <button type="button" class="act bare small" (click)="leaving.set(m.id)">leave it out …</button>
            } @else {
              <span class="soft">{{ m.how }}</span>
            }
            @for (l of desk.bench.leftOutAt(cell(), m.id); track $index) {
              <span class="soft">left out: {{ l }}</span>
            }
          </p>
          @if (leaving() === m.id) {
            <p class="entry">
              <input
                pInputText
                #reason
                [stLimit]="300"
                placeholder="why the last reading does not count; Enter keeps it"
                [attr.aria-label]="'Why the last ' + m.label + ' does not count'"
                (keydown.enter)="leaveOut(m.id, reason.value)"
                (keydown.escape)="leaving.set(undefined)"
              />
            </p>
          }
        }
        @if (desk.tracks().length) {
          @for (w of desk.bench.measuredWords(); track w) {
            <p class="small figures">{{ w }}</p>
          }
        }
        @if (series(); as t) {
          <p class="small figures">{{ t }}</p>
        }
      </section>
    }
    @if (measureProblem(); as p) {
      <p class="small wrong" role="alert">{{ p }}</p>
    }
    <details class="own">
      <summary>measure something else</summary>
      <label for="own-label">what</label>
      <input pInputText id="own-label" [(ngModel)]="ownLabel" [stLimit]="40" placeholder="deflection" />
      <label for="own-unit">unit, and ± of the instrument</label>
      <span class="pair">
        <input pInputText id="own-unit" [(ngModel)]="ownUnit" [stLimit]="12" placeholder="mm" />
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
      <p-select inputId="own-better" size="small" [options]="senses" [(ngModel)]="ownBetter" />
      <button type="button" class="act small" (click)="addMeasure()">Add the track</button>
    </details>
  `,
  styles: `
    :host {
      display: grid;
      gap: 6px;
      align-content: start;
    }
    section {
      display: grid;
      gap: 7px;
      align-content: start;
      min-width: 0;
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
    .own p-select {
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
    .measure label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
  `,
})
export class MeasurePanel {
  protected readonly desk = inject(TrialDesk);
  protected readonly cell = computed(() => this.desk.cursor.spot().cell);
  protected readonly measureProblem = signal<string | undefined>(undefined);

  /** Bars have a line each. */
  protected readonly bars = computed(() => isBar(this.desk.trial()?.specimen.id ?? ''));
  protected readonly quantities = computed(() =>
    this.desk.bench.measures().filter((m) => m.id !== 'load' || !this.bars()),
  );

  /** The quantity whose last reading is being left out. */
  protected readonly leaving = signal<string | undefined>(undefined);

  protected leaveOut(track: string, reason: string): void {
    if (reason.trim() === '') {
      this.measureProblem.set('there is no reason; say in a few words why the reading does not count');
      return;
    }
    this.measureProblem.set(undefined);
    this.desk.bench.leaveOut(this.cell(), track, reason.trim());
    this.leaving.set(undefined);
  }

  protected hasMeasured(track: string): boolean {
    return this.desk.bench.measuredAt(this.cell(), track).length > 0;
  }

  protected measuredWords(track: string, unit: string): string {
    const all = this.desk.bench.measuredAt(this.cell(), track);
    if (all.length === 0) return 'nothing yet; several readings make it surer';
    if (unit === 'yes/no') return `yes ${all.filter((v) => v > 0).length} of ${all.length}`;
    const mean = all.reduce((a, b) => a + b, 0) / all.length;
    return `${all.map((v) => show(v, 3)).join(', ')} ${unit}${all.length > 1 ? `; mean ${show(mean, 3)}` : ''}`;
  }

  /** The field that says when a reading was taken, beside the reading's own. */
  protected afterOf(field: HTMLInputElement): HTMLInputElement | undefined {
    return field.parentElement?.querySelector<HTMLInputElement>('input.after') ?? undefined;
  }

  protected takeMeasure(track: string, unit: string, field: HTMLInputElement, when?: HTMLInputElement): void {
    const parsed = measuredFrom(field.value, { id: track, unit });
    const after = when && when.value.trim() !== '' ? arithmetic(when.value, 's', track) : undefined;
    const wrong = !parsed.ok ? parsed.faults[0] : after && !after.ok ? after.faults[0] : undefined;
    this.measureProblem.set(wrong && `${wrong.wrong}; ${wrong.right}`);
    if (!parsed.ok || (after && !after.ok)) return;
    this.desk.bench.measure(this.cell(), track, parsed.value, after?.ok ? after.value : undefined);
    field.value = '';
    field.focus();
  }

  protected ownLabel = '';
  protected ownUnit = '';
  protected ownError = '';
  protected readonly senses = ['neither', 'more', 'less'];
  protected ownBetter: 'more' | 'less' | 'neither' = 'neither';

  /** A track of the user's own. */
  protected addMeasure(): void {
    const label = this.ownLabel.trim();
    const id = `own-${
      label
        .toLowerCase()
        .replace(/[^a-z0-9]+/g, '-')
        .slice(0, 30) || 'quantity'
    }`;
    const error = arithmetic(this.ownError || '0', this.ownUnit, 'error');
    const problem =
      label === ''
        ? 'the quantity has no name; give it one'
        : // Names that differ only in letters beyond a to z would share their readings.
          this.desk.bench.measures().some((m) => m.label === label || m.id === id)
          ? 'there is a track of that name; give another'
          : (this.desk.record()?.measures ?? []).length >= MOST_OWN
            ? `there are ${MOST_OWN} quantities of your own already; use one of them`
            : !error.ok || error.value < 0
              ? 'the error of the instrument is no amount; give a figure such as 0.1'
              : undefined;
    this.measureProblem.set(problem);
    if (problem !== undefined || !error.ok) return;
    const own = { id, label, unit: this.ownUnit.trim(), better: this.ownBetter, error: error.value };
    this.desk.change(`measure ${label}`, (r) => ({ ...r, measures: [...(r.measures ?? []), own] }));
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
}
