import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { Select } from 'primeng/select';
import { duration, listed, show } from '#core/base';
import { factorOf } from '#core/factors';
import {
  causes,
  effortOf,
  inHand as inHandOf,
  isOnRoute,
  kindsOf,
  newest,
  nextStop,
  shaken,
  shakenBy,
  beneath,
  stops,
  stopState,
  unsettledBefore,
  valueWords,
  type TrialRecord,
} from '#core/route';
import { Habits } from '../data/habits';
import { Keeper } from '../data/keeper';
import { RecheckButton } from '../ui/recheck-button';
import { StateMark } from '../ui/state-mark';
import { CostOf, type Cost } from '../data/cost-of';
import { TrialMaker } from '../data/trial-maker';

/** The route of a pair at full length: what stands where, and what to do next. */
@Component({
  selector: 'st-pair-page',
  imports: [RecheckButton, RouterLink, StateMark, Select, FormsModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (pair(); as p) {
      <h1>{{ label() }}</h1>
      <p class="soft effort">
        {{ effort() }} {{ toGo() }} <a [routerLink]="['/pair', p.id, 'values']">What this pair prints with</a>
      </p>
      @for (t of otherTools(); track t.tool) {
        <div class="tool">
          <span>Tool {{ t.tool + 1 }} holds</span>
          <p-select
            [options]="filaments()"
            optionLabel="name"
            optionValue="id"
            [ngModel]="t.filament"
            (ngModelChange)="hold(t.tool, $event)"
            [ariaLabel]="'Filament in tool ' + (t.tool + 1)"
          />
        </div>
      }
      @if (next(); as n) {
        <section class="next" aria-labelledby="next">
          <div>
            <h2 id="next">{{ n.title }}</h2>
            <p class="soft">{{ n.words }}</p>
            @if (n.cost) {
              <p class="figures small">{{ n.cost }}</p>
            }
          </div>
          <div class="acts">
            <a class="act main" [routerLink]="n.link">{{ n.act }}</a>
            @if (n.record; as r) {
              <button type="button" class="act" (click)="setAside(r)">Set it aside</button>
            }
          </div>
        </section>
      }
      @if (shakenValues().length) {
        <section class="loose" aria-labelledby="loose">
          <h2 id="loose">Shaken</h2>
          @for (v of shakenValues(); track v.tuned.factor) {
            <p>
              <span
                ><b>{{ v.label }} {{ v.words }}</b> <span class="shaken">by {{ v.tuned.shakenBy }}.</span></span
              >
              <st-recheck-button [pair]="p.id" [value]="v.tuned" />
            </p>
          }
        </section>
      }
      <table>
        <caption class="visually-hidden">
          The route with its stops
        </caption>
        <thead>
          <tr>
            <th scope="col">stop</th>
            <th scope="col">what it settles</th>
            <th scope="col">rests on</th>
            <th scope="col">value, or the trial that finds it</th>
          </tr>
        </thead>
        <tbody>
          @for (s of rows(); track s.id) {
            @if (s.firstBeside) {
              <tr class="divider">
                <th colspan="4" scope="rowgroup">beside the route: nothing waits for these</th>
              </tr>
            }
            <tr>
              <th scope="row">
                <a [routerLink]="['/pair', p.id, 'stop', s.id]"><st-state-mark [state]="s.state" /> {{ s.label }}</a>
              </th>
              <td>{{ s.about }}</td>
              <td>{{ s.restsOn }}</td>
              <td class="value" [class.shaken]="s.state === 'shaken'">
                @if (s.words) {
                  <span class="figures">{{ s.words }}</span>
                } @else {
                  {{ s.trial }}
                }
                <span class="visually-hidden">{{ s.state }}</span>
              </td>
            </tr>
          }
        </tbody>
      </table>
      <section class="changed" aria-labelledby="changed">
        <h2 id="changed">Something changed?</h2>
        <div class="line">
          <p-select
            [options]="causeOptions"
            optionLabel="label"
            optionValue="id"
            [ngModel]="cause()"
            (ngModelChange)="cause.set($event)"
            placeholder="what changed"
            ariaLabel="What changed"
          />
          @if (cause()) {
            <span>{{ willShake() }}</span>
            <button type="button" class="act" [disabled]="!hits().length" (click)="shake()">Mark them as shaken</button>
          } @else {
            <span class="soft"
              >New nozzle, new spool, work on the bed: what rests on it is shaken, and is said here first.</span
            >
          }
        </div>
      </section>
      <p class="soft beside">
        <a [routerLink]="['/pair', p.id, 'wrong']">Something looks wrong on a print?</a> From what is seen to what to
        check first. Also beside the route: <a [routerLink]="['/pair', p.id, 'free']">free trials</a> of any setting on
        any specimen, and <a [routerLink]="['/pair', p.id, 'checks']">engine checks</a>, eleven solids of known
        measures, and <a [routerLink]="['/pair', p.id, 'sums']">sums</a> that are done beside the machine.
      </p>
    } @else {
      <h1>There is no such pair</h1>
      <p class="soft">It may have been removed. <a routerLink="/shelf">Go to the shelf</a> to make one.</p>
    }
  `,
  styleUrl: './table.css',
  styles: `
    :host {
      display: block;
    }
    .next {
      display: flex;
      justify-content: space-between;
      align-items: center;
      gap: 20px;
      margin: 12px 0 16px;
      padding: 12px 16px;
      background: var(--sheet);
      border: 1px solid var(--line);
      border-left: 3px solid var(--madder);
    }
    .next .act {
      white-space: nowrap;
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
    tbody th {
      white-space: nowrap;
    }
    .acts {
      display: flex;
      gap: 10px;
    }
    td.value {
      white-space: nowrap;
    }
    td.value .figures {
      color: var(--ink);
    }
    .loose {
      margin: 0 0 14px;
      padding: 8px 14px;
      border-left: 3px solid var(--shaken);
      background: var(--well);
    }
    .loose p {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 18px;
      justify-content: space-between;
      align-items: center;
      margin: 4px 0;
    }
    .loose .shaken {
      color: var(--shaken-ink);
    }
    td.shaken {
      color: var(--shaken-ink);
    }
    .divider th {
      padding-top: 14px;
      font-size: 12px;
      font-weight: 500;
      color: var(--ink-soft);
    }
    .changed {
      margin-top: 18px;
      display: grid;
      gap: 6px;
    }
    .line {
      display: flex;
      gap: 14px;
      align-items: center;
      flex-wrap: wrap;
    }
    .tool {
      display: flex;
      gap: 10px;
      align-items: center;
      margin-top: 6px;
    }
    .beside {
      margin-top: 16px;
    }
  `,
})
export class PairPage {
  readonly pairId = input.required<string>();
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly costOf = inject(CostOf);
  private readonly habits = inject(Habits);
  protected readonly pair = computed(() => this.keeper.find('pairs', this.pairId()));
  protected readonly label = computed(() => this.keeper.labelOf(this.pair()));
  protected readonly causeOptions = [...causes];
  protected readonly cause = signal<string | undefined>(undefined);
  private readonly records = computed(() =>
    this.keeper.documents().records.filter((r) => r.pair === this.pairId() && isOnRoute(r)),
  );
  private readonly tools = computed(() => this.keeper.contextOf(this.pair())?.printer.tools ?? 1);

  protected readonly filaments = computed(() =>
    this.keeper.documents().filaments.map(({ id, name }) => ({ id, name })),
  );
  /** What the second tool and on hold, on a printer that has them. */
  protected readonly otherTools = computed(() => {
    const pair = this.pair();
    return Array.from({ length: this.tools() - 1 }, (_, i) => ({
      tool: i + 1,
      filament: pair?.others?.[i] ?? pair?.filament,
    }));
  });

  protected hold(tool: number, filament: string): void {
    const pair = this.pair();
    if (!pair) return;
    const others = this.otherTools().map((t) => (t.tool === tool ? filament : (t.filament ?? pair.filament)));
    this.keeper.save('pairs', { ...pair, others });
  }

  protected readonly rows = computed(() => {
    const shown = stops.filter((s) => s.id !== 'purge' || this.tools() > 1);
    return shown.map((stop, i) => {
      const open = this.records().some((r) => r.stop === stop.id && r.settledOn === undefined && r.prints.length > 0);
      const { state, words } = stopState(stop, this.pair()?.values ?? [], open);
      return {
        id: stop.id,
        label: stop.label,
        about: stop.about,
        state,
        words: words === 'in hand' ? '' : words,
        firstBeside: stop.beside === true && shown[i - 1]?.beside !== true,
        trial: this.firstTrials().get(stop.id)?.words ?? '',
        restsOn: beneath(stop).join(', ') || '–',
      };
    });
  });

  protected readonly shakenValues = computed(() =>
    newest(this.pair()?.values ?? [])
      .filter((v) => v.state === 'shaken')
      .map((tuned) => ({ tuned, label: factorOf(tuned.factor)?.label ?? tuned.factor, words: valueWords(tuned) })),
  );

  /** The first trial of every stop that is open or shaken. */
  private readonly openTrials = computed(() => {
    const values = this.pair()?.values ?? [];
    return stops.flatMap((stop) => {
      if (stop.beside || !['open', 'shaken'].includes(stopState(stop, values, false).state)) return [];
      const kind = kindsOf(stop.id).find((k) => this.maker.canMake(this.pairId(), k.id));
      return kind ? [{ stop: stop.id, kind: kind.id, label: kind.label }] : [];
    });
  });
  private readonly costs = signal<Record<string, Cost>>({});
  private readonly firstTrials = computed(
    () =>
      new Map(
        this.openTrials().map((t) => [
          t.stop,
          { words: `${t.label}, ${this.costOf.words(this.costs()[t.stop])}`, cost: this.costs()[t.stop] },
        ]),
      ),
  );
  /** What is still to be printed until every stop of the route is settled, by the first trial of each. */
  protected readonly toGo = computed(() => {
    const open = [...this.firstTrials().values()];
    const known = open.flatMap(({ cost }) => (cost && !('refused' in cost) ? [cost] : []));
    if (open.length === 0 || known.length < open.length) return '';
    const sum = (of: (c: (typeof known)[number]) => number) => known.reduce((n, c) => n + of(c), 0);
    return `To go: ${duration(sum((c) => c.time))} of printing and ${show(
      sum((c) => c.mass),
      0,
    )} g, with the first trial of each open stop.`;
  });

  protected setAside(record: TrialRecord): void {
    this.keeper.change(record, { ...record, aside: true }, 'set it aside');
  }

  protected readonly effort = computed(() => {
    const e = effortOf(this.records().flatMap((r) => r.prints));
    const prints = `${e.prints} ${e.prints === 1 ? 'print' : 'prints'}`;
    return e.prints === 0
      ? 'Nothing printed for this pair yet.'
      : `Spent on this pair so far: ${[prints, ...(e.time > 0 ? [duration(e.time), `${show(e.mass, 1)} g`, this.habits.costing(e.cost)] : [])].filter((w) => w).join(', ')}.`;
  });

  private readonly nextStop = computed(() => nextStop(this.pair()?.values ?? []));
  protected readonly next = computed(() => {
    const p = this.pair();
    if (!p) return undefined;
    const inHand = inHandOf(this.records(), p.values);
    if (inHand) {
      const reading = inHand.prints.length > 0;
      return {
        title: `${reading ? 'Being read' : 'Planned'}: ${inHand.trial.title}`,
        words: reading
          ? `${inHand.readings.length} readings so far. Go on where you left off.`
          : 'The plan is ready. Print it, then read it.',
        link: ['/trial', inHand.id],
        act: reading ? 'Go on reading' : 'Open the plan',
        cost: '',
        record: inHand,
      };
    }
    const stop = this.nextStop();
    if (!stop)
      return {
        title: 'The whole route is settled',
        words: 'The tune sheet holds every value with its reason. What changes will be shaken here.',
        link: ['/pair', p.id, 'tune'],
        act: 'Open the tune sheet',
        cost: '',
      };
    const again = stopState(stop, p.values, false).state === 'shaken';
    const open = unsettledBefore(stop, p.values);
    const first = this.firstTrials().get(stop.id);
    return {
      title: `Next: ${stop.label.toLowerCase()}${again ? ', which is shaken' : ''}`,
      words: `It settles ${stop.about}.${open.length === 0 ? ' Nothing that it rests on is open.' : ''}`,
      link: ['/pair', p.id, 'stop', stop.id],
      act: 'Plan it',
      cost: first?.words ?? '',
    };
  });

  protected readonly hits = computed(() => shakenBy(this.pair()?.values ?? [], this.cause() ?? ''));
  protected readonly willShake = computed(() => {
    const names = this.hits().map((v) => factorOf(v.factor)?.label ?? v.factor);
    return names.length > 0 ? `It shakes ${listed(names)}.` : 'Nothing settled here rests on that.';
  });

  constructor() {
    // One after the other, and no further once the page is left.
    effect((onCleanup) => {
      const open = this.openTrials();
      this.costs.set({});
      const work = open.map(({ stop, kind }) =>
        this.costOf
          .trial(untracked(() => this.maker.trialOrHow(this.pairId(), kind)))
          .subscribe((c) => this.costs.update((all) => ({ ...all, [stop]: c }))),
      );
      onCleanup(() => work.forEach((w) => w.unsubscribe()));
    });
  }

  protected shake(): void {
    const pair = this.pair();
    const cause = causes.find((c) => c.id === this.cause());
    if (!pair || !cause) return;
    this.keeper.save('pairs', { ...pair, values: shaken(pair.values, cause.id, cause.label) });
    this.cause.set(undefined);
  }
}
