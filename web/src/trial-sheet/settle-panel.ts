import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Select } from 'primeng/select';
import { Slider } from 'primeng/slider';
import { show } from '#core/base';
import { rules } from '#core/settle';
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
        @if (desk.choice(); as c) {
          <p class="value figures">{{ words(c.choice) }}</p>
          <p>
            <span class="figures">{{ plain(c.low) }} – {{ plain(c.choice) }} – {{ plain(c.high) }} {{ unit() }}</span
            >: {{ c.why }}.
          </p>
          <p class="small soft">
            The optimum of the combined score lies between {{ plain(c.interval95[0]) }} and {{ plain(c.interval95[1]) }}
            {{ unit() }} with 95 %.
          </p>
        } @else {
          <p class="value none">no value yet</p>
        }
        @for (f of s.flags; track f.code) {
          <p [class.wrong]="f.code === 'void'" role="status">{{ f.message }}.</p>
        }
      </section>
      <section aria-label="Act" class="acts">
        @if (desk.choice(); as c) {
          <button type="button" class="act main" (click)="desk.settleNow()" [disabled]="already()">
            {{ already() ? 'Settled: ' + words(c.choice) : 'Settle ' + words(c.choice) }}
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
  protected readonly unit = computed(() => this.desk.factor()?.unit ?? '');
  protected readonly already = computed(() => {
    const t = this.desk.tuned();
    const c = this.desk.choice();
    return t !== undefined && c !== undefined && t.value === c.choice && t.rule === c.rule;
  });

  protected plain(v: number): string {
    return show(v * (this.desk.factor()?.shown ?? 1), 1);
  }

  protected words(v: number): string {
    return `${show(v * (this.desk.factor()?.shown ?? 1))} ${this.unit()}`;
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
