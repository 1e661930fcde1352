import { ChangeDetectionStrategy, Component, computed, inject, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { Select } from 'primeng/select';
import { rounded, show, type Fault } from '#core/base';
import { factorId, factorOf, type Layout } from '#core/factors';
import { levelsOf, sweepOf } from '#core/plan';
import { settingGroups, settingIds, settingOf } from '#core/settings';
import { specimenOf } from '#core/specimens';
import { varied } from '#core/trial';
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
        <div class="choice vary">
          <label for="factor">varies</label>
          <p-select
            inputId="factor"
            [options]="factors()"
            [group]="true"
            optionLabel="label"
            optionValue="id"
            [filter]="true"
            filterBy="label"
            [ngModel]="factor()?.id ?? 'none'"
            (ngModelChange)="setFactor($event)"
            ariaLabel="What varies"
          />
          @if (layouts().length > 1) {
            <p-select
              inputId="along"
              size="small"
              [options]="layouts()"
              optionLabel="label"
              optionValue="id"
              [ngModel]="along()"
              (ngModelChange)="setAlong($event)"
              ariaLabel="Laid out"
            />
          }
        </div>
        @if (choices(); as all) {
          <fieldset class="named">
            <legend>values side by side</legend>
            @for (c of all; track c.level) {
              <label><input type="checkbox" [checked]="c.on" (change)="toggle(c.level)" /> {{ c.words }}</label>
            }
          </fieldset>
        } @else if (factor()) {
          <st-number-field
            fieldId="from"
            [label]="along() === 'tile' ? 'first tile' : 'lowest band'"
            [unit]="unit()"
            [shown]="shown()"
            [usual]="usual()"
            [value]="sweep().from"
            [outside]="levelFault()"
            (changed)="setSweep({ from: $event })"
          />
          <st-number-field
            fieldId="to"
            [label]="along() === 'tile' ? 'last tile' : 'highest band'"
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
        }
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
          @if (heats()) {
            <label for="wait">at each new level</label>
            <p-select
              inputId="wait"
              [options]="waits"
              [ngModel]="wait()"
              (ngModelChange)="setWait($event)"
              ariaLabel="At each new level"
            />
          } @else {
            <span></span>
          }
          <button type="button" class="more" (click)="settings.emit()">all settings of this print</button>
        </div>
      </div>
      <p class="list" aria-live="polite">
        @if (otherFaults().length) {
          <span class="wrong">{{ otherFaults()[0] }}</span>
        } @else {
          @if (factor()) {
            <b>{{ levels().length }} {{ along() === 'tile' ? 'tiles' : 'bands' }}:</b>
            <span class="figures">{{ levelWords() }}</span>
          } @else {
            <b>One plain print:</b> nothing varies.
          }
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
      grid-template-columns: minmax(150px, 190px) repeat(7, minmax(80px, 112px)) minmax(120px, 160px);
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
    .vary p-select {
      width: 100%;
      min-width: 0;
    }
    .vary {
      min-width: 0;
      grid-template-rows: auto auto auto;
      gap: 2px;
    }
    .named {
      grid-column: span 4;
      margin: 0;
      padding: 2px 8px;
      border: 1px solid var(--line);
      display: grid;
      grid-template-columns: repeat(4, auto);
      gap: 2px 14px;
      font-size: 12.5px;
    }
    .named label {
      display: inline-flex;
      gap: 6px;
      align-items: center;
      white-space: nowrap;
    }
    .named legend {
      font-size: 12px;
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

  /** The factor as it stands in the document, whether or not its plan is sound. */
  protected readonly factor = computed(() => factorOf(this.desk.record()?.trial.axes[0]?.factor ?? ''));
  protected readonly unit = computed(() => this.factor()?.unit ?? '');
  protected readonly shown = computed(() => this.factor()?.shown ?? 1);
  protected readonly along = computed(() => this.desk.record()?.trial.axes[0]?.along);
  private readonly specimen = computed(() => specimenOf(this.desk.record()?.trial.specimen.id ?? ''));

  /** What this specimen can carry, by groups of settings. */
  protected readonly factors = computed(() => {
    const layouts = this.specimen()?.layouts ?? [];
    const carries = (id: string) => factorOf(id)?.layouts.some((l) => layouts.includes(l)) ?? false;
    const groups = settingGroups.flatMap((group) => {
      const items = settingIds
        .filter((id) => settingOf(id).group === group && carries(factorId(id)))
        .map((id) => ({ id: factorId(id), label: settingOf(id).label }));
      return items.length > 0 ? [{ label: group, items }] : [];
    });
    return [{ label: 'plain', items: [{ id: 'none', label: 'nothing' }] }, ...groups];
  });

  protected readonly layouts = computed(() => {
    const factor = this.factor();
    if (!factor) return [];
    const words: Partial<Record<Layout, string>> = { tile: 'as tiles', height: 'as bands by height', row: 'in a row' };
    return (this.specimen()?.layouts ?? [])
      .filter((l) => factor.layouts.includes(l) && words[l] !== undefined)
      .map((id) => ({ id, label: words[id]! }));
  });

  protected readonly choices = computed(() =>
    this.factor()?.choices?.map((words, level) => ({ words, level, on: this.levels().includes(level) })),
  );
  protected readonly heats = computed(() => this.factor()?.setting === 'nozzleTemperature');
  protected readonly levels = computed(() => this.desk.record()?.trial.axes[0]?.levels ?? []);
  /** The sweep as it was typed: its end may lie beyond the last level. */
  private readonly asked = signal<{ mode: 'steps'; from: number; to: number; step: number } | undefined>(undefined);
  protected readonly sweep = computed(() => {
    const asked = this.asked();
    const its = asked && levelsOf(asked, 'levels');
    if (asked && its?.ok && its.value.levels.join() === this.levels().join()) return asked;
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
    const context = this.desk.record()?.trial.context;
    const factor = this.factor();
    return context && factor && !factor.choices ? settingOf(factor.setting).usual?.(context) : undefined;
  });
  protected readonly fields = computed(() => specimenOf(this.desk.record()?.trial.specimen.id ?? '')?.fields ?? []);
  protected readonly levelWords = computed(() =>
    this.levels()
      .map((l) => this.factor()?.choices?.[l] ?? show(l * this.shown()))
      .join(this.factor()?.choices ? ', ' : ' '),
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

  protected setFactor(id: string): void {
    this.problem.set(undefined);
    this.remark.set(undefined);
    this.desk.changeTrial('what varies', (t) => varied(t, id === 'none' ? undefined : id));
  }

  protected setAlong(along: Layout): void {
    this.desk.changeTrial('layout', (t) => ({ ...t, axes: t.axes.map((a, i) => (i === 0 ? { ...a, along } : a)) }));
  }

  protected toggle(level: number): void {
    const on = this.levels();
    const levels = on.includes(level) ? on.filter((l) => l !== level) : [...on, level].sort((a, b) => a - b);
    if (levels.length === 0) return;
    this.desk.changeTrial('levels', (t) => ({ ...t, axes: t.axes.map((a, i) => (i === 0 ? { ...a, levels } : a)) }));
  }

  protected setSweep(change: Partial<{ from: number; to: number; step: number }>): void {
    const asked = { ...this.sweep(), mode: 'steps' as const, ...change };
    const next = levelsOf(asked, 'levels');
    if (next.ok) this.asked.set(asked);
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
