import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { InputText } from 'primeng/inputtext';
import { Select } from 'primeng/select';
import { Textarea } from 'primeng/textarea';
import { lettersAt, type Fault } from '#core/base';
import { filamentSchema, printerSchema, fieldValue, type Field } from '#core/context';
import { NumberField } from './number-field';
import { Limit } from './limit';

/** A copy of a plain document with another value at a dotted path; undefined takes the field out. */
export function withValue<D extends object>(document: D, path: string, value: unknown): D {
  const [key, ...rest] = path.split('.') as [string, ...string[]];
  const copy: Record<string, unknown> = { ...(document as Record<string, unknown>) };
  if (rest.length > 0) copy[key] = withValue((copy[key] ?? {}) as object, rest.join('.'), value);
  else if (value === undefined) delete copy[key];
  else copy[key] = value;
  return copy as D;
}

/** A form over a document from its list of fields; faults are said beside the field they name. */
@Component({
  selector: 'st-document-form',
  imports: [Limit, FormsModule, InputText, Select, Textarea, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (group of groups(); track group.name) {
      <fieldset>
        <legend>{{ group.name }}</legend>
        <div class="fields">
          @for (f of group.fields; track f.path) {
            @switch (f.kind) {
              @case ('number') {
                <st-number-field
                  [fieldId]="prefix() + '-' + f.path"
                  [label]="f.label"
                  [unit]="f.unit"
                  [usual]="f.usual?.(document())"
                  [value]="numberAt(f.path)"
                  [outside]="faultAt(f.path)"
                  (changed)="changed.emit({ path: f.path, value: f.mayLack && $event === 0 ? undefined : $event })"
                />
              }
              @case ('choice') {
                <div class="field">
                  <label [attr.for]="prefix() + '-' + f.path">{{ f.label }}</label>
                  <p-select
                    [inputId]="prefix() + '-' + f.path"
                    [options]="$any(f.choices)"
                    optionLabel="label"
                    optionValue="value"
                    [ngModel]="at(f.path)"
                    (ngModelChange)="changed.emit({ path: f.path, value: $event })"
                    [ariaLabel]="f.label"
                  />
                  <span class="says">{{ faultAt(f.path) ?? f.help ?? '' }}</span>
                </div>
              }
              @case ('code') {
                <div class="field code">
                  <label [attr.for]="prefix() + '-' + f.path">{{ f.label }}</label>
                  <textarea
                    pTextarea
                    class="figures"
                    rows="6"
                    spellcheck="false"
                    [id]="prefix() + '-' + f.path"
                    [ngModel]="at(f.path)"
                    (ngModelChange)="changed.emit({ path: f.path, value: $event })"
                    [attr.aria-invalid]="!!faultAt(f.path)"
                    [stLimit]="letters(f.path)"
                  ></textarea>
                  <span class="says" [class.wrong]="faultAt(f.path)">{{ faultAt(f.path) ?? '' }}</span>
                </div>
              }
              @default {
                <div class="field">
                  <label [attr.for]="prefix() + '-' + f.path">{{ f.label }}</label>
                  <input
                    pInputText
                    [type]="f.kind === 'date' ? 'date' : 'text'"
                    [id]="prefix() + '-' + f.path"
                    [ngModel]="at(f.path) ?? ''"
                    (ngModelChange)="
                      changed.emit({ path: f.path, value: f.kind === 'date' && !$event ? undefined : $event })
                    "
                    [attr.aria-invalid]="!!faultAt(f.path)"
                    [stLimit]="letters(f.path)"
                    autocomplete="off"
                  />
                  <span class="says" [class.wrong]="faultAt(f.path)">{{ faultAt(f.path) ?? f.help ?? '' }}</span>
                </div>
              }
            }
          }
        </div>
      </fieldset>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 18px;
    }
    fieldset {
      margin: 0;
      padding: 0;
      border: 0;
      min-width: 0;
    }
    legend {
      padding: 0 0 6px;
      font-weight: 640;
      border-bottom: 1px solid var(--line);
      width: 100%;
      margin-bottom: 10px;
    }
    .fields {
      display: grid;
      grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
      gap: 8px 18px;
    }
    .field input,
    .field p-select,
    .field textarea {
      width: 100%;
      min-width: 0;
    }
    .field {
      display: grid;
      align-content: start;
      grid-template-rows: auto auto minmax(17px, auto);
      min-width: 0;
    }
    .code {
      grid-column: span 2;
    }
    label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .says {
      font-size: 12px;
      line-height: 1.35;
      color: var(--ink-faint);
    }
    .says.wrong {
      color: var(--fault);
    }
    @media (max-width: 760px) {
      .code {
        grid-column: auto;
      }
    }
  `,
})
export class DocumentForm<D extends object> {
  readonly document = input.required<D>();
  readonly fields = input.required<readonly Field<D>[]>();
  readonly faults = input<readonly Fault[]>([]);
  /** What stands before the field's path in a fault (`printer`). */
  readonly prefix = input.required<'printer' | 'filament'>();
  readonly changed = output<{ path: string; value: unknown }>();

  protected readonly groups = computed(() => {
    const groups: { name: string; fields: Field<D>[] }[] = [];
    for (const f of this.fields()) {
      if (f.only && !f.only(this.document())) continue;
      const last = groups.find((g) => g.name === f.group);
      if (last) last.fields.push(f);
      else groups.push({ name: f.group, fields: [f] });
    }
    return groups;
  });

  /** The most letters that a text takes, by the schema of what is edited. */
  protected letters(path: string): number {
    const schema = { printer: printerSchema, filament: filamentSchema }[this.prefix()];
    return (schema && lettersAt(schema, path)) ?? Infinity;
  }

  protected at(path: string): unknown {
    return fieldValue(this.document(), path);
  }

  protected numberAt(path: string): number {
    const v = this.at(path);
    return typeof v === 'number' ? v : 0;
  }

  protected faultAt(path: string): string | undefined {
    const f = this.faults().find((fault) => fault.at === `${this.prefix()}.${path}`);
    return f && `${f.wrong}; ${f.right}`;
  }
}
