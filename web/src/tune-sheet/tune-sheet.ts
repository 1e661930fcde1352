import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { show } from '#core/base';
import { factorOf } from '#core/factors';
import { newest, stopOfFactor, stops, tuneSheetCsv, valueWords, type Tuned } from '#core/route';
import { rules } from '#core/settle';
import { download, fileName } from '../data/download';
import { Keeper } from '../data/keeper';
import { StateMark } from '../ui/state-mark';

/** The values of a pair, each with its rule, evidence and date. */
@Component({
  selector: 'st-tune-sheet',
  imports: [RouterLink, StateMark],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (pair(); as p) {
      <div class="top">
        <div>
          <h1>Tune sheet</h1>
          <p class="soft">{{ label() }}</p>
        </div>
        <span class="gap"></span>
        <button type="button" class="act" [disabled]="!values().length" (click)="json()">
          <i class="pi pi-download" aria-hidden="true"></i>JSON
        </button>
        <button type="button" class="act" [disabled]="!values().length" (click)="csv()">
          <i class="pi pi-download" aria-hidden="true"></i>CSV
        </button>
        <button type="button" class="act" [disabled]="!values().length" (click)="print()">
          <i class="pi pi-print" aria-hidden="true"></i>Print
        </button>
      </div>
      @if (values().length) {
        <table>
          <thead>
            <tr>
              <th scope="col">setting</th>
              <th scope="col">value</th>
              <th scope="col" class="wide">low – value – high</th>
              <th scope="col">rule and reason</th>
              <th scope="col">evidence</th>
              <th scope="col">when</th>
              <th scope="col">state</th>
            </tr>
          </thead>
          <tbody>
            @for (v of values(); track v.factor) {
              <tr>
                <th scope="row">{{ name(v) }}</th>
                <td class="value figures">{{ words(v) }}</td>
                <td>
                  <svg viewBox="0 0 170 34" width="170" height="34" role="img" [attr.aria-label]="bandWords(v)">
                    <path class="line" d="M8 14h154" />
                    <path class="band" [attr.d]="'M' + x(v, v.low) + ' 14H' + x(v, v.high)" />
                    <circle [attr.cx]="x(v, v.value)" cy="14" r="5" />
                    <text [attr.x]="x(v, v.low)" y="31" text-anchor="middle">{{ short(v.low) }}</text>
                    <text [attr.x]="x(v, v.high)" y="31" text-anchor="middle">{{ short(v.high) }}</text>
                  </svg>
                </td>
                <td>
                  <b>{{ rule(v) }}</b><br /><span class="soft">{{ v.why }}</span>
                </td>
                <td>
                  <a [routerLink]="['/trial', v.trial]">{{ v.trialTitle }}</a><br /><span class="soft">{{
                    v.evidence
                  }}</span>
                </td>
                <td class="figures nowrap">{{ v.on }}</td>
                <td class="nowrap">
                  <span class="state"><st-state-mark [state]="v.state" /> {{ v.state }}</span>
                  @if (v.shakenBy) {
                    <br /><span class="shaken">by {{ v.shakenBy }}</span>
                  }
                </td>
              </tr>
            }
          </tbody>
        </table>
        @if (older().length) {
          <h2>Earlier values</h2>
          <ul>
            @for (v of older(); track $index) {
              <li>
                {{ name(v) }} <span class="figures">{{ words(v) }}</span> on {{ v.on }}, {{ v.evidence }}
              </li>
            }
          </ul>
        }
        <p class="soft small open">Not settled yet: {{ missing() }}.</p>
      } @else {
        <div class="empty">
          <p>
            Nothing is settled for this pair yet. Each settled value stands here with its rule, its evidence and its
            date.
          </p>
          <a class="act main" [routerLink]="['/pair', p.id, 'stop', 'temperature']">Start with the temperature</a>
        </div>
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
    .top {
      display: flex;
      gap: 10px;
      align-items: center;
      margin-bottom: 18px;
    }
    .gap {
      flex: 1;
    }
    table {
      width: 100%;
      border-collapse: collapse;
      background: var(--sheet);
      border: 1px solid var(--line);
    }
    thead th {
      text-align: left;
      font-size: 12px;
      font-weight: 500;
      color: var(--ink-soft);
      border-bottom: 1.5px solid var(--ink);
      padding: 9px 12px;
    }
    tbody th,
    td {
      padding: 13px 12px;
      text-align: left;
      vertical-align: top;
      border-bottom: 1px solid var(--line);
      font-size: 13px;
    }
    tbody th {
      font-weight: 600;
    }
    .value {
      font-size: 18px;
      font-weight: 600;
      color: var(--madder);
      white-space: nowrap;
    }
    .nowrap {
      white-space: nowrap;
    }
    .state {
      display: inline-flex;
      gap: 7px;
      align-items: center;
    }
    .shaken {
      color: var(--shaken-ink);
    }
    svg .line {
      stroke: var(--line-strong);
      stroke-width: 1;
    }
    svg .band {
      stroke: var(--madder);
      stroke-width: 7;
      opacity: 0.28;
    }
    svg circle {
      fill: var(--madder);
    }
    svg text {
      font: 12px var(--figures);
      fill: var(--ink-soft);
    }
    h2 {
      margin: 22px 0 6px;
    }
    .open {
      margin-top: 16px;
    }
    .empty {
      display: grid;
      gap: 14px;
      justify-items: start;
      padding: 26px;
      border: 1px dashed var(--line-strong);
    }
    @media print {
      .act {
        display: none;
      }
      table {
        background: none;
      }
    }
  `,
})
export class TuneSheet {
  readonly pairId = input.required<string>();
  private readonly keeper = inject(Keeper);
  protected readonly pair = computed(() => this.keeper.find('pairs', this.pairId()));
  protected readonly label = computed(() => this.keeper.labelOf(this.pair()));
  protected readonly values = computed(() => newest(this.pair()?.values ?? []));
  protected readonly older = computed(() => {
    const now = new Set(this.values());
    return (this.pair()?.values ?? []).filter((v) => !now.has(v)).toReversed();
  });
  protected readonly missing = computed(() => {
    const done = new Set(this.values().map((v) => stopOfFactor(v.factor)?.id));
    return stops
      .filter((s) => !done.has(s.id))
      .map((s) => s.label.toLowerCase())
      .join(', ');
  });

  protected name(v: Tuned): string {
    return factorOf(v.factor)?.label ?? v.factor;
  }

  protected words(v: Tuned): string {
    return valueWords(v);
  }

  protected rule(v: Tuned): string {
    return rules.find((r) => r.id === v.rule)?.label ?? v.rule;
  }

  protected short(v: number): string {
    return show(v, 1);
  }

  protected bandWords(v: Tuned): string {
    return `${show(v.low, 1)} – ${show(v.value)} – ${show(v.high, 1)}; the optimum lies between ${show(v.interval95[0], 1)} and ${show(v.interval95[1], 1)} with 95 %`;
  }

  protected x(v: Tuned, at: number): number {
    const span = Math.max(v.high - v.low, 1e-9);
    const low = v.low - span * 0.35;
    return 8 + ((at - low) / (span * 1.7)) * 154;
  }

  protected json(): void {
    const pair = this.pair()!;
    const context = this.keeper.contextOf(pair);
    const sheet = {
      kind: 'steady-tune/tune-sheet',
      version: 1,
      pair: this.label(),
      printer: context?.printer.name,
      filament: context?.filament.name,
      values: this.values(),
      history: pair.values,
    };
    download(fileName(`tune-sheet-${this.label()}`, 'json'), JSON.stringify(sheet, null, 2), 'application/json');
  }

  protected csv(): void {
    download(fileName(`tune-sheet-${this.label()}`, 'csv'), tuneSheetCsv(this.values()), 'text/csv');
  }

  protected print(): void {
    window.print();
  }
}
