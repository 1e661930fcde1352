import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { ProgressBar } from 'primeng/progressbar';
import { duration, show } from '#core/base';
import { PrintRun } from '../data/print-run';
import { TrialDesk } from './trial-desk';

/** Print under way: how far it is, how hot, what is left, and the large button that stops it. */
@Component({
  selector: 'st-run-panel',
  imports: [ProgressBar],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (run.under(); as u) {
      <section aria-label="Print under way" class="way">
        <h2>{{ heading() }}</h2>
        <p-progressbar [value]="percent()" [showValue]="false" aria-label="Printed" />
        <p class="small soft" aria-live="polite">{{ words() }}</p>
        @if (u.why; as w) {
          <p class="small" [class.wrong]="u.state === 'failed'" role="status">{{ w }}</p>
        }
      </section>
      <section aria-label="What the printer reports" class="reports">
        <h2>{{ u.context.printer.name }} <span class="practice">practice printer</span></h2>
        <dl>
          <dt>nozzle</dt>
          <dd>{{ heat(u.nozzle, u.target) }}</dd>
          <dt>bed</dt>
          <dd>{{ heat(u.bed, u.bedTarget) }}</dd>
          <dt>height</dt>
          <dd>{{ height() }}</dd>
          @if (row(); as r) {
            <dt>prints</dt>
            <dd>{{ r }}</dd>
          }
        </dl>
      </section>
      <section class="acts" aria-label="Steer the print">
        @switch (u.state) {
          @case ('printing') {
            <button type="button" class="act" (click)="run.pause()">Pause</button>
            <button type="button" class="act" (click)="run.pace(!u.fast)">
              {{ u.fast ? 'As slow as a printer' : 'As fast as it can' }}
            </button>
          }
          @case ('paused') {
            <button type="button" class="act main" (click)="run.goOn()">Go on</button>
            <p class="small soft">The head is lifted and parked, the nozzle stays hot.</p>
          }
          @case ('stopped') {
            <button type="button" class="act main" (click)="run.develop()">Look at what is printed</button>
            <button type="button" class="act" (click)="run.putAway()">Put it away</button>
          }
          @case ('failed') {
            <button type="button" class="act" (click)="run.putAway()">Put it away</button>
          }
        }
      </section>
      @if (run.active()) {
        <button type="button" class="stop" (click)="run.stop()">Stop<span>F8 · heaters off at once</span></button>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr) 190px 170px;
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
    .stop {
      display: grid;
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
      connecting: 'Connecting …',
      printing: 'Printing',
      paused: 'Paused',
      photographing: 'Printed: weighing and photographing it …',
      done: 'Printed',
      stopped: 'Stopped, heaters off',
      failed: 'The print has failed',
    }[u.state];
  });
  protected readonly percent = computed(() => {
    const u = this.run.under();
    return u && u.total > 0 ? Math.round((100 * u.place) / u.total) : 0;
  });
  protected readonly words = computed(() => {
    const u = this.run.under();
    if (!u) return '';
    const lines = `${u.place} of ${u.total} lines`;
    if (u.state !== 'printing' && u.state !== 'paused') return lines;
    const left = u.layers.filter((l) => l.z > u.z + 1e-6).reduce((sum, l) => sum + l.time, 0);
    return `${lines}; ${duration(left)} of printing left by the plan${u.fast ? ', as fast as it can here' : ''}`;
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

  protected heat(now: number | undefined, target: number | undefined): string {
    if (now === undefined) return '–';
    return `${show(now, 0)} °C${target ? ` of ${show(target, 0)}` : ''}`;
  }
}
