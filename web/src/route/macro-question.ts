import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { listed } from '#core/base';
import type { Printer } from '#core/context';
import { macrosIn } from '#core/firmware';

/** What a trial from a file says of macros: nobody here has said it, so it is asked before anything is made with it. */
@Component({
  selector: 'st-macro-question',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section role="group" aria-labelledby="macro-question">
      <h2 id="macro-question">Is this so on your printer?</h2>
      <p>
        The file was made for <b>{{ printer().name }}</b>, and says itself what its macros do. What they do no check can
        see.
      </p>
      <ul>
        @for (m of said(); track m.name) {
          <li>
            <code>{{ m.name }}</code> {{ m.words }}
          </li>
        }
      </ul>
      <details>
        <summary>Its start and end code</summary>
        <pre>{{ printer().startCode }}</pre>
        <pre>{{ printer().endCode }}</pre>
      </details>
      <div class="choices">
        <button type="button" class="act" (click)="answered.emit(false)">No, leave it</button>
        <button type="button" class="act main" (click)="answered.emit(true)">Yes, open the trial</button>
      </div>
    </section>
  `,
  styles: `
    section {
      display: grid;
      gap: 8px;
      max-width: 640px;
      padding: 12px 14px;
      border: 1px solid var(--line-strong);
      border-radius: 5px;
      background: var(--sheet);
    }
    h2,
    p,
    ul {
      margin: 0;
    }
    pre {
      overflow: auto;
      max-height: 160px;
      margin: 6px 0;
      padding: 8px;
      background: var(--well);
      font-family: var(--figures);
      font-size: 13px;
    }
    .choices {
      display: flex;
      justify-content: flex-end;
      gap: 10px;
    }
  `,
})
export class MacroQuestion {
  readonly printer = input.required<Printer>();
  readonly answered = output<boolean>();
  protected readonly said = computed(() => declaredIn(this.printer()).map((m) => ({ name: m.name, words: doing(m) })));
}

/** The macros that a printer's code calls, as they are declared. */
export function declaredIn(printer: Printer): Printer['macros'] {
  const called = macrosIn(`${printer.startCode}\n${printer.endCode}`).map((name) => name.toUpperCase());
  return printer.macros.filter((m) => called.includes(m.name.toUpperCase()));
}

function doing(m: Printer['macros'][number]): string {
  const does = [
    ...(m.homes ? ['homes the axes'] : []),
    ...(m.heatsNozzle ? ['heats the nozzle'] : []),
    ...(m.heatsBed ? ['heats the bed'] : []),
  ];
  return does.length > 0 ? listed(does) : 'homes and heats nothing';
}
