import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, viewChild } from '@angular/core';
import { RouterLink } from '@angular/router';
import { MessageService } from 'primeng/api';
import { duration, show } from '#core/base';
import type { Pace } from '#core/route';
import { Habits } from '../data/habits';
import { PhoneLink } from './phone-link';
import { PhotoDrawer } from './photo-drawer';
import { PhotoStrips } from './photo-strips';
import { PlanPanel } from './plan-panel';
import { PrintPanel } from './print-panel';
import { ReadPanel } from './read-panel';
import { RunPanel } from './run-panel';
import { SettingsDrawer } from './settings-drawer';
import { SettlePanel } from './settle-panel';
import { Sheet } from './sheet';
import { ToolpathDrawer } from '../toolpath/toolpath-drawer';
import { TOOLPATH_SOURCE } from '../toolpath/toolpath-source';
import { TrialToolpath } from './trial-toolpath';
import { stages, TrialDesk, type Stage } from './trial-desk';

/** What an estimate of time goes by: the plan, or how long this printer’s prints took against theirs. */
function paceWords(pace: Pace | undefined): string {
  const percent = Math.round(100 * ((pace?.ratio ?? 1) - 1));
  if (!pace || percent === 0) return 'estimate';
  const prints = `${pace.prints} ${pace.practice ? 'practice ' : ''}${pace.prints === 1 ? 'print' : 'prints'}`;
  return `estimate, ${percent > 0 ? '+' : '−'}${Math.abs(percent)} % as ${prints} took`;
}

