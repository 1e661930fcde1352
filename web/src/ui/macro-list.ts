import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { arithmetic } from '#core/base';
import { declarable, MOST_MACROS, type Macro, type Printer } from '#core/context';
import { macrosIn } from '#core/firmware';
import type { Inspection } from '#core/inspect';

/** A command of which it must be said what it does, and where it was met. */
export interface Called {
  name: string;
  words?: string | undefined;
}

/** What a file calls of which it can be, or was, said what it does on this printer, with how often. */
export const calledIn = (
  { unknown, macros }: Pick<Inspection, 'unknown' | 'macros'>,
  { firmware }: Pick<Printer, 'firmware'>,
): Called[] =>
  Object.entries({ ...unknown, ...macros })
    .filter(([name]) => declarable(name, firmware))
    .map(([name, count]) => ({ name, words: count === 1 ? 'once' : `${count} times` }));

/** What each macro or unknown command does: the program cannot see it, so it must be said, once for a printer. */
@Component({
  selector: 'st-macro-list',
  imports: [FormsModule, Checkbox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (rows().length) {
      <section aria-labelledby="macros">
        <h2 id="macros">{{ heading() }}</h2>
        <p class="soft small">{{ text() }}</p>
        @for (r of rows(); track r.name) {
          <div class="row" role="group" [attr.aria-label]="r.name">
            <span class="name"
              ><code>{{ r.name }}</code>
              @if (r.words) {
                <span class="soft small">{{ r.words }}</span>
              }
            </span>
            <span class="does">
              @for (w of words; track w.id) {
                <label
                  ><p-checkbox [binary]="true" [ngModel]="r.does[w.id] ?? false" (ngModelChange)="toggle(r, w.id)" />
                  {{ w.label }}</label
                >
                @if (w.id === 'heatsNozzle' && r.does.heatsNozzle) {
                  <label
                    >to
                    <input
                      class="figures"
                      size="4"
                      inputmode="decimal"
                      [attr.aria-label]="'°C that ' + r.name + ' heats the nozzle to'"
                      [value]="r.does.nozzle ?? ''"
                      (change)="heat(r, $any($event.target))"
                    />
                    °C, where its words do not say</label
                  >
                }
              }
              @if (!r.said) {
                <button type="button" class="act" (click)="none(r)">it does none of these</button>
              } @else {
                <button type="button" class="act" (click)="forget(r)">take back</button>
              }
            </span>
          </div>
        }
        @if (full()) {
          <p class="wrong" role="alert">Of {{ most }} macros it can be said what they do; take one back first.</p>
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
    h2,
    p {
      margin: 0;
    }
    .row {
      display: flex;
      flex-wrap: wrap;
      gap: 6px 20px;
      align-items: center;
      min-height: 36px;
    }
    .row + .row {
      border-top: 1px solid var(--line);
      padding-top: 8px;
    }
    .name {
      flex: 0 1 200px;
      display: grid;
      overflow-wrap: anywhere;
    }
    .does {
      flex: 1 1 240px;
      display: flex;
      flex-wrap: wrap;
      gap: 6px 18px;
      align-items: center;
    }
    code {
      font-family: var(--figures);
    }
  `,
})
export class MacroList {
  readonly printer = input.required<Pick<Printer, 'macros' | 'startCode' | 'endCode'>>();
  /** What is asked of; the macros of start and end code where left out. */
  readonly called = input<readonly Called[] | undefined>(undefined);
  readonly heading = input('What do these macros do?');
  readonly text = input(
    'They stand in the start or end code, and no file tells what they do. Temperatures are asserted again after them.',
  );
  readonly changed = output<Macro[]>();
  protected readonly most = MOST_MACROS;
  protected readonly words = [
    { id: 'homes', label: 'homes the axes' },
    { id: 'moves', label: 'moves the head' },
    { id: 'heatsNozzle', label: 'heats the nozzle and waits' },
    { id: 'heatsBed', label: 'heats the bed' },
    { id: 'cools', label: 'switches heaters off' },
    { id: 'pauses', label: 'pauses' },
  ] as const;

  protected readonly rows = computed(() => {
    const p = this.printer();
    // What was said of commands in files is shown with those of start and end code, to be taken back.
    const own = [...macrosIn(`${p.startCode}\n${p.endCode}`), ...p.macros.map((m) => m.name)];
    const once = own.filter((name, i) => own.findIndex((o) => o.toUpperCase() === name.toUpperCase()) === i);
    const called = this.called() ?? once.map((name): Called => ({ name }));
    return called.map(({ name, words }) => {
      const macro = p.macros.find((m) => m.name.toUpperCase() === name.toUpperCase());
      const none = { name, homes: false, heatsNozzle: false, heatsBed: false };
      // Where nothing is said, it may move.
      const does = {
        cools: false,
        pauses: false,
        ...none,
        ...macro,
        moves: macro !== undefined && macro.moves !== false,
      };
      return { name, words, does, said: macro !== undefined };
    });
  });
  protected readonly full = computed(
    () => this.printer().macros.length >= MOST_MACROS && this.rows().some((r) => !r.said),
  );

  protected toggle(row: ReturnType<MacroList['rows']>[number], what: (typeof this.words)[number]['id']): void {
    this.say({ ...row.does, ...(!row.said && { moves: true }), [what]: !row.does[what] });
  }

  protected heat(row: ReturnType<MacroList['rows']>[number], field: HTMLInputElement): void {
    const read = arithmetic(field.value, '°C', 'nozzle');
    const { nozzle: _, ...rest } = row.does;
    const degrees = read.ok && read.value > 0 && read.value <= 500 ? read.value : undefined;
    // What is no temperature is not kept; the field shows what is.
    if (degrees === undefined && field.value.trim() !== '') field.value = String(row.does.nozzle ?? '');
    else this.say({ ...rest, ...(degrees !== undefined && { nozzle: degrees }) });
  }

  protected none({ name }: Called): void {
    this.say({ name, homes: false, heatsNozzle: false, heatsBed: false, moves: false });
  }

  protected forget({ name }: Called): void {
    this.changed.emit(this.others(name));
  }

  private others(name: string): Macro[] {
    return this.printer().macros.filter((m) => m.name.toUpperCase() !== name.toUpperCase());
  }

  private say(macro: Macro): void {
    const others = this.others(macro.name);
    if (others.length >= MOST_MACROS) return;
    this.changed.emit([...others, macro]);
  }
}
