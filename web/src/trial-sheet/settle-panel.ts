import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Select } from 'primeng/select';
import { Slider } from 'primeng/slider';
import { duration, show } from '#core/base';
import { factorOf } from '#core/factors';
import {
  comparisonWords,
  conditionDifferences,
  countsLess,
  otherWays,
  rulesFor,
  unsaidConditions,
  widthOf,
  type Choice,
} from '#core/settle';
import { calculate, calculatorOf } from '#core/sums';
import { compareRecords, movedWords, newest, stopOf, symptomOf, valueWords } from '#core/route';
import { Keeper } from '../data/keeper';
import { ByHand } from '../route/by-hand';
import { AskedNextTrial } from './asked-next';
import { ConfirmAgainst } from './confirm-against';
import { ConfirmationAnswer } from './confirmation-answer';
import { FeedNote } from './feed-note';
import { HiddenNote } from './hidden-note';
import { QuantityList } from './quantity-list';
import { TradeOff } from './trade-off';
import { TrialDesk } from './trial-desk';

type Side = 'look' | 'strength' | 'time' | 'filament';

/** Settle: the rule, the weights, the value with its reason, or the plain answer why there is none. */
@Component({
  selector: 'st-settle-panel',
  imports: [
    AskedNextTrial,
    ByHand,
    ConfirmAgainst,
    ConfirmationAnswer,
    FeedNote,
    HiddenNote,
    QuantityList,
    FormsModule,
    Select,
    Slider,
    RouterLink,
    TradeOff,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '[class.wide]': 'desk.columns() !== undefined || desk.tracks().length === 0' },
  template: `
    @if (desk.settlement.verdict()) {
      <st-confirmation-answer />
    } @else if (desk.settlement.failed(); as why) {
      <div class="empty">
        <p class="wrong" role="alert">What it says could not be worked out. {{ why }}</p>
        <button type="button" class="act" (click)="desk.settlement.again()">Try again</button>
      </div>
    } @else if (desk.settlement.settled(); as s) {
      @if (ruled()) {
        <section aria-label="Rule" class="rule">
          <label for="rule">rule</label>
          <p-select
            inputId="rule"
            [options]="ruleOptions()"
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
          @if (less(); as words) {
            <p class="small soft less">{{ words }}</p>
          }
        </section>
      } @else {
        <p class="small soft rule">Nothing is judged here: what is measured says the value.</p>
      }
      <section aria-label="Answer" class="answer">
        @for (c of desk.settlement.choices(); track c.factor) {
          <p class="value figures">
            @if (desk.settlement.choices().length > 1) {
              <span class="name">{{ name(c.factor) }}</span>
            }
            {{ words(c.factor, c.choice) }}
          </p>
          <p>{{ c.why }}.</p>
          @if (widthOf(c); as width) {
            <p class="small soft">{{ width }}</p>
          }
        } @empty {
          <p class="value none">no value yet</p>
        }
        @for (b of desk.settlement.earlier(); track $index) {
          @if (b.putBack; as p) {
            <p class="small soft">The confirmation that put {{ words(p.factor, p.value) }} back is counted in.</p>
          } @else {
            <p class="small soft">What was read of “{{ b.title }}” is counted in.</p>
          }
        }
        @for (w of desk.bench.measuredWords(); track w) {
          <p class="figures">{{ w }}</p>
        }
        <st-quantity-list />
        @if (speedLimit(); as l) {
          <p class="figures">{{ l }}</p>
        }
        @for (f of s.flags; track f.message) {
          <p [class.wrong]="f.code === 'void' || f.code === 'confounded'" role="status">
            {{ f.message }}.
            @if (f.code === 'poor-everywhere') {
              <a
                [routerLink]="['/pair', desk.record()?.pair, 'wrong']"
                [queryParams]="{ symptom: symptomOf(f.quality ?? '')?.id, elsewhere: desk.record()?.stop }"
                class="small"
                >what may spoil it</a
              >
            }
          </p>
        }
        <st-hidden-note />
        @if (others().length > 0) {
          <details class="compare" #compare (toggle)="comparing.set(compare.open)">
            <summary>compare</summary>
            <p-select
              ariaLabel="Compare with"
              placeholder="with …"
              [showClear]="true"
              [options]="others()"
              optionLabel="label"
              optionValue="id"
              [ngModel]="against() || null"
              (ngModelChange)="against.set($event ?? '')"
            />
          </details>
        }
      </section>
      <section aria-label="Act" class="acts">
        @if (desk.settlement.choices().length) {
          <button
            type="button"
            class="act main"
            (click)="desk.settlement.settleNow()"
            [disabled]="already() || !desk.settlement.current()"
          >
            {{ already() ? 'Settled: ' : 'Settle ' }}{{ allWords() }}
          </button>
        }
        @if (desk.settlement.tuned(); as t) {
          <a [routerLink]="['/pair', desk.record()?.pair, 'tune']" class="small"
            >{{ valueWords(t) }} stands on the tune sheet</a
          >
        }
        @for (d of desk.settlement.disagreements(); track d.message) {
          <p class="small wrong" role="status">{{ d.message }}</p>
        }
        <st-feed-note />
        @if (desk.settlement.tuned() && desk.settlement.moved().length > 0) {
          <button type="button" class="act" (click)="unconfirmed.set(!desk.settlement.confirm())">
            Confirm against {{ movedWords(desk.settlement.moved(), 'old') }}
          </button>
        }
        @if (unconfirmed()) {
          <p class="small wrong" role="alert">
            These cannot be printed beside one another. Name another value, or settle by hand.
          </p>
        }
        @if (desk.settlement.tuned()) {
          <st-confirm-against />
        }
        @if (s.next) {
          <button
            type="button"
            class="act"
            [disabled]="!desk.settlement.current()"
            (click)="desk.settlement.openNext()"
          >
            Plan the next trial
          </button>
          <p class="small soft">{{ s.nextWhy }}{{ nextCost() }}</p>
        }
        <st-asked-next />
        @if (byHand().length > 0) {
          <st-by-hand
            [factors]="byHand()"
            summary="settle by hand …"
            question="Why?"
            hint="all are equal, I keep what the maker says"
            act="Settle by hand"
            (given)="desk.settlement.settleByHand($event.values, $event.why)"
          />
        }
      </section>
      @if (!desk.columns() && desk.tracks().length > 0) {
        <st-trade-off />
      }
      @if (comparing() && comparison().length > 0) {
        <section aria-label="Compared" class="compared">
          @for (w of comparison(); track w) {
            <p class="small" [class.wrong]="w.startsWith('more than one')">{{ w }}</p>
          }
        </section>
      }
    } @else if (desk.settlement.working()) {
      <p class="soft" role="status">Working out what it says …</p>
    } @else {
      <div class="empty">
        <p>There is nothing to settle yet: this trial has not been printed and read.</p>
        <button type="button" class="act" (click)="desk.go('print')">Go to Print</button>
        @if (desk.settlement.tuned(); as t) {
          <a [routerLink]="['/pair', desk.record()?.pair, 'tune']">{{ valueWords(t) }} stands on the tune sheet</a>
        }
        @if (byHand().length > 0) {
          <st-by-hand
            [factors]="byHand()"
            summary="settle by hand …"
            question="Why?"
            hint="all are equal, I keep what the maker says"
            act="Settle by hand"
            (given)="desk.settlement.settleByHand($event.values, $event.why)"
          />
        }
      </div>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: 220px minmax(0, 1fr) 200px minmax(0, 300px);
      gap: 24px;
    }
    .name {
      display: block;
      font-size: 12.5px;
      font-weight: 400;
      color: var(--ink-soft);
    }
    section {
      display: grid;
      grid-template-columns: minmax(0, 1fr);
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
      gap: 9px 14px;
      align-items: center;
      padding: 8px 8px 0 0;
      font-size: 12.5px;
    }
    :host(.wide) {
      grid-template-columns: 220px minmax(0, 1fr) 220px;
    }
    .compared {
      grid-column: 2 / -1;
      max-width: 78ch;
    }
    .compare summary {
      cursor: pointer;
      color: var(--madder);
      font-size: 12.5px;
    }
    .compare p-select {
      max-width: 100%;
    }
    .acts .act {
      justify-content: center;
    }
    @media (max-width: 1180px) {
      :host,
      :host(.wide) {
        grid-template-columns: minmax(0, 1fr) minmax(0, 1.5fr) 210px;
      }
      st-trade-off {
        grid-column: 2 / -1;
      }
    }
    @media (max-width: 760px) {
      :host,
      :host(.wide) {
        grid-template-columns: minmax(0, 1fr);
      }
      st-trade-off,
      .compared {
        grid-column: auto;
      }
    }
  `,
})
export class SettlePanel {
  protected readonly symptomOf = symptomOf;
  protected readonly desk = inject(TrialDesk);
  private readonly keeper = inject(Keeper);
  protected readonly valueWords = valueWords;
  protected readonly movedWords = movedWords;
  /** Where nothing is judged, what was measured says the value. */
  protected readonly ruled = computed(
    () => this.desk.tracks().length > 0 || this.desk.settlement.choices().some((c) => c.rule !== 'measured'),
  );
  protected readonly ruleOptions = computed(() => [
    // On a map the surface decides: no other rule is applied there, so none is offered.
    ...rulesFor(this.desk.factor()).filter((r) => !this.desk.columns() || r.id === 'best-combined'),
    ...(this.telling().length > 0 ? otherWays.filter((w) => w.id === 'measured') : []),
  ]);
  /** Quantities that can decide: of which more or less is better. */
  private readonly telling = computed(() => this.desk.bench.measures().filter((m) => m.better !== 'neither'));
  /** The settings that can be settled here by hand: what varies, else what the stop settles. */
  protected readonly byHand = computed(() => {
    const record = this.desk.record();
    const varied = record?.trial.axes.map((a) => a.factor) ?? [];
    return varied.length > 0 ? varied : (stopOf(record?.stop ?? '')?.factors.slice(0, 1) ?? []);
  });
  protected readonly sides = [
    { id: 'look', label: 'look' },
    { id: 'strength', label: 'strength' },
    { id: 'time', label: 'time' },
    { id: 'filament', label: 'filament' },
  ] as const;
  protected readonly allWords = computed(() =>
    this.desk.settlement
      .choices()
      .map((c) => this.words(c.factor, c.choice))
      .join(', '),
  );
  /** What a flow limit means for the speed of this line. */
  protected readonly speedLimit = computed(() => {
    const limit = this.desk.settlement.choices().find((c) => c.factor === 'volumetric-flow');
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
  /** Whether every value chosen stands on the tune sheet already, by the same rule. */
  protected readonly already = computed(() => {
    const choices = this.desk.settlement.choices();
    const values = newest(this.keeper.find('pairs', this.desk.record()?.pair)?.values ?? []);
    return (
      choices.length > 0 &&
      choices.every((c) =>
        values.some(
          (v) => v.trial === this.desk.id() && v.factor === c.factor && v.value === c.choice && v.rule === c.rule,
        ),
      )
    );
  });

  protected name(factor: string): string {
    return factorOf(factor)?.label ?? factor;
  }

  /** How wide an answer is, told once: where the optimum (of a fault: its beginning) lies, else the levels it spans. */
  protected widthOf(c: Choice): string {
    const [a, b] = widthOf(c);
    const ends = `between ${this.nearly(c.factor, a)} and ${this.nearly(c.factor, b)}`;
    if (a >= b) return '';
    if (c.interval95[0] >= c.interval95[1]) return `Anything ${ends}.`;
    return `The ${c.begins === undefined ? 'optimum' : 'fault'} lies ${ends}, 95 % sure.`;
  }

  /** A bound of an interval, no finer than what can be set. */
  private nearly(factor: string, value: number): string {
    const grain = factorOf(factor)?.settable ?? 1;
    return this.words(factor, Math.round(value / grain) * grain);
  }

  protected words(factor: string, value: number): string {
    return valueWords({ factor, value });
  }

  /** Prints of this trial, and trials of the same specimen and factor, that can be held against the last print. */
  protected readonly others = computed(() => {
    const own = this.desk.record();
    if (!own || own.prints.length === 0) return [];
    const factor = own.trial.axes[0]?.factor;
    const prints = own.prints.slice(0, -1).map((p, i) => ({ id: `print ${p.id}`, label: `print ${i + 1}, ${p.on}` }));
    const trials = this.keeper
      .documents()
      .records.filter(
        (r) => r.id !== own.id && r.readings.length > 0 && factor !== undefined && r.trial.axes[0]?.factor === factor,
      )
      .map((r) => ({
        id: `trial ${r.id}`,
        label: `${r.trial.context.printer.name}, ${r.trial.context.filament.name}: ${r.trial.title}`,
      }));
    return [...prints, ...trials].slice(0, 60);
  });
  protected readonly against = signal('');
  protected readonly unconfirmed = signal(false);
  protected readonly comparing = signal(false);
  /** What the comparison says, the difference in conditions first. */
  protected readonly comparison = computed(() => {
    const own = this.desk.record();
    const [kind, id] = this.against().split(/ (.*)/s);
    if (!own || !id) return [];
    const last = own.prints.at(-1)!;
    const ownSide = (print: string, label: string) => ({
      label,
      readings: own.readings.filter((r) => r.print === print),
      measures: this.desk.bench.measures(),
    });
    if (kind === 'print') {
      const other = own.prints.find((p) => p.id === id);
      return other
        ? comparisonWords(
            ownSide(other.id, other.on),
            ownSide(last.id, last.on),
            conditionDifferences([other, last]),
            unsaidConditions([other, last]),
          )
        : [];
    }
    const other = this.keeper.find('records', id);
    return other ? compareRecords(other, own) : [];
  });

  /** What the next trial would take, about: as this one, by its share of levels. */
  protected readonly nextCost = computed(() => {
    const next = this.desk.settlement.settled()?.next;
    const report = this.desk.made()?.report;
    const levels = this.desk.record()?.trial.axes[0]?.levels.length ?? 0;
    if (!next || !report || levels === 0) return '';
    const share = next.axes[0]!.levels.length / levels;
    const time = (report.time * share + report.heating) * (this.desk.pace()?.ratio ?? 1);
    return `; about ${duration(time)} and ${show(report.filament.mass * share, 1)} g`;
  });

  /** Which qualities count less here, since a later stop sets them right. */
  protected readonly less = computed(() => {
    const axes = this.desk.record()?.trial.axes ?? [];
    const tracks = this.desk.tracks().map((t) => t.id);
    return axes.length === 1 ? countsLess(axes[0]!.factor, tracks) : '';
  });

  protected weight(side: Side): number {
    if (side === 'time' || side === 'filament') return this.desk.record()?.weights[side] ?? 0;
    const id = this.desk.tracks().find((t) => t.side === side)?.id;
    return id === undefined ? 1 : (this.desk.record()?.weights[id] ?? 1);
  }

  protected setWeight(side: Side, value: number): void {
    const own =
      side === 'time' || side === 'filament'
        ? { [side]: value }
        : Object.fromEntries(
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