/** One trial on its sheet, from plan to settled value. */
@Component({
  selector: 'st-trial-page',
  imports: [
    Sheet,
    PlanPanel,
    PrintPanel,
    ReadPanel,
    RunPanel,
    SettlePanel,
    SettingsDrawer,
    ToolpathDrawer,
    PhotoDrawer,
    PhoneLink,
    RouterLink,
  ],
  providers: [TrialDesk, PhotoStrips, { provide: TOOLPATH_SOURCE, useClass: TrialToolpath }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (desk.record(); as record) {
      <header>
        <h1>{{ desk.trial()?.title }}</h1>
        <div class="second">
          <nav aria-label="Stages">
            @for (s of stageRows(); track s.id) {
              <button
                type="button"
                [class.here]="desk.stage() === s.id"
                [class.past]="s.past"
                [attr.aria-current]="desk.stage() === s.id ? 'step' : null"
                (click)="desk.go(s.id)"
              >
                <span class="mark" aria-hidden="true"></span>{{ s.label }}
              </button>
            }
          </nav>
          <span class="cost" aria-live="polite">{{ cost() }}</span>
          <st-phone-link />
          <button
            type="button"
            class="act bare small"
            [disabled]="desk.history().at === 0"
            (click)="undo()"
            title="Undo (Ctrl Z)"
          >
            <i class="pi pi-undo" aria-hidden="true"></i><span class="visually-hidden">Undo</span>
          </button>
          <button
            type="button"
            class="act bare small"
            [disabled]="desk.history().at === desk.history().steps.length"
            (click)="redo()"
            title="Redo (Ctrl Y)"
          >
            <i class="pi pi-refresh" aria-hidden="true"></i><span class="visually-hidden">Redo</span>
          </button>
        </div>
      </header>
      <st-sheet />
      <div class="panel">
        <!-- A page all at once is felt: the sheet comes first, the panel next, what is closed at first last. -->
        @defer (on timer(0)) {
          @switch (desk.stage()) {
            @case ('plan') {
              <st-plan-panel (settings)="settings.set(true)" />
            }
            @case ('print') {
              @if (desk.running(); as r) {
                @if (r.state !== 'done') {
                  <st-run-panel />
                } @else {
                  <st-print-panel (toolpath)="toolpath.set(true)" />
                }
              } @else {
                <st-print-panel (toolpath)="toolpath.set(true)" />
              }
            }
            @case ('read') {
              <st-read-panel (photos)="photos.set(true)" (closeUp)="closeUp($event)" />
            }
            @case ('settle') {
              <st-settle-panel />
            }
          }
        } @placeholder {
          <div class="coming"></div>
        }
        @defer (on timer(80ms)) {
          <st-settings-drawer [(open)]="settings" />
          <st-photo-drawer [(open)]="photos" />
          <st-toolpath-drawer [(open)]="toolpath" />
        }
      </div>
    } @else {
      <div class="missing">
        <h1>This trial is not here</h1>
        <p class="soft">It may have been made in another browser, or removed. A backup brings it along.</p>
        <a class="act" routerLink="/">Go to the route</a>
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-rows: auto minmax(320px, 1fr) minmax(max-content, auto);
      gap: 10px;
      height: 100%;
      min-height: 620px;
      padding: 14px 22px 0;
    }
    .coming {
      height: 250px;
    }
    header {
      display: grid;
      gap: 4px;
    }
    .second {
      display: flex;
      align-items: center;
      gap: 4px;
    }
    nav {
      display: flex;
      align-items: center;
      flex: 1;
    }
    nav button {
      display: inline-flex;
      gap: 8px;
      align-items: center;
      padding: 4px 2px;
      border: 0;
      border-bottom: 2px solid transparent;
      background: none;
      color: var(--ink-soft);
      cursor: pointer;
    }
    nav button + button {
      margin-left: 58px;
      position: relative;
    }
    nav button + button::before {
      content: '';
      position: absolute;
      left: -48px;
      width: 38px;
      top: 50%;
      border-top: 1.5px solid var(--line-strong);
    }
    nav .mark {
      width: 9px;
      height: 9px;
      border-radius: 50%;
      border: 1.5px solid var(--ink-faint);
    }
    nav .past {
      color: var(--ink);
    }
    nav .past .mark {
      background: var(--ink);
      border-color: var(--ink);
    }
    nav .here {
      color: var(--madder);
      font-weight: 640;
      border-color: var(--madder);
    }
    nav .here .mark {
      background: var(--madder);
      border-color: var(--madder);
    }
    .cost {
      color: var(--ink-soft);
      font-size: 13px;
      margin-right: 8px;
    }
    .panel {
      min-height: 160px;
      margin: 0 -22px;
      padding: 12px 22px 12px;
      background: var(--sheet);
      border-top: 1px solid var(--line);
    }
    .missing {
      display: grid;
      gap: 12px;
      justify-items: start;
      align-content: start;
    }
    @media (max-width: 760px) {
      :host {
        padding: 10px 10px 0;
        grid-template-rows: auto minmax(230px, 1fr) auto;
        min-height: 0;
      }
      nav button + button {
        margin-left: 16px;
      }
      nav button + button::before {
        display: none;
      }
      .cost {
        display: none;
      }
      h1 {
        font-size: 16px;
      }
      .panel {
        margin: 0 -10px;
        padding: 10px;
      }
    }
  `,
  host: { '(document:keydown)': 'key($event)' },
})
export class TrialPage {
  readonly id = input.required<string>();
  readonly stage = input<string | undefined>();
  protected readonly desk = inject(TrialDesk);
  private readonly messages = inject(MessageService);
  private readonly habits = inject(Habits);
  private readonly readPanel = viewChild(ReadPanel);
  protected readonly settings = signal(false);
  protected readonly toolpath = signal(false);
  protected readonly photos = signal(false);

  protected readonly stageRows = computed(() => {
    const r = this.desk.record();
    const cells = this.desk.plan()?.cells ?? [];
    const read = cells.length > 0 && cells.every((c) => r?.readings.some((x) => x.cells.includes(c.id)));
    const reached = r?.settledOn ? 4 : read ? 3 : (r?.prints.length ?? 0) > 0 ? 2 : 1;
    const labels: Record<Stage, string> = { plan: 'Plan', print: 'Print', read: 'Read', settle: 'Settle' };
    return stages.map((id, i) => ({ id, label: labels[id], past: i < reached }));
  });

  protected readonly cost = computed(() => {
    const m = this.desk.making();
    if (m.state === 'working') return `estimating, ${m.progress.stage} …`;
    if (m.state !== 'made') return '';
    const { time, heating, filament } = m.made.report;
    const pace = this.desk.pace();
    const ratio = pace?.ratio ?? 1;
    const words = [
      `${duration(time * ratio)} + ${duration(heating * ratio)} heating`,
      `${show(filament.mass, 1)} g`,
      this.habits.costing(filament.cost),
    ];
    const all = this.desk.prints.total();
    const whole = all
      ? [duration(all.time * ratio), `${show(all.mass, 1)} g`, this.habits.costing(all.cost)]
          .filter((w) => w)
          .join(' · ')
      : '';
    const prints = all ? `; all ${all.prints} prints ${whole}` : '';
    return `${words.filter((w) => w).join(' · ')} (${paceWords(pace)})${prints}`;
  });

  /** The stage a trial opens at where the address names none. */
  private readonly reached = computed<Stage>(() => {
    const record = this.desk.record();
    return record?.settledOn ? 'settle' : (record?.prints.length ?? 0) > 0 ? 'read' : 'plan';
  });

  constructor() {
    effect(() => this.desk.id.set(this.id()));
    effect(() => {
      this.desk.stage.set(stages.find((s) => s === this.stage()) ?? this.reached());
    });
  }

  private readonly photoDrawer = viewChild(PhotoDrawer);

  protected closeUp({ file, cell }: { file: File; cell: number }): void {
    void this.photoDrawer()?.addClose(file, cell);
  }

  protected undo(): void {
    const words = this.desk.undo();
    if (words) this.messages.add({ severity: 'secondary', summary: 'Taken back', detail: words, life: 2500 });
  }

  protected redo(): void {
    const words = this.desk.redo();
    if (words) this.messages.add({ severity: 'secondary', summary: 'Done again', detail: words, life: 2500 });
  }

  protected key(event: KeyboardEvent): void {
    const target = event.target as HTMLElement;
    if (
      target.closest('input, textarea, select, [role="combobox"], [role="listbox"], [role="dialog"], [role="slider"]')
    )
      return;
    const control = event.ctrlKey || event.metaKey;
    if (control && event.key.toLowerCase() === 'z') {
      event.preventDefault();
      if (event.shiftKey) this.redo();
      else this.undo();
      return;
    }
    if (control && event.key.toLowerCase() === 'y') {
      event.preventDefault();
      this.redo();
      return;
    }
    if (control || event.altKey || this.desk.stage() !== 'read' || !this.desk.printed()) return;
    if (this.desk.pairing() !== undefined) return;
    if (event.shiftKey && (event.key === 'ArrowUp' || event.key === 'ArrowDown')) {
      this.desk.cursor.stretch(event.key === 'ArrowUp' ? 1 : -1);
      event.preventDefault();
      return;
    }
    if (event.key.startsWith('Arrow') || event.key === 'Escape') this.desk.cursor.band.set([]);
    // Single keys can be switched off: a voice or a stray hand must not score.
    if (event.key.length === 1 && !this.habits.keys()) return;
    if (this.readKey(event.key)) event.preventDefault();
  }

  /** One key of reading; true where it was taken. */
  private readKey(key: string): boolean {
    if (/^[0-4]$/.test(key)) this.desk.scores.say(Number(key));
    else if (key === 'x' || key === 'X') this.desk.scores.say('broke');
    else if (key === '?') this.desk.scores.say('cannot tell');
    else if (key === 'n' || key === 'N') this.readPanel()?.openNote();
    else if (key === 'p' || key === 'P') this.readPanel()?.openCloseUp();
    else if (key === 'Backspace' || key === 'Delete') this.desk.scores.clear();
    else if (key === 'ArrowUp') this.desk.cursor.move(1, 0);
    else if (key === 'ArrowDown') this.desk.cursor.move(-1, 0);
    else if (key === 'ArrowRight') this.desk.cursor.move(0, 1);
    else if (key === 'ArrowLeft') this.desk.cursor.move(0, -1);
    else return false;
    return true;
  }
}
