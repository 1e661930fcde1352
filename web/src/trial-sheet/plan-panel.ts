import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { Select } from 'primeng/select';
import { rounded, show, type Fault } from '#core/base';
import { usualTemperature } from '#core/context';
import { levelsOf, sweepOf } from '#core/plan';
import { specimenOf } from '#core/specimens';
import { TrialMaker } from '../route/trial-maker';
import { NumberField } from '../ui/number-field';
import { TrialDesk } from './trial-desk';

/** Plan: the levels and the measures of the specimen; the drawing above follows at once. */
@Component({
  selector: 'st-plan-panel',
  imports: [NumberField, FormsModule, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (desk.locked()) {
      <div class="fixed">
        <p>This plan has been printed, so it stays as it is.</p>
        <button type="button" class="act" (click)="copy()">Plan a copy</button>
      </div>
    } @else if (desk.record(); as record) {
      <div class="fields">
        <st-number-field
          fieldId="from"
          [label]="'lowest band'"
          [unit]="unit()"
          [shown]="shown()"
          [usual]="usual()"
          [value]="sweep().from"
          [outside]="levelFault()"
          (changed)="setSweep({ from: $event })"
        />
        <st-number-field
          fieldId="to"
          [label]="'highest band'"
          [unit]="unit()"
          [shown]="shown()"
          [usual]="usual()"
          [value]="sweep().to"
          (changed)="setSweep({ to: $event })"
        />
        <st-number-field
          fieldId="step"
          label="in steps of"
          [unit]="unit()"
          [shown]="shown()"
          [value]="sweep().step"
          [outside]="sweepFault()"
          (changed)="setSweep({ step: $event })"
        />
        @for (f of fields(); track f.key) {
          <st-number-field
            [fieldId]="f.key"
            [label]="f.label"
            [unit]="f.unit"
            [value]="record.trial.specimen.params[f.key] ?? 0"
            [outside]="paramFault(f.key)"
            (changed)="setParam(f.key, $event)"
          />
        }
        <div class="choice">
          <label for="wait">at each new band</label>
          <p-select
            inputId="wait"
            [options]="waits"
            [ngModel]="wait()"
            (ngModelChange)="setWait($event)"
            ariaLabel="At each new band"
          />
          <button type="button" class="more" (click)="settings.emit()">all settings of this print</button>
        </div>
      </div>
      <p class="list" aria-live="polite">
        @if (otherFaults().length) {
          <span class="wrong">{{ otherFaults()[0] }}</span>
        } @else {
          <b>{{ levels().length }} bands:</b> <span class="figures">{{ levelWords() }}</span>
          @if (remark(); as r) {
            <span class="remark">{{ r }}</span>
          }
        }
      </p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 4px;
    }
    .fields {
      display: grid;
      grid-template-columns: repeat(7, minmax(84px, 116px)) minmax(130px, 170px);
      gap: 2px 12px;
    }
    .choice {
      display: grid;
      grid-template-rows: auto auto 17px;
      align-content: start;
    }
    .choice label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .more {
      justify-self: start;
      border: 0;
      padding: 0;
      background: none;
      font-size: 12px;
      color: var(--madder);
      text-decoration: underline;
      cursor: pointer;
    }
    .list {
      display: flex;
      gap: 8px;
      font-size: 13px;
    }
    .remark {
      margin-left: 12px;
      color: var(--shaken-ink);
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
  readonly settings = output<void>();
  protected readonly waits = ['go on', 'wait'];
  private readonly problem = signal<Fault | undefined>(undefined);
  protected readonly remark = signal<string | undefined>(undefined);

  protected readonly unit = computed(() => this.desk.factor()?.unit ?? '');
  protected readonly shown = computed(() => this.desk.factor()?.shown ?? 1);
  protected readonly levels = computed(() => this.desk.record()?.trial.axes[0]?.levels ?? []);
  protected readonly sweep = computed(() => {
    const s = sweepOf(this.levels());
    return s.mode === 'steps'
      ? s
      : {
          from: this.levels()[0] ?? 0,
          to: this.levels().at(-1) ?? 0,
          step: rounded(Math.abs((this.levels()[1] ?? 0) - (this.levels()[0] ?? 0)), 6),
        };
  });
  protected readonly usual = computed(() => {
    const material = this.desk.record()?.trial.context.filament.material;
    return this.desk.factor()?.id === 'nozzle-temperature' && material ? usualTemperature[material] : undefined;
  });
  protected readonly fields = computed(() => specimenOf(this.desk.record()?.trial.specimen.id ?? '')?.fields ?? []);
  protected readonly levelWords = computed(() =>
    this.levels()
      .map((l) => show(l * this.shown()))
      .join(' '),
  );
  protected readonly wait = computed(() => {
    const t = this.desk.record()?.trial;
    return t?.frozen.temperatureWait ?? t?.baseline.temperatureWait ?? 'go on';
  });
  protected readonly sweepFault = computed(() => words(this.problem()));
  protected readonly levelFault = computed(() =>
    words(this.desk.faults().find((f) => f.at.startsWith('axes.0.levels'))),
  );
  protected readonly otherFaults = computed(() =>
    this.desk
      .faults()
      .filter((f) => !f.at.startsWith('axes.0.levels') && !f.at.startsWith('specimen.params.'))
      .map((f) => `${f.at}: ${f.wrong}; ${f.right}`),
  );

  protected paramFault(key: string): string | undefined {
    return words(this.desk.faults().find((f) => f.at === `specimen.params.${key}`));
  }

  protected setSweep(change: Partial<{ from: number; to: number; step: number }>): void {
    const next = levelsOf({ mode: 'steps', ...this.sweep(), ...change }, 'levels');
    this.problem.set(next.ok ? undefined : next.faults[0]);
    if (!next.ok) return;
    this.remark.set(next.value.remark);
    const levels = next.value.levels;
    this.desk.changeTrial('levels', (t) => ({ ...t, axes: t.axes.map((a, i) => (i === 0 ? { ...a, levels } : a)) }));
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
