import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { codeBench, heldBack } from '#core/check';
import type { Macro, Printer } from '#core/context';
import { MacroList, type Called } from '../ui/macro-list';

/** Start and end code line by line as they are typed: what each line does, and what speaks against it. */
@Component({
  selector: 'st-code-bench',
  imports: [MacroList],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-labelledby="code-bench">
      <h2 id="code-bench">What the code does</h2>
      <p class="soft small">
        Units and modes are written before and after it, so none are asked for here. The nozzle is primed beside the
        part unless the start code pushes filament itself.
      </p>
      <div class="sides">
        @for (side of sides(); track side.id) {
          <table>
            <caption>
              {{
                side.label
              }}
            </caption>
            <tbody>
              @for (l of side.lines; track l.line) {
                <tr>
                  <td class="figures soft">{{ l.line }}</td>
                  <td class="code">
                    <code>{{ l.text }}</code>
                  </td>
                  <td>
                    @if (l.unknown) {
                      <span class="wrong">Nobody has said what {{ l.unknown }} does: say it below.</span>
                    } @else {
                      <span class="soft">{{ l.does }}</span>
                    }
                    @for (w of l.wrong; track w.wrong) {
                      <p class="wrong" role="status">
                        {{ w.wrong }}; {{ w.right }}.
                        @if (asks(w.code)) {
                          <button type="button" class="act small" (click)="daily.emit(w.code)">
                            Its firmware holds it back
                          </button>
                        }
                      </p>
                    }
                  </td>
                </tr>
              }
            </tbody>
          </table>
        }
      </div>
      <st-macro-list
        [printer]="printer()"
        [called]="called()"
        heading="What do these commands do?"
        text="They stand in the start or end code, and no file tells what they do. Temperatures are asserted again after them."
        (changed)="macros.emit($event)"
      />
    </section>
  `,
  styles: `
    .sides {
      display: grid;
      grid-template-columns: repeat(auto-fit, minmax(360px, 1fr));
      gap: 8px 26px;
      align-items: start;
      margin: 8px 0 12px;
    }
    table {
      width: 100%;
      border-collapse: collapse;
    }
    caption {
      text-align: left;
      font-size: 12.5px;
      color: var(--ink-soft);
      padding-bottom: 2px;
      border-bottom: 1.5px solid var(--ink);
    }
    td {
      padding: 3px 10px 3px 0;
      border-bottom: 1px solid var(--line);
      vertical-align: top;
      font-size: 13px;
    }
    .code {
      max-width: 190px;
      overflow-wrap: anywhere;
    }
    p.wrong {
      margin: 2px 0 0;
      font-size: 12.5px;
    }
  `,
})
export class CodeBench {
  readonly printer = input.required<Printer>();
  /** What is said to be daily on this printer. */
  readonly daily = output<string>();
  readonly macros = output<Macro[]>();

  protected readonly sides = computed(() =>
    (
      [
        ['startCode', 'start code'],
        ['endCode', 'end code'],
      ] as const
    ).map(([id, label]) => ({ id, label, lines: codeBench(this.printer(), id).filter((l) => l.text.trim() !== '') })),
  );
  /** What stands there that no firmware knows, and what was said of commands before. */
  protected readonly called = computed<Called[]>(() => {
    const unknown = this.sides().flatMap((s) => s.lines.flatMap((l) => l.unknown ?? []));
    const said = this.printer().macros.map((m) => m.name);
    const once = [...unknown, ...said].filter(
      (name, i, all) => all.findIndex((o) => o.toUpperCase() === name.toUpperCase()) === i,
    );
    return once.map((name) => ({ name }));
  });

  protected asks(code: string): boolean {
    return code in heldBack;
  }
}
