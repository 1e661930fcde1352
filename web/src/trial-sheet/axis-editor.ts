import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { InputText } from 'primeng/inputtext';
import { Select } from 'primeng/select';
import { rounded, seeded, shuffled, type Fault } from '#core/base';
import { factorId, factorOf, factors, levelWords, type Layout } from '#core/factors';
import { alongWords, layoutFaults, levelsOf, reckonedAgain, sweepOf, type Axis } from '#core/plan';
import { settingGroups, settingIds, settingOf } from '#core/settings';
import { flowInForce } from '#core/settle';
import { laidOut, layoutsOf, varied } from '#core/trial';
import { NumberField } from '../ui/number-field';
import { TrialDesk } from './trial-desk';

/** One of the two settings that a trial varies: which, how it is laid out, and its levels. */
@Component({
  selector: 'st-axis-editor',
  imports: [NumberField, FormsModule, InputText, Select, Checkbox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { role: 'group', '[attr.aria-label]': 'which() === 0 ? "What varies" : "The second setting"' },
  template: `
    <div class="choice">
      <label [for]="id('factor')">{{ which() === 0 ? 'varies' : 'and' }}</label>
      <p-select
        [inputId]="id('factor')"
        [options]="options()"
        [group]="true"
        optionLabel="label"
        optionValue="id"
        [filter]="true"
        filterBy="label"
        [ngModel]="factor()?.id ?? 'none'"
        (ngModelChange)="setFactor($event)"
        [ariaLabel]="which() === 0 ? 'What varies' : 'What varies too'"
      />
    </div>
    @if (factor()) {
      <div class="choice">
        <label [for]="id('along')">laid out</label>
        <p-select
          [inputId]="id('along')"
          [options]="layouts()"
          optionLabel="label"
          optionValue="id"
          [ngModel]="axis()?.along"
          (ngModelChange)="setAlong($event)"
          [ariaLabel]="which() === 0 ? 'Laid out' : 'Second laid out'"
        />
      </div>
      @if (choices(); as all) {
        <fieldset class="named">
          <legend>values</legend>
          @for (c of all; track c.level) {
            <label
              ><p-checkbox
                [binary]="true"
                [ngModel]="c.on"
                [disabled]="c.on && levels().length === 1"
                (ngModelChange)="toggle(c.level)"
              />
              {{ c.words }}</label
            >
          }
          @if (factor()?.typed; as typed) {
            <span class="own">
              <label [for]="id('own')">your own</label>
              <input
                pInputText
                #own
                [id]="id('own')"
                [placeholder]="typed.hint"
                [attr.aria-invalid]="!!problem()"
                [attr.aria-describedby]="id('own-says')"
                autocomplete="off"
                (keydown.enter)="add(own)"
              />
              <button type="button" class="act" (click)="add(own)">Add</button>
            </span>
            @if (words(problem()); as w) {
              <span class="wrong" [id]="id('own-says')">{{ w }}</span>
            }
          }
        </fieldset>
      } @else {
        <st-number-field
          [fieldId]="id('from')"
          [label]="ends().first"
          [unit]="unit()"
          [shown]="shown()"
          [usual]="usual()"
          [value]="sweep().from"
          [outside]="levelFault()"
          (changed)="setSweep({ from: $event })"
        />
        <st-number-field
          [fieldId]="id('to')"
          [label]="ends().last"
          [unit]="unit()"
          [shown]="shown()"
          [usual]="usual()"
          [value]="sweep().to"
          (changed)="setSweep({ to: $event })"
        />
        <st-number-field
          [fieldId]="id('step')"
          label="in steps of"
          [unit]="unit()"
          [shown]="shown()"
          [value]="sweep().step"
          [outside]="words(problem())"
          (changed)="setSweep({ step: $event })"
        />
        <div class="more">
          @if (canRamp()) {
            <label
              ><p-checkbox [binary]="true" [ngModel]="axis()?.kind === 'ramp'" (ngModelChange)="setRamp()" /> runs on
              without steps</label
            >
          }
          @if (along(); as with) {
            <span>moves along: {{ with }}</span>
            <button type="button" (click)="alone()">vary the first alone</button>
          }
          @if (axis()?.kind !== 'ramp' && levels().length > 2) {
            <button type="button" (click)="shuffle()">{{ shuffled() ? 'in order again' : 'shuffle the order' }}</button>
          }
          @if (inForce(); as base) {
            <label
              ><p-checkbox
                [binary]="true"
                [ngModel]="axis()?.reckoned === 'multiplied'"
                (ngModelChange)="setReckoned()"
              />
              steps multiply {{ base }} %</label
            >
          }
          @if (remark(); as r) {
            <span class="remark">{{ r }}</span>
          }
        </div>
      }
    } @else if (which() === 1) {
      <p class="soft none">one more setting makes a map</p>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 178px 122px repeat(3, minmax(72px, 128px)) minmax(120px, 1fr);
      gap: 2px 12px;
      align-items: start;
    }
    .choice {
      display: grid;
      min-width: 0;
    }
    .choice label,
    legend {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    p-select {
      width: 100%;
      min-width: 0;
    }
    .named {
      grid-column: span 4;
      margin: 0;
      padding: 2px 8px;
      border: 1px solid var(--line);
      display: flex;
      flex-wrap: wrap;
      gap: 2px 14px;
      font-size: 12.5px;
    }
    .named label,
    .more label {
      display: inline-flex;
      gap: 6px;
      align-items: center;
      white-space: nowrap;
    }
    .own {
      display: inline-flex;
      gap: 6px;
      align-items: baseline;
    }
    .own input {
      width: 150px;
    }
    .named .wrong {
      flex-basis: 100%;
    }
    .more {
      display: grid;
      gap: 2px;
      padding-top: 16px;
      font-size: 12.5px;
      justify-items: start;
    }
    .more button {
      border: 0;
      padding: 0;
      background: none;
      font-size: 12.5px;
      color: var(--madder);
      text-decoration: underline;
      cursor: pointer;
    }
    .remark {
      color: var(--shaken-ink);
    }
    .none {
      font-size: 12.5px;
      padding-top: 22px;
      grid-column: span 3;
    }
  `,
})
export class AxisEditor {
  readonly which = input.required<0 | 1>();
  protected readonly desk = inject(TrialDesk);
  protected readonly problem = signal<Fault | undefined>(undefined);
  protected readonly remark = signal<string | undefined>(undefined);
  private readonly trial = this.desk.trial;
  protected readonly axis = computed(() => this.trial()?.axes[this.which()]);
  /** The factor as it stands in the document, whether or not its plan is sound. */
  protected readonly factor = computed(() => factorOf(this.axis()?.factor ?? ''));
  protected readonly unit = computed(() => this.factor()?.unit ?? '');
  protected readonly shown = computed(() => this.factor()?.shown ?? 1);
  protected readonly levels = computed(() => this.axis()?.levels ?? []);

  protected id(part: string): string {
    return this.which() === 0 ? part : `${part}-2`;
  }

  /** What this specimen can carry, by groups of settings. */
  protected readonly options = computed(() => {
    const trial = this.trial();
    const layouts = trial ? layoutsOf(trial) : [];
    const specimen = this.specimen();
    const carries = (id: string) =>
      (factorOf(id)?.layouts ?? []).some(
        (along) =>
          layouts.includes(along) &&
          (along === 'print' || specimen?.accepts([{ factor: id, levels: [0], kind: 'step', along }]).length === 0),
      );
    const own = factors.filter((f) => carries(f.id)).map((f) => ({ id: f.id, label: f.label }));
    const groups = settingGroups.flatMap((group) => {
      const items = settingIds
        .filter(
          (id) => settingOf(id).group === group && carries(factorId(id)) && !own.some((o) => o.id === factorId(id)),
        )
        .map((id) => ({ id: factorId(id), label: settingOf(id).label }));
      return items.length > 0 ? [{ label: group, items }] : [];
    });
    return [
      { label: 'plain', items: [{ id: 'none', label: 'nothing' }] },
      ...(own.length > 0 ? [{ label: 'often varied', items: own }] : []),
      ...groups,
    ];
  });

  private readonly specimen = this.desk.specimen;
  protected readonly layouts = computed(() =>
    (this.trial() ? layoutsOf(this.trial()!) : [])
      .filter((l) => this.factor()?.layouts.includes(l))
      .map((id) => ({ id, label: this.specimen()?.words?.[id]?.laid ?? alongWords[id] })),
  );

  protected readonly ends = computed(() => {
    switch (this.axis()?.along) {
      case 'tile': {
        const one = this.specimen()?.words?.tile?.one ?? 'tile';
        return { first: `from (first ${one})`, last: `to (last ${one})` };
      }
      case 'row': {
        const one = this.specimen()?.words?.row?.one;
        return one
          ? { first: `from (first ${one})`, last: `to (last ${one})` }
          : { first: 'from (first in the row)', last: 'to (last in the row)' };
      }
      case 'print':
        return { first: 'from (first print)', last: 'to (last print)' };
      default:
        return { first: 'from (lowest band)', last: 'to (highest band)' };
    }
  });

  protected readonly choices = computed(() =>
    this.named()?.map((level) => ({
      words: levelWords(this.factor()!, level),
      level,
      on: this.levels().includes(level),
    })),
  );
  /** Levels typed since this page was opened stay on offer when they are taken out. */
  private readonly added = signal<readonly number[]>([]);
  private readonly named = computed(() => {
    const choices = this.factor()?.choices;
    return choices && [...new Set([...choices.keys(), ...this.levels(), ...this.added()])].sort((a, b) => a - b);
  });

  protected add(field: HTMLInputElement): void {
    const level = this.factor()?.typed?.of(field.value);
    this.problem.set(level && !level.ok ? level.faults[0] : undefined);
    if (!level?.ok) return;
    field.value = '';
    this.added.update((all) => [...all, level.value]);
    if (!this.levels().includes(level.value)) this.toggle(level.value);
  }

  /** The sweep as it was typed: its end may lie beyond the last level. */
  private readonly asked = signal<{ mode: 'steps'; from: number; to: number; step: number } | undefined>(undefined);
  protected readonly shuffled = computed(() => {
    const l = this.levels();
    return !l.every((v, i) => i === 0 || v > l[i - 1]!) && !l.every((v, i) => i === 0 || v < l[i - 1]!);
  });
  protected readonly sweep = computed(() => {
    const asked = this.asked();
    const its = asked && levelsOf(asked, 'levels');
    if (asked && its?.ok && its.value.levels.join() === this.levels().join()) return asked;
    // A shuffled sweep is still the sweep of its levels in order.
    const levels = this.shuffled() ? [...this.levels()].sort((a, b) => a - b) : this.levels();
    const s = sweepOf(levels);
    return s.mode === 'steps'
      ? s
      : {
          from: levels[0] ?? 0,
          to: levels.at(-1) ?? 0,
          step: rounded(Math.abs((levels[1] ?? 0) - (levels[0] ?? 0)), 6),
        };
  });

  protected readonly usual = computed(() => {
    const context = this.trial()?.context;
    const factor = this.factor();
    if (!context || !factor || factor.choices) return undefined;
    return factor.setting && !factor.sets ? settingOf(factor.setting).usual?.(context) : undefined;
  });

  protected readonly canRamp = computed(() => {
    const axis = this.axis();
    if (!axis) return false;
    const ramp = { ...axis, kind: 'ramp' as const };
    return layoutFaults([ramp], '').length === 0 && this.specimen()?.accepts([ramp]).length === 0;
  });

  /** The flow in force, in percent, where its passes can be multiplied or added; both are the same at 100 %. */
  protected readonly inForce = computed(() => {
    const trial = this.trial();
    const base = trial && flowInForce(trial, this.axis()?.factor ?? '');
    return base === undefined || base === 1 ? undefined : rounded(100 * base, 2);
  });

  protected setReckoned(): void {
    const trial = this.trial();
    const base = trial && flowInForce(trial, this.axis()?.factor ?? '');
    if (base === undefined) return;
    this.setAxis('how passes are reckoned', (a) => {
      const from = a.reckoned ?? 'points';
      const to = from === 'points' ? 'multiplied' : 'points';
      return { ...a, reckoned: to, levels: reckonedAgain(a.levels, base, from, to) };
    });
  }

  /** A second setting that moves along, level by level, in words. */
  protected readonly along = computed(() => {
    const also = this.axis()?.also;
    const factor = also && factorOf(also.factor);
    return factor ? `${factor.label} ${also.levels.map((l) => levelWords(factor, l)).join(', ')}` : undefined;
  });

  protected alone(): void {
    this.setAxis('vary the first alone', ({ also: _, ...axis }) => axis);
  }

  protected readonly levelFault = computed(() =>
    this.words(this.desk.faults().find((f) => f.at.startsWith(`axes.${this.which()}.levels`))),
  );

  protected words(f: Fault | undefined): string | undefined {
    return f && `${f.wrong}; ${f.right}`;
  }

  protected setFactor(id: string): void {
    this.problem.set(undefined);
    this.remark.set(undefined);
    this.desk.changeTrial('what varies', (t) => varied(t, id === 'none' ? undefined : id, undefined, this.which()));
  }

  private setAxis(words: string, change: (axis: Axis) => Axis): void {
    this.desk.changeTrial(words, (t) => ({ ...t, axes: t.axes.map((a, i) => (i === this.which() ? change(a) : a)) }));
  }

  protected setAlong(along: Layout): void {
    this.desk.changeTrial('layout', (t) => laidOut(t, this.which(), along));
  }

  protected setRamp(): void {
    this.setAxis('ramp', (a) => ({ ...a, kind: a.kind === 'ramp' ? 'step' : 'ramp' }));
  }

  protected toggle(level: number): void {
    const on = this.levels();
    const levels = on.includes(level) ? on.filter((l) => l !== level) : [...on, level].sort((a, b) => a - b);
    if (levels.length > 0) this.setAxis('levels', (a) => ({ ...a, levels }));
  }

  protected setSweep(change: Partial<{ from: number; to: number; step: number }>): void {
    const asked = { ...this.sweep(), mode: 'steps' as const, ...change };
    const next = levelsOf(asked, 'levels');
    if (next.ok) this.asked.set(asked);
    this.problem.set(next.ok ? undefined : next.faults[0]);
    if (!next.ok) return;
    this.remark.set(next.value.remark);
    this.setAxis('levels', (a) => ({ ...a, levels: next.value.levels }));
  }

  /** Another order on the specimen, so that where a cell stands says nothing of its value; again, and it is undone. */
  protected shuffle(): void {
    const seed = this.trial()?.seed ?? 1;
    const sorted = [...this.levels()].sort((a, b) => a - b);
    const mixed = shuffled(sorted.length, seeded(seed)).map((i) => sorted[i]!);
    this.setAxis('order', (a) => ({ ...a, levels: this.shuffled() ? sorted : mixed }));
  }
}
