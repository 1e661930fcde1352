import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Checkbox } from 'primeng/checkbox';
import { Select } from 'primeng/select';
import { show, type Fault } from '#core/base';
import { factorOf, levelWords } from '#core/factors';
import { levelsAt } from '#core/plan';
import { takenFrom } from '#core/route';
import { settingIds, settingOf } from '#core/settings';
import { ownBands } from '#core/specimens';
import { testOnlyWords } from '#core/trial';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../data/trial-maker';
import { NumberField } from '../ui/number-field';
import { AxisEditor } from './axis-editor';
import { BandBorders } from './band-borders';
import { IdleLevels } from './idle-levels';
import { PlateBox } from './plate-box';
import { TrialDesk } from './trial-desk';
import { Variants } from './variants';

/** Plan: the levels and the measures of the specimen; the drawing above follows at once. */
@Component({
  selector: 'st-plan-panel',
  imports: [
    AxisEditor,
    BandBorders,
    IdleLevels,
    NumberField,
    FormsModule,
    PlateBox,
    Checkbox,
    RouterLink,
    Select,
    Variants,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (desk.locked()) {
      <div class="fixed">
        <p>This plan has been printed, so it stays as it is.</p>
        <button type="button" class="act" (click)="copy()">Plan a copy</button>
      </div>
    } @else if (desk.record(); as record) {
      @if (desk.followed(); as f) {
        <p class="followed" role="status">
          The pair has moved on since this was planned, and the plan follows it: {{ f.changes.join('; ') }}.
          <button type="button" class="step" (click)="desk.keepAsPlanned()">Keep it as it was planned</button>
        </p>
      } @else if (record.asPlanned) {
        <p class="followed">
          This plan stays as it was, whatever the pair prints with by now.
          <button type="button" class="step" (click)="desk.followAgain()">Follow the pair again</button>
        </p>
      }
      <st-idle-levels />
      <st-axis-editor [which]="0" />
      <!-- In a task of its own: all fields at once are felt. -->
      @defer (on timer(20ms)) {
        @if ((desk.trial()?.axes ?? []).length > 0 && !record.trial.source) {
          <st-axis-editor [which]="1" />
        }
        <div class="fields">
          @for (f of fields(); track f.key) {
            @if (f.most === 1 && f.step === 1) {
              <label class="tick"
                ><p-checkbox
                  [binary]="true"
                  [ngModel]="record.trial.specimen.params[f.key] === 1"
                  (ngModelChange)="setParam(f.key, $event ? 1 : 0)"
                />
                {{ f.label }}</label
              >
            } @else {
              <st-number-field
                [fieldId]="f.key"
                [label]="f.label"
                [unit]="f.unit"
                [value]="record.trial.specimen.params[f.key] ?? f.least"
                [outside]="paramFault(f.key)"
                (changed)="setParam(f.key, $event)"
              />
            }
          }
          @if (banded()) {
            <st-band-borders />
          }
          <div class="choice">
            @if (heats()) {
              <label for="wait">at each new level</label>
              <p-select
                inputId="wait"
                [options]="waits"
                [ngModel]="wait()"
                (ngModelChange)="setWait($event)"
                ariaLabel="At each new level"
              />
            }
            <button type="button" class="step" (click)="settings.emit()">all settings of this print</button>
            @if (guide()) {
              <button
                type="button"
                class="step"
                [attr.aria-expanded]="guided()"
                aria-controls="guide"
                (click)="guided.set(!guided())"
              >
                {{ guided() ? 'less of this specimen' : 'what this specimen shows, and what not' }}
              </button>
            }
          </div>
        </div>
        @if (record.trial.part) {
          <st-plate-box />
        }
        @if (guided() && guide(); as g) {
          <dl id="guide" class="guide">
            <dt>where to look</dt>
            <dd>{{ g.look }}</dd>
            <dt>why this shape</dt>
            <dd>{{ g.why }}</dd>
            <dt>what it cannot tell</dt>
            <dd>{{ g.weak }}</dd>
          </dl>
        }
        <p class="list" aria-live="polite">
          @if (otherFaults().length) {
            <span class="wrong">{{ otherFaults()[0] }}</span>
          } @else if (desk.refused()[0]; as why) {
            <span class="wrong">No file leaves: {{ why }}</span>
            @if (desk.refused().length > 1) {
              <button type="button" class="step" (click)="desk.go('print')">
                {{ desk.refused().length - 1 }} more under Print
              </button>
            }
            <button type="button" class="step" (click)="desk.again()">Make it again</button>
          } @else {
            @for (line of lists(); track $index) {
              <span
                ><b>{{ line.count }}:&ngsp;</b><span class="figures">{{ line.levels }}</span></span
              >
            } @empty {
              <b>One plain print:</b> nothing varies.
            }
            @if (warming(); as w) {
              <span class="soft">{{ w }}</span>
            }
            @if (testOnly(); as t) {
              <span class="soft">Only in this trial: {{ t }}.</span>
            }
            @if (taken().length) {
              <span class="soft"
                >From the tune sheet:
                @for (t of taken(); track t.words; let last = $last) {
                  @if (t.tuned.trial) {
                    <a [routerLink]="['/trial', t.tuned.trial]" [title]="t.from">{{ t.words }}</a>{{
                      last ? '.' : ', '
                    }}
                  } @else {
                    <span [title]="t.from">{{ t.words }}</span>{{ last ? '.' : ', ' }}
                  }
                }
              </span>
            }
          }
        </p>
        <st-variants />
      } @placeholder {
        <div class="coming"></div>
      }
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 4px;
    }
    .coming {
      height: 170px;
    }
    .fields {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 12px;
    }
    .fields st-number-field {
      width: 122px;
    }
    .choice {
      display: grid;
      grid-template-rows: auto auto;
      align-content: start;
    }
    .tick {
      display: flex;
      align-items: center;
      gap: 6px;
      font-size: 13px;
    }
    .choice label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .list {
      display: flex;
      flex-wrap: wrap;
      gap: 2px 18px;
      font-size: 13px;
    }
    .guide {
      display: grid;
      grid-template-columns: max-content minmax(0, 1fr);
      gap: 1px 12px;
      margin: 0;
      font-size: 13px;
    }
    .guide dt {
      color: var(--ink-soft);
    }
    .guide dd {
      margin: 0;
    }
    .followed {
      padding: 4px 10px;
      border-left: 3px solid var(--madder);
      background: var(--well);
      font-size: 13px;
    }
    .fixed {
      display: flex;
      gap: 18px;
      align-items: center;
    }
  `,
})
export class PlanPanel {
  protected readonly desk = inject(TrialDesk);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);
  private readonly keeper = inject(Keeper);
  readonly settings = output<void>();
  protected readonly waits = ['go on', 'wait'];
  private readonly trial = this.desk.trial;
  private readonly specimen = this.desk.specimen;
  protected readonly guide = computed(() => this.specimen()?.guide);
  protected readonly guided = signal(false);
  /** A finished file goes on at each level: the nozzle would wait on the part. */
  protected readonly heats = computed(
    () =>
      !this.trial()?.source &&
      (this.trial()?.axes.some((a) => factorOf(a.factor)?.setting === 'nozzleTemperature') ?? false),
  );
  /** Bands of a part of the user’s own lie where the user wants them. */
  protected readonly banded = computed(() => ownBands(this.trial()?.specimen.id ?? '', this.trial()?.axes ?? []));
  /** What changing the temperature of a finished file costs, before it is made. */
  protected readonly warming = computed(() => {
    const trial = this.trial();
    const levels = trial?.axes.find((a) => a.factor === 'nozzle-temperature')?.levels ?? [];
    if (!trial?.source || levels.length < 2) return '';
    const { rise, fall } = trial.context.printer.heater;
    const needs = levels.slice(1).map((v, k) => (v > levels[k]! ? (v - levels[k]!) / rise : (levels[k]! - v) / fall));
    const each = `From band to band the nozzle needs ${show(Math.max(...needs), 0)} s at most`;
    return `${each}; the print goes on meanwhile, and no waiting is added but where the file waits itself.`;
  });
  protected readonly fields = computed(() =>
    (this.specimen()?.fields ?? []).filter(
      (f) =>
        (!f.along || this.trial()?.axes.some((a) => a.along === f.along)) &&
        (!f.factor ||
          (this.trial()?.specimen.params[f.key] !== undefined &&
            this.trial()?.axes.some((a) => a.factor === f.factor))),
    ),
  );
  /** The exact list of levels of each axis. */
  protected readonly lists = computed(() =>
    (this.trial()?.axes ?? []).flatMap((axis) => {
      const factor = factorOf(axis.factor);
      if (!factor) return [];
      const names = {
        height: 'bands',
        row: this.specimen()?.words?.row?.many ?? 'in a row',
        tile: this.specimen()?.words?.tile?.many ?? 'tiles',
        print: 'prints',
      };
      return [
        {
          count: `${axis.levels.length} ${names[axis.along]}`,
          levels: axis.levels
            .map((l, k) => {
              if (axis.also)
                return Object.entries(levelsAt(axis, k))
                  .map(([id, v]) => levelWords(factorOf(id)!, v))
                  .join(' with ');
              return factor.choices ? levelWords(factor, l) : show(l * factor.shown);
            })
            .join(factor.choices || axis.also ? ', ' : ' '),
        },
      ];
    }),
  );
  /** Values that hold in this trial alone, with what they go back to. */
  protected readonly testOnly = computed(() => {
    const t = this.trial();
    return t ? testOnlyWords(t).join(', ') : '';
  });
  /** The values of the tune sheet that this plan has, but those that it holds or varies itself. */
  protected readonly taken = computed(() => {
    const t = this.trial();
    const pair = this.keeper.find('pairs', this.desk.record()?.pair);
    return t && pair
      ? takenFrom(t, pair.values).map((v) => ({
          ...v,
          from: `${v.tuned.trialTitle || v.tuned.why}, ${v.tuned.on}`,
        }))
      : [];
  });
  protected readonly wait = computed(() => {
    const t = this.trial();
    return t?.frozen.temperatureWait ?? t?.baseline.temperatureWait ?? 'go on';
  });
  protected readonly otherFaults = computed(() =>
    this.desk
      .faults()
      .filter((f) => !/^axes\.\d\.levels/.test(f.at) && !f.at.startsWith('specimen.params.'))
      .map((f) => `${settingIn(f.at)}${f.wrong}; ${f.right}`),
  );

  protected paramFault(key: string): string | undefined {
    return words(this.desk.faults().find((f) => f.at === `specimen.params.${key}`));
  }

  protected setParam(key: string, value: number): void {
    this.desk.changeTrial(key, (t) => ({
      ...t,
      specimen: { ...t.specimen, params: { ...t.specimen.params, [key]: value } },
    }));
  }

  protected setWait(value: 'go on' | 'wait'): void {
    this.desk.changeTrial('waiting', (t) => ({ ...t, frozen: { ...t.frozen, temperatureWait: value } }));
  }

  protected copy(): void {
    const r = this.desk.record();
    if (r) void this.router.navigate(['/trial', this.maker.open(r.pair, r.stop, r.trial)]);
  }
}

const words = (f: Fault | undefined): string | undefined => f && `${f.wrong}; ${f.right}`;

/** The setting that a fault is about, by its name. */
function settingIn(at: string): string {
  const id = /^(?:baseline|trial\.frozen)\.(\w+)$/.exec(at)?.[1];
  const known = settingIds.find((s) => s === id);
  return known ? `${settingOf(known).label}: ` : '';
}
