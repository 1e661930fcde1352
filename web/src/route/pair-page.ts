import { ChangeDetectionStrategy, Component, computed, effect, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { engineCheckStop, isOpen, stopOf, stops, stopState } from '#core/route';
import { Keeper } from '../data/keeper';
import { StateMark } from '../ui/state-mark';

/** The route of a pair at full length: what stands where, and what to do next. */
@Component({
  selector: 'st-pair-page',
  imports: [RouterLink, StateMark],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (pair(); as p) {
      <h1>{{ label() }}</h1>
      @if (next(); as n) {
        <section class="next" aria-labelledby="next">
          <div>
            <h2 id="next">{{ n.title }}</h2>
            <p class="soft">{{ n.words }}</p>
          </div>
          <a class="act main" [routerLink]="n.link">{{ n.act }}</a>
        </section>
      }
      <table>
        <caption class="visually-hidden">
          The route with its stops
        </caption>
        <thead>
          <tr>
            <th scope="col">stop</th>
            <th scope="col">state</th>
            <th scope="col">value</th>
            <th scope="col">rests on</th>
            <th scope="col">what it settles</th>
          </tr>
        </thead>
        <tbody>
          @for (s of rows(); track s.id) {
            <tr [class.quiet]="s.state === 'to come'">
              <th scope="row">
                <a [routerLink]="['/pair', p.id, 'stop', s.id]"><st-state-mark [state]="s.state" /> {{ s.label }}</a>
              </th>
              <td>{{ s.state }}</td>
              <td class="figures">{{ s.words }}</td>
              <td>{{ s.restsOn }}</td>
              <td>{{ s.about }}</td>
            </tr>
          }
        </tbody>
      </table>
      <p class="soft beside">
        Beside the route:
        <a [routerLink]="['/pair', p.id, 'checks']">engine checks</a>, eleven solids of known measures for any setting,
        side by side.
      </p>
    } @else {
      <h1>There is no such pair</h1>
      <p class="soft">It may have been removed. <a routerLink="/shelf">Go to the shelf</a> to make one.</p>
    }
  `,
  styles: `
    :host {
      display: block;
      padding: 20px 24px 40px;
    }
    .next {
      display: flex;
      justify-content: space-between;
      align-items: center;
      gap: 20px;
      margin: 16px 0 20px;
      padding: 14px 16px;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-left: 3px solid var(--madder);
    }
    table {
      width: 100%;
      border-collapse: collapse;
    }
    thead th {
      text-align: left;
      font-size: 12px;
      font-weight: 500;
      color: var(--ink-soft);
      border-bottom: 1.5px solid var(--ink);
      padding: 4px 10px 6px 0;
    }
    tbody th,
    td {
      text-align: left;
      font-weight: 400;
      padding: 6px 14px 6px 0;
      border-bottom: 1px solid var(--line);
      vertical-align: middle;
    }
    tbody th a {
      display: inline-flex;
      gap: 10px;
      align-items: center;
      font-weight: 560;
      text-decoration: none;
    }
    tbody th a:hover {
      text-decoration: underline;
    }
    td {
      color: var(--ink-soft);
    }
    td:nth-child(2),
    td:nth-child(3),
    tbody th {
      white-space: nowrap;
    }
    td.figures {
      color: var(--ink);
    }
    .beside {
      margin-top: 16px;
    }
    .quiet a {
      font-weight: 400;
      color: var(--ink-soft);
    }
  `,
})
export class PairPage {
  readonly pairId = input.required<string>();
  private readonly keeper = inject(Keeper);
  protected readonly pair = computed(() => this.keeper.find('pairs', this.pairId()));
  protected readonly label = computed(() => this.keeper.labelOf(this.pair()));
  private readonly records = computed(() =>
    this.keeper.documents().records.filter((r) => r.pair === this.pairId() && r.stop !== engineCheckStop),
  );

  protected readonly rows = computed(() =>
    stops.map((stop) => {
      const open = this.records().some((r) => r.stop === stop.id && r.settledOn === undefined && r.prints.length > 0);
      const { state, words } = stopState(stop, this.pair()?.values ?? [], open);
      return {
        id: stop.id,
        label: stop.label,
        about: stop.about,
        state,
        words: state === 'to come' ? '' : words,
        restsOn: stop.restsOn.map((id) => stopOf(id)?.label.toLowerCase()).join(', ') || '–',
      };
    }),
  );

  protected readonly next = computed(() => {
    const p = this.pair();
    if (!p) return undefined;
    const inHand = this.records().findLast((r) => r.settledOn === undefined);
    if (inHand) {
      const reading = inHand.prints.length > 0;
      return {
        title: `${reading ? 'Being read' : 'Planned'}: ${inHand.trial.title}`,
        words: reading
          ? `${inHand.readings.length} readings so far. Go on where you left off.`
          : 'The plan is ready. Print it, then read it.',
        link: ['/trial', inHand.id],
        act: reading ? 'Go on reading' : 'Open the plan',
      };
    }
    const stop = stops.find((s) => isOpen(s) && stopState(s, p.values, false).state !== 'settled');
    if (!stop)
      return {
        title: 'Temperature is settled',
        words: 'The other stops of the route are still to come. The tune sheet holds what is known.',
        link: ['/pair', p.id, 'tune'],
        act: 'Open the tune sheet',
      };
    return {
      title: `Next: ${stop.label.toLowerCase()}`,
      words: `It settles ${stop.about}.`,
      link: ['/pair', p.id, 'stop', stop.id],
      act: 'Plan it',
    };
  });

  constructor() {
    effect(() => {
      const pair = this.pair();
      if (pair && this.keeper.currentPair()?.id !== pair.id) this.keeper.choosePair(pair.id);
    });
  }
}
