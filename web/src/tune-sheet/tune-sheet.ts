import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Dialog } from 'primeng/dialog';
import { Select } from 'primeng/select';
import { dayOf, show } from '#core/base';
import { factorOf } from '#core/factors';
import {
  copied,
  conditionWords,
  firmwareLines,
  inRouteOrder,
  newest,
  restored,
  stopOfFactor,
  stops,
  tuneSheetCsv,
  valueWords,
  withSettled,
  type PairRecord,
  type SheetOf,
  type Tuned,
} from '#core/route';
import { qualityOf } from '#core/judge';
import { otherWays, rules } from '#core/settle';
import type { Trial } from '#core/trial';
import { download, fileName } from '../data/download';
import { Keeper } from '../data/keeper';
import { RecheckButton } from '../ui/recheck-button';
import { SpecimenPicture } from '../ui/specimen-picture';
import { StateMark } from '../ui/state-mark';
import { Limit } from '../ui/limit';

/** The values of a pair, each with its rule, evidence and date. */
@Component({
  selector: 'st-tune-sheet',
  imports: [Limit, RecheckButton, RouterLink, SpecimenPicture, StateMark, FormsModule, Select, Dialog],
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
        <button type="button" class="act" [disabled]="!firmware().length" (click)="commands()">
          <i class="pi pi-download" aria-hidden="true"></i>Firmware
        </button>
      </div>
      @if (pairs().length && values().length) {
        <div class="beside no-print">
          <label for="other">beside another pair</label>
          <p-select
            inputId="other"
            [options]="pairs()"
            optionLabel="label"
            optionValue="id"
            [showClear]="true"
            [ngModel]="otherId()"
            (ngModelChange)="otherId.set($event ?? undefined)"
            placeholder="none"
            ariaLabel="Beside another pair"
          />
        </div>
      }
      <p-dialog
        [visible]="copying() !== undefined"
        (visibleChange)="copying.set(undefined)"
        [modal]="true"
        header="Copy a value to another pair"
        [style]="{ width: '460px' }"
      >
        @if (copying(); as v) {
          <p>
            {{ name(v) }} <b>{{ words(v) }}</b> would be taken over to {{ otherLabel() }}. It was found on this pair
            only: there it stands as shaken until a trial confirms it.
          </p>
          <div class="answers">
            <button type="button" class="act main" (click)="copy(v)">Copy it, unconfirmed</button>
            <button type="button" class="act" (click)="copying.set(undefined)">Leave it</button>
          </div>
        }
      </p-dialog>
      @if (values().length) {
        <table>
          <thead>
            <tr>
              <th scope="col">setting</th>
              <th scope="col">value</th>
              @if (other()) {
                <th scope="col">{{ otherLabel() }}</th>
              } @else {
                <th scope="col" class="wide">low – value – high</th>
              }
              <th scope="col">rule and reason</th>
              <th scope="col">evidence</th>
              <th scope="col">when</th>
              <th scope="col">state</th>
            </tr>
          </thead>
          <tbody>
            @for (v of values(); track v.factor) {
              <tr>
                <th scope="row">
                  {{ name(v) }}
                  <input
                    class="own"
                    [value]="ownName(v)"
                    (change)="setName(v, $event)"
                    [stLimit]="60"
                    placeholder="your program’s name"
                    [attr.aria-label]="'Your own name for ' + name(v)"
                  />
                </th>
                <td class="value figures">{{ words(v) }}</td>
                @if (other()) {
                  <td class="figures">
                    @if (twin(v); as t) {
                      <b>{{ words(t) }}</b><br /><span class="soft">{{ difference(v, t) }}</span>
                    } @else {
                      <span class="soft">not settled there</span><br />
                    }
                    <button type="button" class="act bare small no-print" (click)="copying.set(v)">
                      copy it there
                    </button>
                  </td>
                } @else {
                  <td class="wide">
                    @if (named(v)) {
                      <span class="soft small">a name, no amount</span>
                    } @else {
                      <svg viewBox="0 0 170 34" width="150" height="30" role="img" [attr.aria-label]="bandWords(v)">
                        <path class="line" d="M8 14h154" />
                        <path class="band" [attr.d]="'M' + x(v, v.low) + ' 14H' + x(v, v.high)" />
                        <circle [attr.cx]="x(v, v.value)" cy="14" r="5" />
                        <text [attr.x]="x(v, v.low)" y="31" text-anchor="middle">{{ short(v, v.low) }}</text>
                        @if (v.high > v.low) {
                          <text [attr.x]="x(v, v.high)" y="31" text-anchor="middle">{{ short(v, v.high) }}</text>
                        }
                      </svg>
                    }
                  </td>
                }
                <td>
                  <b>{{ rule(v) }}</b><br /><span class="soft">{{ v.why }}</span>
                </td>
                <td>
                  @if (trialOf(v); as t) {
                    <st-specimen-picture [trial]="t" [width]="84" [height]="46" />
                  }
                  @if (v.trial) {
                    <a [routerLink]="['/trial', v.trial]">{{ v.trialTitle }}</a><br />
                  }
                  <span class="soft">{{ v.evidence }}</span>
                  @for (c of conditions(v); track c) {
                    <br /><span class="soft">{{ c }}</span>
                  }
                </td>
                <td class="figures nowrap">{{ v.on }}</td>
                <td class="standing">
                  <span class="state"><st-state-mark [state]="v.state" /> {{ v.state }}</span>
                  @if (v.shakenBy) {
                    <br /><span class="shaken">by {{ v.shakenBy }}</span
                    ><st-recheck-button class="no-print" [pair]="p.id" [value]="v" />
                  }
                </td>
              </tr>
            }
          </tbody>
        </table>
        @if (older().length) {
          <h2>Earlier values</h2>
          <ul class="older">
            @for (v of older(); track $index) {
              <li>
                <span
                  >{{ name(v) }} <b class="figures">{{ words(v) }}</b> on {{ v.on }}, {{ v.why }};
                  {{ v.evidence }}</span
                >
                <button type="button" class="act bare small no-print" (click)="restore(v)">
                  Put {{ words(v) }} back
                </button>
              </li>
            }
          </ul>
        }
        @if (firmware().length) {
          <h2>For the firmware</h2>
          <p class="soft small">
            These values live in the firmware. Type the commands, or put them where the printer starts.
          </p>
          <pre class="figures">{{
            firmware().join(
              '
'
            )
          }}</pre>
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
    .standing {
      max-width: 230px;
    }
    .state {
      display: inline-flex;
      white-space: nowrap;
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
    .own {
      display: block;
      width: 130px;
      margin-top: 3px;
      padding: 1px 4px;
      border: 0;
      border-bottom: 1px dashed var(--line-strong);
      background: none;
      font: inherit;
      font-weight: 400;
      font-size: 12px;
      color: var(--ink-soft);
    }
    .beside {
      display: flex;
      gap: 10px;
      align-items: center;
      margin: -6px 0 12px;
      font-size: 13px;
      color: var(--ink-soft);
    }
    .older li {
      display: flex;
      gap: 14px;
      justify-content: space-between;
      padding: 4px 0;
      border-bottom: 1px solid var(--line);
    }
    .older {
      padding: 0;
      list-style: none;
    }
    .older .act {
      white-space: nowrap;
    }
    .answers {
      display: flex;
      gap: 10px;
      margin-top: 14px;
    }
    pre {
      padding: 10px 12px;
      background: var(--sheet);
      border: 1px solid var(--line);
      font-size: 13px;
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
    @media screen and (max-width: 1180px) {
      /* The reason says it in words. */
      .wide {
        display: none;
      }
    }
    @media screen and (max-width: 760px) {
      thead th,
      tbody th,
      td {
        padding-inline: 6px;
      }
    }
    @media print {
      .act,
      .no-print {
        display: none;
      }
      .own:placeholder-shown {
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
  protected readonly values = computed(() => inRouteOrder(this.pair()?.values ?? []));
  protected readonly older = computed(() => {
    const now = new Set(this.values());
    return (this.pair()?.values ?? []).filter((v) => !now.has(v)).toReversed();
  });
  protected readonly otherId = signal<string | undefined>(undefined);
  protected readonly copying = signal<Tuned | undefined>(undefined);
  protected readonly other = computed(() => this.keeper.find('pairs', this.otherId()));
  protected readonly otherLabel = computed(() => this.keeper.labelOf(this.other()));
  protected readonly pairs = computed(() =>
    this.keeper
      .documents()
      .pairs.filter((p) => p.id !== this.pairId())
      .map((p) => ({ id: p.id, label: this.keeper.labelOf(p) })),
  );
  protected readonly firmware = computed(() => {
    const firmware = this.keeper.contextOf(this.pair())?.printer.firmware;
    return firmware ? firmwareLines(this.values(), firmware) : [];
  });
  protected readonly missing = computed(() => {
    const done = new Set(this.values().map((v) => stopOfFactor(v.factor)?.id));
    return stops
      .filter((s) => !done.has(s.id) && !s.beside)
      .map((s) => s.label.toLowerCase())
      .join(', ');
  });

  protected name(v: Tuned): string {
    return factorOf(v.factor)?.label ?? v.factor;
  }

  protected words(v: Tuned): string {
    return valueWords(v);
  }

  protected named(v: Tuned): boolean {
    return factorOf(v.factor)?.choices !== undefined;
  }

  protected rule(v: Tuned): string {
    return [...rules, ...otherWays].find((r) => r.id === v.rule)?.label ?? v.rule;
  }

  protected short(v: Tuned, at: number): string {
    return show(at * this.shown(v), this.shown(v) * Math.abs(v.high) < 3 ? 3 : 1);
  }

  private shown(v: Tuned): number {
    return factorOf(v.factor)?.shown ?? 1;
  }

  protected bandWords(v: Tuned): string {
    return `${this.short(v, v.low)} – ${this.words(v)} – ${this.short(v, v.high)}; the optimum lies between ${this.short(v, v.interval95[0])} and ${this.short(v, v.interval95[1])}, 95 % sure`;
  }

  /** The conditions of the prints behind a value, what it was found under, how it was weighed, why out of order. */
  protected conditions(v: Tuned): string[] {
    const record = this.keeper.find('records', v.trial);
    const c = record?.prints.at(-1)?.conditions;
    const under = conditionWords(v);
    const weights = Object.entries(record?.weights ?? {}).map(
      ([id, w]) => `${qualityOf(id)?.label ?? id} × ${show(w)}`,
    );
    return [
      c ? [c.firmware && `firmware ${c.firmware}`, c.room, c.drying].filter((t) => t).join(' · ') : '',
      under && `found at ${under}`,
      weights.length > 0 ? `weighed ${weights.join(', ')}` : '',
      record?.outOfOrder ? `out of order: ${record.outOfOrder}` : '',
    ].filter((t) => t !== '');
  }

  /** The trial that found a value, for its picture. */
  protected trialOf(v: Tuned): Trial | undefined {
    return v.trial === '' ? undefined : this.keeper.find('records', v.trial)?.trial;
  }

  protected twin(v: Tuned): Tuned | undefined {
    return newest(this.other()?.values ?? []).find((t) => t.factor === v.factor);
  }

  protected difference(v: Tuned, t: Tuned): string {
    const f = factorOf(v.factor);
    if (f?.choices) return v.value === t.value ? 'the same' : 'another';
    const by = (t.value - v.value) * this.shown(v);
    return by === 0 ? 'the same' : `${by > 0 ? '+' : '−'}${show(Math.abs(by), 3)} ${f?.unit ?? ''}`;
  }

  protected ownName(v: Tuned): string {
    return this.pair()?.names?.[v.factor] ?? '';
  }

  /** A name holds for the user, so every pair gets it. */
  protected setName(v: Tuned, event: Event): void {
    const name = (event.target as HTMLInputElement).value.trim().slice(0, 60);
    for (const pair of this.keeper.documents().pairs) {
      const names = { ...pair.names, [v.factor]: name };
      if (name === '') delete names[v.factor];
      this.keeper.save('pairs', { ...pair, names });
    }
  }

  protected restore(v: Tuned): void {
    this.put(this.pair(), restored(v, dayOf()));
  }

  private put(pair: PairRecord | undefined, value: Tuned): void {
    const context = this.keeper.contextOf(pair);
    if (pair && context) this.keeper.save('pairs', withSettled(pair, context, value));
  }

  protected copy(v: Tuned): void {
    this.put(this.other(), copied(v, this.label(), dayOf()));
    this.copying.set(undefined);
  }

  protected commands(): void {
    download(fileName(`firmware-${this.label()}`, 'txt'), this.firmware().join('\n') + '\n', 'text/plain');
  }

  protected x(v: Tuned, at: number): number {
    const span = Math.max(v.high - v.low, 1e-9);
    const low = v.low - span * 0.35;
    return 8 + ((at - low) / (span * 1.7)) * 154;
  }

  protected json(): void {
    const pair = this.pair()!;
    const sheet = {
      kind: 'steady-tune/tune-sheet',
      version: 1,
      pair: this.label(),
      ...this.names(),
      names: pair.names ?? {},
      values: this.values().map((v) => ({ ...v, words: valueWords(v) })),
      firmware: this.firmware(),
      history: pair.values,
    };
    download(fileName(`tune-sheet-${this.label()}`, 'json'), JSON.stringify(sheet, null, 2), 'application/json');
  }

  private names(): SheetOf {
    const context = this.keeper.contextOf(this.pair());
    return { printer: context?.printer.name ?? '', filament: context?.filament.name ?? '' };
  }

  protected csv(): void {
    download(
      fileName(`tune-sheet-${this.label()}`, 'csv'),
      tuneSheetCsv(this.values(), this.names(), this.pair()?.names),
      'text/csv',
    );
  }

  protected print(): void {
    window.print();
  }
}
