import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  signal,
  type OnDestroy,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { InputText } from 'primeng/inputtext';
import type { Subscription } from 'rxjs';
import { dayOf, listed, sentence } from '#core/base';
import { factorOf } from '#core/factors';
import {
  disagreements,
  methodsIn,
  givenValue,
  kindsOf,
  newest,
  beneath,
  stopOf,
  unsettledBefore,
  valueWords,
  withSettled,
  type TrialRecord,
} from '#core/route';
import { specimenOf } from '#core/specimens';
import { levelsWithRoom, type Trial } from '#core/trial';
import { download, fileName } from '../data/download';
import { Keeper } from '../data/keeper';
import { endsOf, readTrialFile } from '../data/trial-file';
import { RecheckButton } from '../ui/recheck-button';
import { RemoveButton } from '../ui/remove-button';
import { SpecimenPicture } from '../ui/specimen-picture';
import { WasteNote } from '../ui/waste-note';
import { ByHand, type ByHandValues } from './by-hand';
import { CostOf, type Cost } from '../data/cost-of';
import { declaredIn, MacroQuestion } from './macro-question';
import { StandingChecks } from './standing-checks';
import { TrialMaker } from '../data/trial-maker';
import { Limit } from '../ui/limit';

/** One stop: what it is for, the trials that can be made there with what each costs, and those that were made. */
@Component({
  selector: 'st-stop-page',
  imports: [
    ByHand,
    Limit,
    RouterLink,
    FormsModule,
    InputText,
    MacroQuestion,
    RecheckButton,
    RemoveButton,
    SpecimenPicture,
    WasteNote,
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (stop(); as s) {
      <h1>{{ s.label }}</h1>
      <p class="soft about">It settles {{ s.about }}.{{ restsOn() }}</p>
      @for (v of values(); track v.factor) {
        <p class="value">
          <span class="soft">{{ v.label }}</span> <b class="figures">{{ v.words }}</b> {{ v.state }} on {{ v.on }}:
          {{ v.why }}.
          @if (v.shakenBy) {
            <span class="shaken">Shaken by {{ v.shakenBy }}.</span>
            <st-recheck-button [pair]="pairId()" [value]="v.tuned" />
          }
        </p>
      }
      @for (d of disagreements(); track d) {
        <p class="shaken" role="status">{{ d }}</p>
      }
      @if (before()) {
        <section class="order" aria-label="Out of order">
          <p>{{ before() }}</p>
          <label for="reason">Why go here first?</label>
          <input
            pInputText
            id="reason"
            [stLimit]="300"
            [ngModel]="reason()"
            (ngModelChange)="reason.set($event)"
            [placeholder]="example()"
          />
          @if (asked()) {
            <p class="wrong" role="alert">Say in a few words why; it is kept with the trial.</p>
          }
        </section>
      }
      <table>
        <caption class="visually-hidden">
          Trials of this stop
        </caption>
        <thead>
          <tr>
            <th scope="col">trial</th>
            <th scope="col">what it does</th>
            <th scope="col">for this pair</th>
            <th scope="col">it takes</th>
            <th scope="col"><span class="visually-hidden">plan it</span></th>
          </tr>
        </thead>
        <tbody>
          @for (k of rows(); track k.id) {
            <tr [class.quiet]="k.lacks">
              <th scope="row">
                @if (k.trial; as t) {
                  <st-specimen-picture [trial]="t" />
                }
                {{ k.label }}
              </th>
              <td>
                {{ k.about }}
                @if (k.shorter) {
                  <span class="soft">A shorter one: {{ k.shorter }}.</span>
                }
              </td>
              <td class="sweep">
                <span class="figures">{{ k.lacks ?? k.sweep }}</span>
                @if (k.room && !k.lacks) {
                  <span class="soft room">{{ k.room }}</span>
                }
              </td>
              <td class="figures cost">{{ k.cost }}</td>
              <td>
                @if (!k.lacks) {
                  <button type="button" class="act" [attr.aria-label]="'Plan: ' + k.label" (click)="plan(k.id)">
                    Plan it
                  </button>
                }
              </td>
            </tr>
          }
        </tbody>
      </table>
      <div class="other">
        <button type="button" class="act" (click)="chooser.click()">Open a trial file</button>
        <input
          #chooser
          type="file"
          accept=".json,.gcode,.gco,.g"
          class="visually-hidden"
          tabindex="-1"
          aria-label="Trial file or G-code of ours"
          (change)="openFile($event)"
        />
        @if (standing()) {
          <button type="button" class="act" [disabled]="making()" (click)="saveStanding()">
            {{ making() ? 'Making them …' : 'Standing checks as one set' }}
          </button>
        }
        <a [routerLink]="['/pair', pairId(), 'free']">or plan a free trial: any setting on any specimen</a>
      </div>
      @if (problem(); as p) {
        <p class="wrong" role="alert">{{ p }}</p>
      }
      @if (foreign(); as trial) {
        <st-macro-question [printer]="trial.context.printer" (answered)="answer(trial, $event)" />
      }
      @if (s.factors.length > 0) {
        <st-by-hand
          class="given"
          [factors]="s.factors"
          [all]="false"
          summary="I know a value of this stop already …"
          question="From where?"
          hint="the maker’s sheet; this filament on my other printer"
          act="Put it on the tune sheet"
          (given)="known($event)"
        />
      }
      <h2>Made so far</h2>
      <st-waste-note />
      @for (r of records(); track r.id) {
        <div class="made">
          <a class="trial" [routerLink]="['/trial', r.id]"
            ><b>{{ r.trial.title }}</b> <span class="soft">{{ words(r) }}</span></a
          >
          <st-remove-button shelf="records" [id]="r.id" [name]="r.trial.title" />
        </div>
      } @empty {
        <p class="soft">No trial yet at this stop.</p>
      }
    } @else {
      <h1>There is no such stop</h1>
    }
  `,
  styleUrl: './table.css',
  styles: `
    :host {
      display: grid;
      gap: 12px;
      align-content: start;
    }
    .value b {
      margin-inline: 4px;
      color: var(--madder);
      font-size: 17px;
    }
    .shaken {
      color: var(--shaken-ink);
    }
    .order {
      display: grid;
      gap: 4px;
      padding: 10px 14px;
      border: 1px solid var(--line);
      border-left: 3px solid var(--shaken-ink);
      background: var(--sheet);
    }
    .order label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .order input {
      max-width: 520px;
    }
    .sweep {
      min-width: min(244px, 30vw);
      color: var(--ink);
    }
    .quiet .sweep {
      color: var(--ink-soft);
    }
    .room {
      display: block;
    }
    .cost {
      white-space: nowrap;
    }
    .other {
      display: flex;
      gap: 18px;
      align-items: center;
    }
    .made {
      display: flex;
      align-items: center;
    }
    .made .trial {
      flex: 1;
    }
    .trial {
      display: flex;
      justify-content: space-between;
      gap: 20px;
      padding: 8px 2px;
      border-bottom: 1px solid var(--line);
      text-decoration: none;
    }
    .trial:hover b {
      text-decoration: underline;
    }
  `,
})
export class StopPage implements OnDestroy {
  readonly pairId = input.required<string>();
  readonly stopId = input.required<string>();
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly costOf = inject(CostOf);
  private readonly router = inject(Router);
  private readonly standingChecks = inject(StandingChecks);
  protected readonly stop = computed(() => stopOf(this.stopId()));
  protected readonly problem = signal<string | undefined>(undefined);
  protected readonly reason = signal('');
  protected readonly asked = signal(false);
  private readonly costs = signal<Record<string, Cost>>({});
  private work: Subscription[] = [];

  private readonly pair = computed(() => this.keeper.find('pairs', this.pairId()));
  protected readonly records = computed(() =>
    this.keeper
      .documents()
      .records.filter((r) => r.pair === this.pairId() && r.stop === this.stopId())
      .toReversed(),
  );
  protected readonly restsOn = computed(() => {
    const stop = this.stop();
    const names = stop ? beneath(stop) : [];
    return names.length > 0 ? ` It rests on ${listed(names)}.` : '';
  });
  private readonly unsettled = computed(() => {
    const stop = this.stop();
    return stop ? unsettledBefore(stop, this.pair()?.values ?? []) : [];
  });
  /** How a reason may be said. */
  protected readonly example = computed(
    () => `${this.unsettled()[0]?.label.toLowerCase() ?? ''} is known from another spool`,
  );
  protected readonly before = computed(() => {
    const open = this.unsettled();
    return open.length > 0
      ? `${listed(open.map((s) => s.label))} ${open.length > 1 ? 'are' : 'is'} not settled yet, and what is found here rests on ${open.length > 1 ? 'them' : 'it'}. You can go on with a reason.`
      : '';
  });
  protected readonly values = computed(() =>
    newest(this.pair()?.values ?? [])
      .filter((t) => this.stop()?.factors.includes(t.factor))
      .map((v) => ({ ...v, tuned: v, words: valueWords(v), label: factorOf(v.factor)?.label ?? v.factor })),
  );

  /** Two methods for one setting that do not agree. */
  protected readonly disagreements = computed(() =>
    disagreements(this.pair()?.values ?? [], methodsIn(this.keeper.documents().records))
      .filter((d) => this.stop()?.factors.includes(d.factor))
      .map((d) => d.message),
  );
  /** The checks that any printer wants now and then stand at its first two stops. */
  protected readonly standing = computed(() => ['feed', 'first-layer'].includes(this.stopId()));
  protected readonly making = signal(false);
  /** A trial from a file whose own words about macros wait for an answer. */
  protected readonly foreign = signal<Trial | undefined>(undefined);

  private readonly trials = computed(() =>
    kindsOf(this.stopId()).map((kind) => ({
      kind,
      lacks: kind.lacks?.(this.keeper.contextOf(this.pair())!),
      trial: this.maker.trial(this.pairId(), kind.id),
    })),
  );

  protected readonly rows = computed(() =>
    this.trials().map(({ kind, lacks, trial }) => ({
      id: kind.id,
      label: kind.label,
      trial,
      about: `${kind.about}.`,
      shorter: kindsOf(this.stopId())
        .find((k) => k.id === kind.shorter)
        ?.label.toLowerCase(),
      lacks: lacks && `not here: ${lacks}`,
      room: room(kind.id, trial),
      sweep: trial?.title.split(', ').slice(1).join(', ') || (trial && specimenOf(trial.specimen.id)?.label) || '',
      cost: this.costOf.words(this.costs()[kind.id]),
    })),
  );

  constructor() {
    effect(() => {
      this.stopId();
      this.reason.set('');
      this.asked.set(false);
    });
    // What each trial takes is told before it is made: its file is made beforehand, one after the other.
    effect(() => {
      this.stopWork();
      this.costs.set({});
      for (const { kind, trial } of this.trials()) {
        if (!trial) continue;
        this.work.push(
          this.costOf.trial(trial).subscribe((cost) => this.costs.update((all) => ({ ...all, [kind.id]: cost }))),
        );
      }
    });
  }

  /** Puts values that are known already on the tune sheet, with where they are from. */
  protected known({ values, why }: ByHandValues): void {
    const pair = this.keeper.find('pairs', this.pairId());
    const context = this.keeper.contextOf(pair);
    if (!pair || !context) return;
    const on = dayOf();
    this.keeper.save(
      'pairs',
      values.reduce((p, v) => withSettled(p, context, givenValue(v.factor, v.value, why, on)), pair),
    );
  }

  ngOnDestroy(): void {
    this.stopWork();
  }

  private stopWork(): void {
    for (const w of this.work) w.unsubscribe();
    this.work = [];
  }

  /** The standing checks of this printer as one file, named so that a memory card lists them first. */
  protected saveStanding(): void {
    this.making.set(true);
    const name = this.keeper.contextOf(this.pair())?.printer.name ?? 'printer';
    this.work.push(
      this.standingChecks.files(this.pairId()).subscribe({
        next: (bytes) => download(fileName(`standing-checks-${name}`, 'zip'), bytes, 'application/zip'),
        error: (error: unknown) => {
          this.problem.set(String(error instanceof Error ? error.message : error));
          this.making.set(false);
        },
        complete: () => this.making.set(false),
      }),
    );
  }

  protected words(r: TrialRecord): string {
    const reason = r.outOfOrder ? ` · out of order: ${r.outOfOrder}` : '';
    if (r.settledOn) return `settled on ${dayOf(r.settledOn)}${reason}`;
    if (r.prints.length > 0) return `${r.readings.length} readings${reason}`;
    const what = r.trial.axes.map((a) => `${a.levels.length} levels of ${factorOf(a.factor)?.label ?? a.factor}`);
    return `planned${what.length > 0 ? `, ${what.join(' × ')}` : ''}${reason}`;
  }

  /** Opens a trial file, or the trial that a G-code file of ours carries. */
  protected async openFile(event: Event): Promise<void> {
    const target = event.target as HTMLInputElement;
    const file = target.files?.[0];
    target.value = '';
    if (!file) return;
    const result = readTrialFile(file.name, await endsOf(file));
    this.problem.set(result.ok ? undefined : result.faults.slice(0, 3).map(sentence).join('. ') + '.');
    if (!result.ok) return;
    const context = this.keeper.contextOf(this.pair());
    // Prices and notes do not travel in a file; the same printer and filament on the shelf bring theirs back.
    const same =
      context?.printer.id === result.value.context.printer.id &&
      context.filament.id === result.value.context.filament.id;
    const trial = same ? { ...result.value, context } : result.value;
    this.foreign.set(undefined);
    if (!same && declaredIn(trial.context.printer).length > 0) this.foreign.set(trial);
    else this.answer(trial, true);
  }

  /** Opens a trial from a file, where what it says of macros holds here. */
  protected answer(trial: Trial, holds: boolean): void {
    this.foreign.set(undefined);
    if (!holds) return;
    void this.router.navigate(['/trial', this.maker.open(this.pairId(), this.stopId(), trial)]);
  }

  protected plan(kind: string): void {
    const reason = this.reason().trim();
    if (this.before() !== '' && reason === '') {
      this.asked.set(true);
      document.getElementById('reason')?.focus();
      return;
    }
    const id = this.maker.plan(this.pairId(), kind, reason === '' ? undefined : reason);
    if (id) void this.router.navigate(['/trial', id]);
  }
}

/** What is said of a trial that a small bed leaves fewer levels than usual. */
function room(kind: string, trial: Trial | undefined): string {
  const left = trial && levelsWithRoom(kind, trial);
  return left ? `${left.fit} levels instead of ${left.usual}: as many as this printer has room for.` : '';
}
