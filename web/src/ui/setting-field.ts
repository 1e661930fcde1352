import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { InputText } from 'primeng/inputtext';
import { Select } from 'primeng/select';
import type { Context } from '#core/context';
import { settingOf, type SettingId, type Settings } from '#core/settings';
import { NumberField } from './number-field';

/** One process setting as a field: a number, a name to choose, or a list as it is typed. */
@Component({
  selector: 'st-setting-field',
  imports: [InputText, NumberField, Select, FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (setting().choices; as choices) {
      <label [attr.for]="fieldId()">{{ setting().label }}</label>
      <p-select
        [inputId]="fieldId()"
        [options]="$any(choices)"
        [ngModel]="value()"
        (ngModelChange)="changed.emit($event)"
        [disabled]="disabled()"
        [ariaLabel]="setting().label"
      />
      @if (outside()) {
        <span class="wrong">{{ outside() }}</span>
      }
    } @else if (setting().list) {
      <label [attr.for]="fieldId()">{{ setting().label }}</label>
      <input
        pInputText
        [id]="fieldId()"
        [ngModel]="value()"
        [ngModelOptions]="{ updateOn: 'blur' }"
        (ngModelChange)="setList($event)"
        (keydown.enter)="$any($event.target).blur()"
        [disabled]="disabled()"
        [attr.aria-invalid]="!!(listFault() || outside())"
        [attr.aria-describedby]="fieldId() + '-says'"
        autocomplete="off"
      />
      @if (listFault() || outside(); as f) {
        <span class="wrong" [id]="fieldId() + '-says'">{{ f }}</span>
      }
    } @else {
      <st-number-field
        [fieldId]="fieldId()"
        [label]="setting().label"
        [unit]="setting().unit"
        [shown]="setting().shown ?? 1"
        [usual]="usual()"
        [bounds]="setting().bounds"
        [asksOutside]="setting().asksOutside ?? false"
        [value]="$any(value())"
        [outside]="outside()"
        [disabled]="disabled()"
        (changed)="changed.emit($event)"
      />
    }
    @if (setting().help; as help) {
      <span class="note">{{ help }}</span>
    }
  `,
  styles: `
    :host {
      display: grid;
      align-content: start;
      min-width: 0;
    }
    label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .wrong,
    .note {
      font-size: 12px;
    }
    .note {
      color: var(--ink-soft);
    }
  `,
})
export class SettingField {
  readonly id = input.required<SettingId>();
  readonly fieldId = input.required<string>();
  readonly value = input.required<Settings[SettingId]>();
  readonly context = input.required<Context>();
  /** A fault found outside, said beside the field. */
  readonly outside = input<string | undefined>();
  readonly disabled = input(false);
  readonly changed = output<Settings[SettingId]>();

  protected readonly setting = computed(() => settingOf(this.id()));
  protected readonly usual = computed(() => this.setting().usual?.(this.context()));
  /** What is wrong with a list as it was typed; the document keeps the last good one. */
  protected readonly listFault = linkedSignal<unknown, string | undefined>({
    source: this.value,
    computation: () => undefined,
  });

  protected setList(text: string): void {
    const parsed = this.setting().schema.safeParse(text.trim());
    this.listFault.set(parsed.success ? undefined : (parsed.error.issues[0]?.message ?? 'is no list'));
    if (parsed.success) this.changed.emit(parsed.data as Settings[SettingId]);
  }
}
