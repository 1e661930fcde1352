import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { measuredFrom, type Measure } from '#core/judge';
import { PhoneBox } from './phone-box';
import { PhoneSheet } from './phone-sheet';

/** What is measured on the cell in hand, each quantity with how it is done. */
@Component({
  selector: 'st-phone-measures',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (m of sheet.measures(); track m.id) {
      <div class="measure">
        <label [for]="'m-' + m.id"
          >{{ m.label }}{{ m.unit ? ', ' + m.unit : '' }}
          <i class="figures">{{ sheet.measured(sheet.spot().cell, m.id) }}</i></label
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
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
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
  `,
})
export class PhoneMeasures {
  protected readonly sheet = inject(PhoneSheet);
  private readonly box = inject(PhoneBox);
  protected readonly problem = signal<string | undefined>(undefined);

  protected measure(m: Measure, field: HTMLInputElement): void {
    const record = this.sheet.record();
    if (!record || field.value.trim() === '') return;
    const parsed = measuredFrom(field.value, m);
    this.problem.set(parsed.ok ? undefined : parsed.faults.map((f) => `${f.wrong}; ${f.right}`).join(' '));
    if (!parsed.ok) return;
    const { cell } = this.sheet.spot();
    field.value = '';
    this.box.say({ kind: 'measure', record: record.id, cell, track: m.id, value: parsed.value });
  }
}
