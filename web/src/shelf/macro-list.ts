import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { Printer } from '#core/context';
import { macrosIn } from '#core/firmware';

type Macro = Printer['macros'][number];

/** What each macro of the start and end code does: the program cannot see it, so it must be said. */
@Component({
  selector: 'st-macro-list',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (rows().length) {
      <section aria-labelledby="macros">
        <h2 id="macros">What do these macros do?</h2>
        <p class="soft small">
          They stand in the start or end code, and no file tells what they do. Temperatures are asserted again after
          them.
        </p>
        @for (r of rows(); track r.name) {
          <div class="row" role="group" [attr.aria-label]="r.name">
            <code>{{ r.name }}</code>
            @for (w of words; track w.id) {
              <label><input type="checkbox" [checked]="r[w.id]" (change)="toggle(r, w.id)" /> {{ w.label }}</label>
            }
            @if (!r.said) {
              <button type="button" class="act" (click)="say(r)">it does none of these</button>
            }
          </div>
        }
      </section>
    }
  `,
  styles: `
    section {
      display: grid;
      gap: 8px;
      padding: 12px 14px;
      border: 1px solid var(--line-strong);
      border-radius: 5px;
      background: var(--sheet);
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 20px;
      align-items: center;
      min-height: 36px;
    }
    code {
      font-family: var(--figures);
      min-width: 200px;
    }
  `,
})
export class MacroList {
  readonly printer = input.required<Printer>();
  readonly changed = output<Macro[]>();
  protected readonly words = [
    { id: 'homes', label: 'homes the axes' },
    { id: 'heatsNozzle', label: 'heats the nozzle' },
    { id: 'heatsBed', label: 'heats the bed' },
  ] as const;

  protected readonly rows = computed(() => {
    const p = this.printer();
    return macrosIn(`${p.startCode}\n${p.endCode}`).map((name) => {
      const macro = p.macros.find((m) => m.name.toUpperCase() === name.toUpperCase());
      return { name, homes: false, heatsNozzle: false, heatsBed: false, ...macro, said: macro !== undefined };
    });
  });

  protected toggle(row: Macro, what: 'homes' | 'heatsNozzle' | 'heatsBed'): void {
    this.say({ ...row, [what]: !row[what] });
  }

  protected say({ name, homes, heatsNozzle, heatsBed }: Macro): void {
    const others = this.printer().macros.filter((m) => m.name.toUpperCase() !== name.toUpperCase());
    this.changed.emit([...others, { name, homes, heatsNozzle, heatsBed }]);
  }
}
