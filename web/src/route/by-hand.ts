import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Select } from 'primeng/select';
import { arithmetic, show } from '#core/base';
import { factorOf } from '#core/factors';
import { settingOf } from '#core/settings';
import { Limit } from '../ui/limit';

/** Values that a person gives with a reason, instead of a rule that finds them. */
export interface ByHandValues {
  values: { factor: string; value: number }[];
  why: string;
}

/** A value given by hand: one field a setting, and why. */
@Component({
  selector: 'st-by-hand',
  imports: [Limit, Select, FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <details #box>
      <summary>{{ summary() }}</summary>
      <div class="fields">
        @for (f of fields(); track f.id) {
          <div class="field">
            <label [for]="'hand-' + f.id"
              >{{ f.label }} <span class="soft">{{ f.unit }}</span></label
            >
            @if (f.choices) {
              <p-select
                [inputId]="'hand-' + f.id"
                placeholder="choose"
                [options]="f.choices"
                optionLabel="label"
                optionValue="level"
                [ngModel]="typed()[f.id] ?? null"
                (ngModelChange)="put(f.id, $event)"
                [ariaLabel]="f.label"
              />
            } @else {
              <input
                [id]="'hand-' + f.id"
                class="figures"
                inputmode="decimal"
                autocomplete="off"
                [value]="typed()[f.id] ?? ''"
                (input)="put(f.id, $any($event.target).value)"
                [attr.aria-invalid]="tried() && f.wrong !== ''"
              />
            }
            @if (tried() && f.wrong) {
              <span class="wrong small" role="alert">{{ f.wrong }}</span>
            }
          </div>
        }
        <div class="field">
          <label for="hand-why">{{ question() }}</label>
          <input
            id="hand-why"
            [stLimit]="300"
            [value]="why()"
            (input)="why.set($any($event.target).value)"
            [placeholder]="hint()"
            (keydown.enter)="give(box)"
          />
          @if (tried() && why().trim() === '') {
            <span class="wrong small" role="alert">say in a few words why; it stands with the value</span>
          }
        </div>
        <button type="button" class="act" (click)="give(box)">{{ act() }}</button>
      </div>
    </details>
  `,
  styles: `
    summary {
      cursor: pointer;
      color: var(--madder);
      font-size: 12.5px;
    }
    .fields {
      display: grid;
      gap: 8px;
      padding: 8px 0;
      max-width: 420px;
    }
    .field {
      display: grid;
      gap: 3px;
      font-size: 13px;
    }
    input {
      font: inherit;
      padding: 5px 8px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
      color: var(--ink);
      min-width: 0;
    }
    .act {
      justify-self: start;
    }
  `,
})
export class ByHand {
  readonly factors = input.required<readonly string[]>();
  readonly summary = input.required<string>();
  readonly question = input.required<string>();
  readonly hint = input('');
  readonly act = input.required<string>();
  /** All of the settings must be given; else one is enough. */
  readonly all = input(true);
  readonly given = output<ByHandValues>();
  protected readonly typed = signal<Readonly<Record<string, string>>>({});
  protected readonly why = signal('');
  protected readonly tried = signal(false);

  protected readonly fields = computed(() =>
    this.factors().flatMap((id) => {
      const factor = factorOf(id);
      if (!factor) return [];
      const text = (this.typed()[id] ?? '').trim();
      const choices = factor.choices?.map((label, level) => ({ label, level: String(level) }));
      const parsed = factor.choices ? undefined : arithmetic(text, factor.unit, id);
      const value =
        text === '' ? undefined : factor.choices ? Number(text) : parsed!.ok ? parsed!.value / factor.shown : undefined;
      const asked = this.all() ? 'give a value' : '';
      const { min, max } = (factor.setting && settingOf(factor.setting).bounds) ?? { min: 0, max: 1e6 };
      const beyond = value !== undefined && !(value >= min && value <= max);
      const wrong =
        text === ''
          ? asked
          : parsed && !parsed.ok
            ? parsed.faults[0]!.wrong
            : beyond
              ? `${show(value! * factor.shown)} cannot be set`
              : '';
      return [{ id, label: factor.label, unit: factor.unit, choices, value, wrong }];
    }),
  );

  protected put(id: string, text: string): void {
    this.typed.update((t) => ({ ...t, [id]: text }));
  }

  protected give(box: HTMLDetailsElement): void {
    const values = this.fields().flatMap((f) => (f.value === undefined ? [] : [{ factor: f.id, value: f.value }]));
    const wrong = this.fields().some((f) => f.wrong !== '');
    this.tried.set(true);
    if (wrong || values.length === 0 || this.why().trim() === '') return;
    this.given.emit({ values, why: this.why().trim() });
    this.typed.set({});
    this.why.set('');
    this.tried.set(false);
    box.open = false;
  }
}
