import { ChangeDetectionStrategy, Component, input, output, viewChild } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Select } from 'primeng/select';

/** A list from which one thing after another is taken: what is chosen is handed on, and the field stays empty. */
@Component({
  selector: 'st-pick-one',
  imports: [FormsModule, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-select
      size="small"
      [inputId]="fieldId()"
      [options]="$any(options())"
      [optionLabel]="shows()"
      [filter]="options().length > 12"
      [filterBy]="shows()"
      [placeholder]="placeholder()"
      [emptyMessage]="none()"
      [ngModel]="null"
      (ngModelChange)="take($event)"
      [ariaLabel]="label()"
    />
  `,
})
export class PickOne<T extends object> {
  readonly fieldId = input.required<string>();
  readonly label = input.required<string>();
  readonly placeholder = input.required<string>();
  readonly options = input.required<readonly T[]>();
  /** The property of an option that is shown. */
  readonly shows = input<string & keyof T>('label' as string & keyof T);
  /** What stands in the list where it is empty. */
  readonly none = input('nothing to choose');
  readonly picked = output<T>();
  private readonly select = viewChild.required(Select);

  protected take(option: T | null): void {
    if (option === null) return;
    this.picked.emit(option);
    // Once the list has written down what was chosen.
    setTimeout(() => this.select().clear());
  }
}
