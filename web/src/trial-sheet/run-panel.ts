import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NgTemplateOutlet } from '@angular/common';
import { FormsModule } from '@angular/forms';
import { InputText } from 'primeng/inputtext';
import { duration, show } from '#core/base';
import { textLimits } from '#core/route';
import { heightsOf } from '#core/settle';
import { Habits } from '../data/habits';
import { PrintRun } from '../data/print-run';
import type { Mark } from '../data/run-job';
import { Limit } from '../ui/limit';
import { TrialDesk } from './trial-desk';

/** Print under way: how far it is, how hot, what is left, and the large button that stops it. */
@Component({
  selector: 'st-run-panel',
  imports: [FormsModule, InputText, Limit, NgTemplateOutlet],
  host: { '(document:keydown.f)': 'key($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (run.under(); as u) {
      <section aria-label="Print under way" class="way">
        <h2>{{ heading() }}</h2>
        <progress [value]="percent()" max="100" aria-label="Printed"></progress>
        <p class="small soft" aria-live="polite">{{ words() }}</p>
        @if (u.why; as w) {
          <p class="small" [class.wrong]="u.state === 'failed'" role="status">{{ w }}</p>
        }
        @if (u.state === 'asking') {
          <p class="small" id="it-differs">It says of itself what the printer on the shelf is not:</p>
          <ul class="small" aria-labelledby="it-differs" tabindex="0">
            @for (d of u.differences; track d) {
              <li>{{ d }}</li>
            }
          </ul>
        }
      </section>
      <section aria-label="What the printer reports" class="reports">
        <h2>
          {{ u.context.printer.name }}
          @if (u.met.practice) {
            <span class="practice">practice printer</span>
          }
        </h2>
        <dl>
          <dt>nozzle</dt>
          <dd>{{ heat(u.nozzle, u.target) }}</dd>
          <dt>bed</dt>
          <dd>{{ heat(u.bed, u.bedTarget) }}</dd>
          <dt>height</dt>
          <dd>{{ height() }}</dd>
          @if (wire(); as w) {
            <dt>wire</dt>
            <dd>{{ w }}</dd>
          }
          @if (row(); as r) {
            <dt>prints</dt>
            <dd>{{ r }}</dd>
          }
        </dl>
      </section>
      <section class="acts" aria-label="Steer the print">
        @if (markable() !== undefined) {
          <div class="mark">
            <button type="button" class="act" (click)="mark()">It fails here <kbd>F</kbd></button>
            <input
              pInputText
              aria-label="What fails"
              placeholder="what fails"
              [stLimit]="most"
              [ngModel]="note()"
              (ngModelChange)="note.set($event)"
            />
          </div>
        }
        @for (m of u.marks; track $index) {
          <p class="small" role="status">
            {{ marked(m) }}
            @if ($last && run.active()) {
              <button type="button" class="act bare small" aria-label="Take the mark back" (click)="run.unmark()">
                ✕
              </button>
            }
          </p>
        }
        @switch (u.state) {
          @case ('printing') {
            <button type="button" class="act" (click)="run.pause()">Pause</button>
            @if (u.via.kind === 'practice') {
              <button type="button" class="act" (click)="run.pace(!u.fast)">
                {{ u.fast ? 'As slow as a printer' : 'As fast as it can' }}
              </button>
            }
          }
          @case ('paused') {
            <button type="button" class="act main" (click)="run.goOn()">Go on</button>
            <p class="small soft">The head is lifted and parked, the nozzle stays hot.</p>
          }
          @case ('asking') {
            <button type="button" class="act main" (click)="run.refuse()">Do not print</button>
            <button type="button" class="act" (click)="run.accept()">Print all the same</button>
            <p class="small soft">Nothing was sent to it yet but the question who it is.</p>
          }
          @case ('apart') {
            <p class="small">What it has it goes on printing; the rest waits here, and nothing is printed twice.</p>
            <button type="button" class="act main" (click)="run.connectAgain()">Connect again</button>
            <button type="button" class="act" (click)="run.stop()">Give it up</button>
          }
          @case ('stopped') {
            <ng-container [ngTemplateOutlet]="ended" />
          }
          @case ('failed') {
            <ng-container [ngTemplateOutlet]="ended" />
          }
        }
      </section>
      <ng-template #ended>
        @if (u.place > 0) {
          @if (u.met.practice) {
            <button type="button" class="act main" (click)="run.develop()">Look at what is printed</button>
          } @else {
            <button type="button" class="act main" (click)="run.finish()">Note it as printed so far</button>
          }
        }
        <button type="button" class="act" (click)="run.putAway()">Put it away</button>
      </ng-template>
      @if (run.tellable()) {
        <button type="button" class="stop" (click)="run.stop()">Stop<span>F8 · heaters off at once</span></button>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr) minmax(0, 0.8fr) 280px 170px;
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
    .practice {
      margin-left: 6px;
      padding: 1px 7px;
      border: 1px dashed var(--ink-faint);
      border-radius: 9px;
      color: var(--ink-soft);
      font-weight: 480;
      font-size: 12px;
    }
    dl {
      display: grid;
      grid-template-columns: auto 1fr;
      gap: 2px 12px;
      margin: 0;
      font-size: 13px;
    }
    dt {
      color: var(--ink-soft);
    }
    dd {
      margin: 0;
      font-variant-numeric: tabular-nums;
    }
    progress {
      width: 100%;
      height: 14px;
    }
    .mark {
      display: grid;
      gap: 4px;
    }
    .mark input {
      padding: 2px 6px;
      font-size: 13px;
      min-width: 0;
    }
    kbd {
      margin-left: 6px;
      padding: 0 5px;
      border: 1px solid var(--line-strong);
      border-radius: 3px;
      font: 12px var(--figures);
    }
    ul {
      max-height: 132px;
      margin: 0;
      padding-left: 16px;
      overflow: auto;
      line-height: 1.35;
    }
    .stop {
      display: grid;
      align-self: start;
      place-content: center;
      gap: 2px;
      min-height: 92px;
      border: 0;
      border-radius: 6px;
      background: var(--fault);
      color: var(--on-madder);
      font: inherit;
      font-size: 22px;
      font-weight: 680;
      cursor: pointer;
    }
    .stop span {
      font-size: 12px;
      font-weight: 480;
    }
    @media (max-width: 1180px) {
      :host {
        grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
      }
    }
  `,
})
export class RunPanel {
  protected readonly run = inject(PrintRun);
  private readonly desk = inject(TrialDesk);

  protected readonly heading = computed(() => {
    const u = this.run.under();
    if (!u) return '';
    return {
      connecting: 'Asking the printer where it stands …',
      asking: 'Is this the right printer?',
      apart: 'The wire is broken',
      printing: 'Printing',
      paused: 'Paused',
      photographing: 'Printed: weighing and photographing it …',
      done: 'Printed',
      stopped: 'Stopped, heaters off',
      failed: 'The print has failed',
    }[u.state];
  });
  /** Over what it goes, where that is not the page itself. */
  protected readonly wire = computed(
    () =>
      ({ practice: '', network: 'over the network', serial: 'at a cable' })[this.run.under()?.via.kind ?? 'practice'],
  );
  protected readonly percent = computed(() => {
    const u = this.run.under();
    return u && u.total > 0 ? Math.round((100 * u.place) / u.total) : 0;
  });
  protected readonly words = computed(() => {
    const u = this.run.under();
    if (!u) return '';
    const lines = `${u.place} of ${u.total} lines`;
    if (u.state !== 'printing' && u.state !== 'paused') return lines;
    const pace = this.desk.pace()?.ratio ?? 1;
    const left = pace * u.layers.filter((l) => l.z > u.z + 1e-6).reduce((sum, l) => sum + l.time, 0);
    return `${lines}; ${duration(left)} of printing left by the plan${u.fast && u.via.kind === 'practice' ? ', as fast as it can here' : ''}`;
  });
  protected readonly height = computed(() => {
    const u = this.run.under();
    const top = u?.layers.at(-1)?.z;
    return u ? `${show(u.z, 2)} mm${top ? ` of ${show(top, 1)}` : ''}` : '';
  });
  /** The cell that is printed now, where cells lie above one another. */
  protected readonly row = computed(() => {
    const at = this.desk.climbs()?.cell;
    return at === undefined ? '' : (this.desk.plan()?.cells.find((c) => c.id === at)?.label ?? '');
  });

  protected readonly most = textLimits.note;
  protected readonly note = signal('');
  private readonly habits = inject(Habits);

  /** The cell at the height reached, where heights tell values. */
  protected readonly markable = computed(() => {
    const plan = this.desk.plan();
    return plan && heightsOf(plan) ? this.desk.climbs()?.cell : undefined;
  });

  protected mark(): void {
    const cell = this.markable();
    if (cell === undefined) return;
    this.run.mark(cell, this.note());
    this.note.set('');
  }

  protected marked({ z, cell, note }: Mark): string {
    const label = this.desk.plan()?.cells.find((c) => c.id === cell)?.label ?? '';
    return `fails at ${show(z, 1)} mm, ${label}${note ? `: ${note}` : ''}; the rest need not be printed`;
  }

  protected key(event: Event): void {
    const target = event.target as HTMLElement;
    if (!this.habits.keys() || target.closest('input, textarea, [role="dialog"]')) return;
    if (this.markable() === undefined) return;
    event.preventDefault();
    this.mark();
  }

  protected heat(now: number | undefined, target: number | undefined): string {
    if (now === undefined) return '–';
    return `${show(now, 0)} °C${target ? ` of ${show(target, 0)}` : target === 0 ? ', off' : ''}`;
  }
}
