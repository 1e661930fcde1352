import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Select } from 'primeng/select';
import { show } from '#core/base';
import { everyFactor, factorOf } from '#core/factors';
import { alongWords, type Axis } from '#core/plan';
import { freeStop, planOf, stopOfFactor, withPlan } from '#core/route';
import {
  MOST_PARTS,
  partsOn,
  partTrial,
  planned,
  titled,
  unseenOn,
  withBeside,
  withPart,
  type Trial,
} from '#core/trial';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../data/trial-maker';
import { PickOne } from '../ui/pick-one';
import { SpecimenPicture } from '../ui/specimen-picture';
import { partFields } from './part-fields';
import { PartPlacing } from './part-placing';

const layouts: readonly Axis['along'][] = ['print', 'tile', 'height'];

/** Begins a trial on a part as it stands, or lets a trial that is planned stand so. */
@Component({
  selector: 'st-part-begin',
  imports: [FormsModule, PickOne, RouterLink, Select, SpecimenPicture],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section aria-labelledby="begin">
      <h2 id="begin">Begin a trial on it</h2>
      @if (place.context()) {
        <div class="fields">
          <div class="field wide">
            <span class="name">what varies</span>
            <p-select
              inputId="factor"
              ariaLabel="what varies"
              size="small"
              [options]="factors()"
              optionLabel="label"
              optionValue="id"
              [filter]="true"
              filterBy="label"
              [ngModel]="factor()"
              (ngModelChange)="choose($event)"
            />
          </div>
          <div class="field">
            <span class="name">laid out</span>
            <p-select
              inputId="along"
              ariaLabel="laid out"
              size="small"
              [options]="ways()"
              optionLabel="label"
              optionValue="id"
              [ngModel]="along()"
              (ngModelChange)="along.set($event)"
            />
          </div>
        </div>
      }
      @if (unseen(); as u) {
        <p class="unseen" role="status">It will not show here: {{ u }}.</p>
      }
      @if (trial(); as t) {
        <div class="begin">
          <st-specimen-picture [trial]="t" [width]="150" [height]="90" />
          <button type="button" class="act main" [disabled]="problem() !== undefined" (click)="begin()">
            Begin the trial
          </button>
        </div>
        @if (from(); as r) {
          <p class="small">
            <button type="button" class="act small" (click)="use()">Stand so in “{{ r.trial.title }}”</button>
          </p>
        }
        @if (open() === undefined && plates().length > 0) {
          <div class="field beside">
            <span class="name">or put it on the plate of</span>
            <st-pick-one
              fieldId="plate"
              label="or put it on the plate of"
              placeholder="a trial that is planned …"
              [options]="plates()"
              shows="title"
              (picked)="putOn($event.id)"
            />
          </div>
        }
        @if (problem(); as p) {
          <p class="wrong" role="alert">{{ p }}</p>
        }
      } @else if (place.context()) {
        <p class="soft small">It is looked over first.</p>
      } @else {
        <p class="soft small">
          A trial belongs to a printer and a filament:
          <a [routerLink]="anyPrinter() ? '/shelf' : '/start'">choose them first</a>. The part stays here, under Files.
        </p>
      }
    </section>
  `,
  styles: [
    partFields,
    `
      .beside {
        margin-top: 8px;
      }
      .unseen {
        border-left: 3px solid var(--shaken);
        padding-left: 8px;
        font-size: 13px;
        margin-top: 4px;
      }
      .begin {
        display: flex;
        align-items: center;
        justify-content: space-between;
        gap: 12px;
        margin-top: 8px;
      }
    `,
  ],
})
export class PartBegin {
  /** The trial whose part is to stand here as it stands there. */
  readonly trialId = input<string | undefined>();
  /** Which part of its plate, counted from 0. */
  readonly at = input<string | undefined>();
  protected readonly place = inject(PartPlacing);
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);
  protected readonly factor = signal<string>('infill-density');
  protected readonly along = signal<Axis['along']>('print');

  protected readonly factors = computed(() => {
    const seen = this.place.last()?.part.seen;
    const context = this.place.context();
    return everyFactor()
      .filter((f) => f.layouts.some((l) => layouts.includes(l)) && context !== undefined)
      .map((f) => ({ id: f.id, label: seen && unseenOn(seen, f.id) ? `${f.label} (not seen here)` : f.label }));
  });
  protected readonly ways = computed(() =>
    layouts
      .filter((l) => l === 'print' || factorOf(this.factor())?.layouts.includes(l))
      .map((id) => ({ id, label: id === 'tile' ? 'as copies' : alongWords[id] })),
  );
  protected readonly unseen = computed(() => {
    const seen = this.place.last()?.part.seen;
    return seen && unseenOn(seen, this.factor());
  });

  protected readonly trial = computed((): Trial | undefined => {
    const [now, context, baseline] = [this.place.now(), this.place.context(), this.place.baseline()];
    return now && context && baseline ? partTrial(now.part, context, baseline, this.factor(), this.along()) : undefined;
  });
  /** The trial from which one came here, as long as its plan can change. */
  protected readonly from = computed(() => {
    const id = this.trialId();
    const record = id === undefined ? undefined : this.keeper.find('records', id);
    const part = record && partsOn(record.trial)[this.which()]?.part;
    return record?.prints.length === 0 && part?.hash === this.place.file()?.hash ? record : undefined;
  });
  private readonly which = computed(() => Number(this.at() ?? 0));
  protected use(): void {
    const [record, now] = [this.from(), this.place.now()];
    if (!record || !now) return;
    const plan = titled(withPart(planOf(record), now.part, this.which()));
    if (this.keeper.change(record, withPlan(record, plan), 'how the part stands'))
      void this.router.navigate(['/trial', record.id]);
  }

  /** Trials of this pair on parts, not printed yet, with room for one more. */
  protected readonly plates = computed(() => {
    const pair = this.keeper.currentPair()?.id;
    return this.keeper
      .documents()
      .records.filter((r) => r.pair === pair && r.prints.length === 0 && r.id !== this.from()?.id)
      .filter((r) => r.trial.part && partsOn(r.trial).length < MOST_PARTS)
      .map((r) => ({ id: r.id, title: r.trial.title }));
  });
  protected putOn(id: string): void {
    const record = this.keeper.find('records', id);
    const now = this.place.now();
    if (!record || !now) return;
    const plan = withBeside(planOf(record), now.part);
    if (this.keeper.change(record, withPlan(record, plan), 'a part on the plate'))
      void this.router.navigate(['/trial', record.id]);
  }

  /** An outline that stays open: no G-code would leave. */
  protected readonly open = computed(() => {
    const looked = this.place.now()?.looked;
    const first = looked?.open[0];
    return looked && first ? `at ${show(first.z, 2)} mm its outline stays open` : undefined;
  });

  protected readonly problem = computed(() => {
    const open = this.open();
    if (open) return `${open}; close wider gaps, cut that height away, or mend the mesh`;
    const trial = this.trial();
    const plan = trial && planned(trial);
    return plan && !plan.ok ? `${plan.faults[0]!.wrong}; ${plan.faults[0]!.right}` : undefined;
  });
  protected readonly anyPrinter = computed(() => this.keeper.documents().printers.length > 0);

  protected choose(factor: string): void {
    this.factor.set(factor);
    if (!this.ways().some((w) => w.id === this.along())) this.along.set('print');
  }

  protected begin(): void {
    const [trial, pair] = [this.trial(), this.keeper.currentPair()];
    if (!trial || !pair) return;
    const id = this.maker.open(pair.id, stopOfFactor(this.factor())?.id ?? freeStop, trial);
    void this.router.navigate(['/trial', id]);
  }
}
