import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { InputText } from 'primeng/inputtext';
import { arithmetic, rounded, sentence } from '#core/base';
import type { Context } from '#core/context';
import { tunedBaseline } from '#core/route';
import type { Settings } from '#core/settings';
import { calculate, calculators, type Calculator, type SumField } from '#core/sums';
import { Keeper } from '../data/keeper';
import { Limit } from '../ui/limit';

/** What a pair knows of a sum already, by the name of the figure, as it is kept. */
const known: Record<string, (context: Context, settings: Settings) => number | undefined> = {
  first: (_, s) => s.firstLayerFan,
  full: (_, s) => s.fan,
  from: (_, s) => s.fanRampLayers,
  speed: (_, s) => s.outerWallSpeed,
  threshold: (_, s) => s.minimumLayerTime,
  floor: (_, s) => s.floorSpeed,
  diameter: (c) => c.filament.diameter,
  density: (c) => c.filament.density,
  pricePerKg: (c) => c.filament.pricePerKg,
  flow: (c) => c.printer.extruder.maximumFlow,
  margin: () => 0.05,
  lineWidth: (_, s) => s.lineWidth,
  layerHeight: (_, s) => s.layerHeight,
  stepsPerMm: (c) => c.printer.extruder.stepsPerMm,
  rotationDistance: (c) => c.printer.extruder.rotationDistance,
};

/** The sums that a person does beside the machine, with what the pair knows filled in. */
@Component({
  selector: 'st-sums-page',
  imports: [InputText, Limit, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (pair()) {
      <h1>Sums</h1>
      <p class="soft">
        {{ label() }}. What the pair knows stands in the fields already; type over it, sums such as 180+20 too. Nothing
        here is kept. <a [routerLink]="['/pair', pairId()]">Back to the route</a>
      </p>
      @for (s of sums(); track s.id) {
        <section [attr.aria-labelledby]="'sum-' + s.id">
          <h2 [id]="'sum-' + s.id">{{ s.label }}</h2>
          <div class="fields">
            @for (f of s.fields; track f.key) {
              <div class="field">
                <label [for]="s.id + '-' + f.key"
                  >{{ f.label }} <span class="soft">{{ f.unit }}</span></label
                >
                <input
                  pInputText
                  class="figures"
                  [id]="s.id + '-' + f.key"
                  [stLimit]="200"
                  [value]="f.text"
                  (input)="put(s.id, f.key, $any($event.target).value)"
                  [placeholder]="f.list ? '100 98 101' : f.may ? 'may be left out' : ''"
                  inputmode="decimal"
                  autocomplete="off"
                />
              </div>
            }
          </div>
          <p role="status" [class.wrong]="s.wrong" [class.soft]="s.open">{{ s.words }}</p>
          <p class="soft small">{{ s.formula }}</p>
        </section>
      }
    } @else {
      <h1>There is no such pair</h1>
    }
  `,
  styles: `
    :host {
      display: block;
      padding: 20px 24px 40px;
    }
    section {
      margin-top: 18px;
      padding-top: 8px;
      border-top: 1px solid var(--line);
    }
    .fields {
      display: flex;
      flex-wrap: wrap;
      gap: 8px 16px;
      margin: 6px 0;
    }
    .field {
      display: grid;
      gap: 2px;
      width: 168px;
    }
    label {
      font-size: 12.5px;
    }
    p[role] {
      min-height: 20px;
      font-weight: 600;
    }
    p.soft,
    p.wrong {
      font-weight: 400;
    }
  `,
})
export class SumsPage {
  readonly pairId = input.required<string>();
  private readonly keeper = inject(Keeper);
  protected readonly pair = computed(() => this.keeper.find('pairs', this.pairId()));
  protected readonly label = computed(() => this.keeper.labelOf(this.pair()));
  /** What was typed, by sum and figure. */
  private readonly typed = linkedSignal<string, Record<string, string>>({
    source: this.pairId,
    computation: () => ({}),
  });

  protected readonly sums = computed(() =>
    calculators.flatMap((c) => {
      const fields = (c.form?.fields ?? []).map((f) => ({ ...f, text: this.textOf(c.id, f) }));
      return c.form ? [{ id: c.id, label: c.label, formula: c.formula, fields, ...this.answer(c, fields) }] : [];
    }),
  );

  protected put(sum: string, key: string, text: string): void {
    this.typed.update((all) => ({ ...all, [`${sum} ${key}`]: text }));
  }

  private textOf(sum: string, f: SumField): string {
    const own = this.typed()[`${sum} ${f.key}`];
    if (own !== undefined) return own;
    const [pair, context] = [this.pair(), this.keeper.contextOf(this.pair())];
    const value = pair && context && known[f.key]?.(context, tunedBaseline(pair.baseline, pair.values));
    // What a hotend is said to melt is a bound, not the last flow that was seen good.
    return value === undefined || (f.key === 'flow' && sum !== 'flow-limit')
      ? ''
      : String(rounded(value * (f.shown ?? 1), 4));
  }

  private answer(
    c: Calculator,
    fields: readonly (SumField & { text: string })[],
  ): { words: string; wrong: boolean; open: boolean } {
    const given: Record<string, unknown> = {};
    const lacks: string[] = [];
    for (const f of fields) {
      const parts = f.list ? f.text.split(/[;\s]+/).filter((p) => p !== '') : [f.text].filter((p) => p.trim() !== '');
      if (parts.length === 0 && !f.may) lacks.push(f.label);
      const figures: number[] = [];
      for (const part of parts) {
        const read = arithmetic(part, f.unit, f.label);
        if (!read.ok) return { words: sentence(read.faults[0]!), wrong: true, open: false };
        figures.push(read.value / (f.shown ?? 1));
      }
      if (figures.length > 0) given[f.key] = f.list ? figures : figures[0];
    }
    if (lacks.length > 0) return { words: `Still open: ${lacks.join(', ')}.`, wrong: false, open: true };
    const sum = calculate(c, given);
    return sum.ok
      ? { words: c.form!.words(sum.value), wrong: false, open: false }
      : { words: sum.faults.slice(0, 2).map(sentence).join(' '), wrong: true, open: false };
  }
}
