import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Checkbox } from 'primeng/checkbox';
import { InputText } from 'primeng/inputtext';
import { ProgressBar } from 'primeng/progressbar';
import { Select } from 'primeng/select';
import { dayOf, daysBetween, sizeWords } from '#core/base';
import { dryingDays, MOST_MACROS, type Macro } from '#core/context';
import { factorOf, levelWords } from '#core/factors';
import { asPrint, testOnlyWords } from '#core/trial';
import { download, fileName } from '../data/download';
import { textLimits } from '#core/route';
import { Keeper } from '../data/keeper';
import { calledIn, MacroList } from '../ui/macro-list';
import { PrintWhere } from './print-where';
import { TrialDesk } from './trial-desk';
import { Limit } from '../ui/limit';

/** Print: the checked file, what to see to before, and the conditions of the print. */
@Component({
  selector: 'st-print-panel',
  imports: [Limit, FormsModule, InputText, MacroList, PrintWhere, ProgressBar, Select, RouterLink, Checkbox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="file" aria-label="File">
      @if (desk.byPrint()) {
        <p-select
          [options]="printOptions()"
          optionLabel="label"
          optionValue="index"
          [ngModel]="desk.printIndex()"
          (ngModelChange)="desk.printIndex.set($event)"
          ariaLabel="Which print"
        />
      }
      @switch (making().state) {
        @case ('working') {
          <p>Making the file: {{ progress()?.stage }} …</p>
          <p-progressbar [value]="percent()" [showValue]="false" aria-label="Making the file" />
          <button type="button" class="act" (click)="desk.cancel()">Cancel</button>
        }
        @case ('refused') {
          @if (cancelled()) {
            <p>The making was cancelled.</p>
            <button type="button" class="act" (click)="desk.again()">Make it again</button>
          } @else {
            <p class="wrong">No file leaves, because:</p>
            @for (f of desk.refused(); track f) {
              <p class="wrong small">{{ f }}</p>
            }
            <button type="button" class="act" (click)="desk.again()">Make it again</button>
          }
        }
        @case ('made') {
          <!-- A plan that has just changed is made in a moment: till then the file is that of before. -->
          <button type="button" class="act main" (click)="save()" [disabled]="!desk.current()">
            <i class="pi pi-download" aria-hidden="true"></i>Download the G-code
          </button>
          <div class="row">
            <button type="button" class="act" (click)="toolpath.emit()">Look at the toolpath</button>
            <a class="act" [routerLink]="['/trial', desk.id(), 'labels']">Label map</a>
          </div>
          <st-print-where />
          <p class="small soft">{{ size() }}, read back and checked</p>
        }
        @default {
          <p class="wrong">The plan has faults; see Plan.</p>
        }
      }
    </section>
    <section aria-label="Before printing" class="list">
      <h2>Before printing</h2>
      @for (c of checklist(); track c.id) {
        <label
          ><p-checkbox [binary]="true" [ngModel]="checked(c.id)" (ngModelChange)="tick(c.id)" /> {{ c.words }}</label
        >
      }
    </section>
    <section aria-label="What to know" class="warnings" tabindex="0">
      <h2>What to know</h2>
      <ul>
        @for (w of warnings(); track w) {
          <li>{{ w }}</li>
        } @empty {
          <li class="soft">Nothing in the file needs attention.</li>
        }
      </ul>
      @if (called(); as asked) {
        <st-macro-list
          [printer]="asked.printer"
          [called]="asked.names"
          heading="What do these do?"
          text="They stand in the file, and nobody has said what they do. It is kept with the printer."
          (changed)="said($event)"
        />
      }
      @if (ifStopped().length > 0) {
        <h3 id="if-stopped">If you stop it early</h3>
        <ul aria-labelledby="if-stopped">
          @for (w of ifStopped(); track w) {
            <li>{{ w }}</li>
          }
        </ul>
      }
    </section>
    <section aria-label="Printed" class="printed">
      <h2>
        {{ prints() ? 'Printed on ' + printedOn() + (practised() ? ', practice printer' : '') : 'When it is printed' }}
      </h2>
      @if (!prints() || again()) {
        <div class="conditions">
          <label for="c-firmware">firmware</label
          ><input pInputText id="c-firmware" [stLimit]="limits.firmware" [(ngModel)]="firmware" placeholder="version" />
          <label for="c-room">room</label
          ><input pInputText id="c-room" [stLimit]="limits.room" [(ngModel)]="room" placeholder="21 °C, 45 %" />
          <label for="c-drying">drying</label
          ><input pInputText id="c-drying" [stLimit]="limits.drying" [(ngModel)]="drying" placeholder="6 h at 65 °C" />
        </div>
        @if (desk.refused().length > 0 || desk.faults().length > 0) {
          <p class="small soft">No file leaves, so there is nothing to print yet.</p>
        } @else {
          <button
            type="button"
            class="act"
            [class.main]="making().state !== 'working' && downloaded()"
            (click)="printed()"
          >
            {{ another() ? 'It is printed: on to the next' : 'It is printed: read it' }}
          </button>
          @if (desk.printed()) {
            <button type="button" class="act" (click)="desk.go('read')">Read what is printed</button>
          }
        }
      } @else {
        <p class="small soft">{{ conditionWords() }}</p>
        <div class="row">
          <button type="button" class="act" (click)="desk.go('read')">Read it</button>
          <button type="button" class="act" (click)="again.set(true)">Printed again</button>
        </div>
      }
    </section>
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 220px minmax(0, 1fr) minmax(0, 1.3fr) 235px;
      gap: 26px;
    }
    section {
      display: grid;
      gap: 6px;
      align-content: start;
      min-width: 0;
    }
    h2 {
      font-size: 13px;
    }
    .row {
      display: flex;
      gap: 6px;
    }
    .row .act {
      padding-inline: 9px;
      font-size: 13px;
    }
    .list label {
      display: flex;
      gap: 8px;
      align-items: start;
      font-size: 13px;
      line-height: 1.3;
    }
    ul {
      margin: 0;
      padding-left: 16px;
      font-size: 12.5px;
      line-height: 1.35;
    }
    .warnings {
      max-height: 166px;
      overflow: auto;
    }
    h3 {
      margin: 0;
      font-size: 12.5px;
    }
    .conditions {
      display: grid;
      grid-template-columns: auto 1fr;
      gap: 3px 8px;
      align-items: center;
      font-size: 12.5px;
    }
    .conditions input {
      padding: 2px 6px;
      font-size: 13px;
      min-width: 0;
    }
    @media (max-width: 1180px) {
      :host {
        grid-template-columns: 220px minmax(0, 1fr);
      }
    }
  `,
})
export class PrintPanel {
  protected readonly desk = inject(TrialDesk);
  protected readonly keeper = inject(Keeper);
  readonly toolpath = output<void>();
  protected readonly making = this.desk.making;
  protected readonly downloaded = signal(false);
  protected firmware = '';
  protected room = '';
  protected drying = '';

  protected readonly progress = computed(() => {
    const m = this.making();
    return m.state === 'working' ? m.progress : undefined;
  });
  protected readonly percent = computed(() => {
    const p = this.progress();
    if (!p) return 0;
    // Of a file carried into, the lines are read and written before it is read back.
    const [from, width] = { toolpath: [0, 75], carrying: [40, 35], 'reading back': [75, 25] }[p.stage] ?? [0, 40];
    return Math.round(from! + (width! * p.done) / Math.max(1, p.of));
  });
  protected readonly cancelled = computed(() => {
    const m = this.making();
    return m.state === 'refused' && m.cancelled;
  });
  protected readonly size = computed(
    () => `${sizeWords(this.desk.made()?.bytes.length ?? 0)}, ${this.desk.made()?.report.layers ?? 0} layers`,
  );
  protected readonly warnings = computed(() => {
    const r = this.desk.made()?.report;
    const trial = this.desk.record()?.trial;
    const own = trial ? testOnlyWords(trial) : [];
    return r
      ? [
          ...(own.length > 0
            ? [`Only in this print: ${own.join(', ')}. The tune sheet keeps the pair’s own values.`]
            : []),
          ...r.warnings,
        ]
      : [];
  });
  /** What the file calls of which nobody has said what it does. */
  protected readonly called = computed(() => {
    const [trial, seen] = [this.desk.record()?.trial, this.desk.made()?.inspection];
    const printer = trial?.context.printer;
    // Of our own files, start and end code alone call macros: they are asked for with the printer.
    const names = printer && seen && trial.source ? calledIn(seen, printer) : [];
    return printer && names.length > 0 ? { printer, names } : undefined;
  });

  /** Kept in the trial, where the file is made anew by it, and with the printer for every other. */
  protected said(macros: Macro[]): void {
    const id = this.desk.record()?.trial.context.printer.id;
    this.desk.change('say what a macro does', (r) => {
      const { context } = r.trial;
      return { ...r, trial: { ...r.trial, context: { ...context, printer: { ...context.printer, macros } } } };
    });
    const own = this.keeper.find('printers', id);
    if (!own) return;
    const others = own.macros.filter((m) => !macros.some((n) => n.name === m.name));
    this.keeper.save('printers', { ...own, macros: [...others, ...macros].slice(0, MOST_MACROS) });
  }

  protected readonly ifStopped = computed(() => this.desk.made()?.report.ifStopped ?? []);
  /** Whether the print in hand is printed; of a trial by print each has its own. */
  protected readonly prints = computed(() => (this.desk.print() ? 1 : 0));
  protected readonly practised = computed(() => this.desk.print()?.practice ?? false);
  protected readonly printedOn = computed(() => this.desk.print()?.on ?? '');
  protected readonly printOptions = computed(() => {
    const axis = this.desk.byPrint();
    const factor = axis && factorOf(axis.factor);
    return (axis?.levels ?? []).map((level, index) => ({
      index,
      // Which print of a confirmation holds which value is not told before it is judged.
      label: `print ${index + 1}${this.desk.record()?.confirms ? '' : `: ${factor ? levelWords(factor, level) : level}`}${this.desk.printOf(index) ? ', printed' : ''}`,
    }));
  });
  protected readonly conditionWords = computed(() => {
    const c = this.desk.print()?.conditions;
    return c
      ? [c.firmware && `firmware ${c.firmware}`, c.room, c.drying].filter((w) => w).join(' · ') || 'no conditions noted'
      : '';
  });

  protected readonly checklist = computed(() => {
    const f = this.desk.record()?.trial.context.filament;
    if (!f) return [];
    const days = f.driedOn ? daysBetween(f.driedOn, dayOf()) : undefined;
    const dry =
      days === undefined
        ? 'filament dry (no date is noted)'
        : `filament dry (dried ${days} days ago; ${f.material} keeps ${dryingDays[f.material]})`;
    const mass = this.desk.made()?.report.filament.mass ?? 0;
    // What this stop settles itself is not asked for first; what lays nothing needs no bed.
    const own = this.desk.record()?.stop;
    const bed = own === 'first-layer' ? 'bed clean' : 'bed clean, first layer fine';
    return [
      { id: 'dry', words: dry },
      { id: 'spool', words: `spool can finish: ${Math.round(f.massLeft)} g left, ${mass.toFixed(1)} g needed` },
      ...(this.desk.pushes() ? [] : [{ id: 'first-layer', words: bed }]),
      ...(own === 'feed' ? [] : [{ id: 'feed', words: 'extruder feed checked' }]),
      ...this.byHand().map((words) => ({ id: `hand-${words}`.slice(0, 60), words })),
    ];
  });

  /** What the person sets up: a condition of the print that no file brings about. */
  private byHand(): string[] {
    const axis = this.desk.byPrint();
    const factor = axis && factorOf(axis.factor);
    if (!axis || !factor || factor.setting) return [];
    return [`${factor.label}: ${levelWords(factor, axis.levels[this.desk.printIndex()]!)}`];
  }

  protected checked(id: string): boolean {
    return this.desk.record()?.checklist[id] ?? false;
  }

  protected tick(id: string): void {
    this.desk.change('checklist', (r) => ({ ...r, checklist: { ...r.checklist, [id]: !this.checked(id) } }));
  }

  protected save(): void {
    const made = this.desk.made();
    const trial = this.desk.record()?.trial;
    if (!made || !trial || !this.desk.current()) return;
    const { printer, filament } = trial.context;
    const print = this.desk.byPrint() ? `print ${asPrint(trial, this.desk.printIndex()).print! + 1}` : '';
    download(fileName(`${printer.name} ${filament.name} ${trial.title} ${print}`, 'gcode'), made.bytes, 'text/x-gcode');
    this.downloaded.set(true);
  }

  /** One more print of the same trial is being noted; its readings are replicates. */
  protected readonly limits = textLimits;
  protected readonly again = signal(false);

  private readonly unprinted = computed(() => this.printOptions().filter((o) => !this.desk.printOf(o.index)));
  /** Whether a print is still to be made when this one is. */
  protected readonly another = computed(() => this.unprinted().some((o) => o.index !== this.desk.printIndex()));

  protected printed(): void {
    this.again.set(false);
    const { firmware, room, drying } = this;
    this.desk.notePrinted(this.desk.printIndex(), { firmware, room, drying, note: '' });
    // Of several prints the next one comes before reading.
    const next = this.unprinted()[0];
    if (next) this.desk.printIndex.set(next.index);
    else this.desk.go('read');
  }
}
