import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Select } from 'primeng/select';
import { Slider } from 'primeng/slider';
import { show } from '#core/base';
import { factorOf } from '#core/factors';
import { rules } from '#core/settle';
import { calculate, calculatorOf } from '#core/sums';
import { valueWords } from '#core/route';
import { TrialDesk } from './trial-desk';

/** Settle: the rule, the weights, the value with its reason, or the plain answer why there is none. */
@Component({
  selector: 'st-settle-panel',
  imports: [FormsModule, Select, Slider, RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (desk.settled(); as s) {
      <section aria-label="Rule" class="rule">
        <label for="rule">rule</label>
        <p-select
          inputId="rule"
          [options]="ruleOptions"
          optionLabel="label"
          optionValue="id"
          [ngModel]="desk.record()?.rule"
          (ngModelChange)="setRule($event)"
          ariaLabel="Rule"
        />
        <div class="weights">
          @for (side of sides; track side.id) {
            <span [id]="'w-' + side.id"
              >{{ side.label }} <b class="figures">× {{ weight(side.id) }}</b></span
            >
            <p-slider
              [ngModel]="weight(side.id)"
              (ngModelChange)="setWeight(side.id, $event)"
              [min]="0"
              [max]="4"
              [step]="0.5"
              [ariaLabelledBy]="'w-' + side.id"
            />
          }
        </div>
      </section>
      <section aria-label="Answer" class="answer">
        @for (c of desk.choices(); track c.factor) {
          <p class="value figures">
            @if (desk.choices().length > 1) {
              <span class="name">{{ name(c.factor) }}</span>
            }
            {{ words(c.factor, c.choice) }}
          </p>
          <p>
            <span class="figures"
              >{{ words(c.factor, c.low) }} – {{ words(c.factor, c.choice) }} – {{ words(c.factor, c.high) }}</span
            >: {{ c.why }}.
          </p>
          @if (desk.choices().length === 1 && c.interval95[0] < c.interval95[1]) {
            <p class="small soft">
              The optimum lies between {{ words(c.factor, c.interval95[0]) }} and
              {{ words(c.factor, c.interval95[1]) }} with 95 %.
            </p>
          }
        } @empty {
          <p class="value none">no value yet</p>
        }
        @for (w of desk.measuredWords(); track w) {
          <p class="figures">{{ w }}</p>
        }
        @if (speedLimit(); as l) {
          <p class="figures">{{ l }}</p>
        }
        @for (f of s.flags; track f.code) {
          <p [class.wrong]="f.code === 'void'" role="status">{{ f.message }}.</p>
        }
      </section>
      <section aria-label="Act" class="acts">
        @if (desk.choices().length) {
          <button type="button" class="act main" (click)="desk.settleNow()" [disabled]="already()">
            {{ already() ? 'Settled: ' : 'Settle ' }}{{ allWords() }}
          </button>
        }
        @if (desk.tuned(); as t) {
          <a [routerLink]="['/pair', desk.record()?.pair, 'tune']" class="small"
            >{{ valueWords(t) }} stands on the tune sheet</a
          >
        }
        @if (s.next) {
          <button type="button" class="act" (click)="desk.openNext()">Plan the next trial</button>
          <p class="small soft">{{ s.nextWhy }}</p>
        }
      </section>
    } @else {
      <div class="empty">
        <p>There is nothing to settle yet: this trial has not been printed and read.</p>
        <button type="button" class="act" (click)="desk.go('print')">Go to Print</button>
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 240px minmax(0, 1fr) 210px;
      gap: 30px;
    }
    .name {
      display: block;
      font-size: 12.5px;
      font-weight: 400;
      color: var(--ink-soft);
    }
    section {
      display: grid;
      gap: 5px;
      align-content: start;
      min-width: 0;
    }
    .empty {
      grid-column: 1 / -1;
      display: flex;
      gap: 18px;
      align-items: center;
    }
    .rule label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .weights {
      display: grid;
      grid-template-columns: auto minmax(0, 1fr);
      gap: 12px 14px;
      align-items: center;
      padding: 8px 8px 0 0;
      font-size: 12.5px;
    }
    .value {
      font-size: 22px;
      font-weight: 650;
      color: var(--madder);
      line-height: 1.15;
    }
    .none {
      color: var(--ink-soft);
      font-family: var(--text);
    }
    .acts .act {
      justify-content: center;
    }
    @media (max-width: 760px) {
      :host {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class SettlePanel {
  protected readonly desk = inject(TrialDesk);
  protected readonly valueWords = valueWords;
  protected readonly ruleOptions = [...rules];
  protected readonly sides = [
    { id: 'look', label: 'look' },
    { id: 'strength', label: 'strength' },
  ] as const;
  protected readonly allWords = computed(() =>
    this.desk
      .choices()
      .map((c) => this.words(c.factor, c.choice))
      .join(', '),
  );
  /** What a flow limit means for the speed of this line. */
  protected readonly speedLimit = computed(() => {
    const limit = this.desk.choices().find((c) => c.factor === 'volumetric-flow');
    const s = this.desk.plan()?.settings;
    if (!limit || !s) return '';
    const result = calculate(calculatorOf('flow-limit')!, {
      flow: limit.choice,
      margin: 0,
      lineWidth: s.lineWidth,
      layerHeight: s.layerHeight,
      rectangle: s.lineVolume === 'rectangle',
    });
    return result.ok
      ? `A line of ${show(s.lineWidth, 2)} × ${show(s.layerHeight, 2)} mm may run at ${show(result.value['speed'] as number, 0)} mm/s.`
      : '';
  });
  protected readonly already = computed(() => {
    const t = this.desk.tuned();
    const c = this.desk.choice();
    return t !== undefined && c !== undefined && t.value === c.choice && t.rule === c.rule;
  });

  protected name(factor: string): string {
    return factorOf(factor)?.label ?? factor;
  }

  protected words(factor: string, value: number): string {
    return valueWords({ factor, value });
  }

  protected weight(side: 'look' | 'strength'): number {
    const id = this.desk.tracks().find((t) => t.side === side)?.id;
    return id === undefined ? 1 : (this.desk.record()?.weights[id] ?? 1);
  }

  protected setWeight(side: 'look' | 'strength', value: number): void {
    const own = Object.fromEntries(
      this.desk
        .tracks()
        .filter((t) => t.side === side)
        .map((t) => [t.id, value]),
    );
    this.desk.change(`weight of ${side}`, (r) => ({ ...r, weights: { ...r.weights, ...own } }));
  }

  protected setRule(rule: string): void {
    this.desk.change('rule', (r) => ({ ...r, rule }));
  }
}
