import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  linkedSignal,
  signal,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Select } from 'primeng/select';
import type { Subscription } from 'rxjs';
import { dayOf } from '#core/base';
import { causesOf, places, seenInFile, symptoms, type Known } from '#core/route';
import { asPrint, kindOf } from '#core/trial';
import { Keeper } from '../data/keeper';
import { FileShelf } from '../data/file-shelf';
import { madeOf } from '../data/made-of';
import { WorkerPool } from '../work/worker-pool';
import { CostOf, type Cost } from '../data/cost-of';
import { TrialMaker } from '../data/trial-maker';

const READING = 'reading the file …';
const WEIGHED = 'what its file shows is weighed in';

/** What is wrong? From what is seen to candidate causes, and for each the cheapest trial that would tell. */
@Component({
  selector: 'st-wrong-page',
  imports: [FormsModule, RouterLink, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (pair(); as p) {
      <h1>What is wrong?</h1>
      <p class="soft">Say what the print shows; the causes come in the order in which to check them on this pair.</p>
      <div class="symptoms" role="group" aria-label="What the print shows">
        @for (g of groups; track g.label) {
          <span class="soft small" [id]="g.id">{{ g.label }}</span>
          <div role="group" [attr.aria-labelledby]="g.id">
            @for (s of g.symptoms; track s.id) {
              <button
                type="button"
                [class.on]="s.id === symptomId()"
                [attr.aria-pressed]="s.id === symptomId()"
                (click)="choose(s.id)"
              >
                {{ s.label }}
              </button>
            }
          </div>
        }
      </div>
      @if (chosen(); as s) {
        <p>
          <i>{{ s.look }}</i>
        </p>
        <p class="file">
          <label for="file">look into the file of</label>
          <p-select
            inputId="file"
            placeholder="no file"
            [showClear]="true"
            [options]="choices()"
            [group]="true"
            optionLabel="label"
            optionValue="id"
            [ngModel]="fileOf() || null"
            (ngModelChange)="look($event ?? '')"
            ariaLabel="look into the file of"
          />
          <span class="soft" role="status">{{ looking() }}</span>
        </p>
        <table>
          <thead>
            <tr>
              <th scope="col">check</th>
              <th scope="col">cause</th>
              <th scope="col">what is known on this pair</th>
              <th scope="col">the trial that would tell</th>
            </tr>
          </thead>
          <tbody>
            @for (c of causes(); track c.label) {
              <tr>
                <td class="figures">{{ $index + 1 }}</td>
                <th scope="row">
                  {{ c.label }}<span class="tell soft">{{ c.tell }}</span>
                </th>
                <td>
                  @for (k of c.known; track k) {
                    <span class="known">{{ k }}</span>
                  } @empty {
                    <span class="soft">nothing</span>
                  }
                </td>
                <td>
                  @if (c.trial; as t) {
                    <button type="button" class="act" (click)="plan(t.id)" [attr.aria-label]="'Plan: ' + t.label">
                      {{ t.label }}
                    </button>
                    <span class="soft figures cost">{{ t.cost }}</span>
                  } @else {
                    <span class="soft">none needed</span>
                  }
                </td>
              </tr>
            }
          </tbody>
        </table>
      } @else {
        <p class="soft">Nothing is chosen yet.</p>
      }
      <p><a [routerLink]="['/pair', p.id]">Back to the route</a></p>
    } @else {
      <h1>There is no such pair</h1>
    }
  `,
  styleUrl: './table.css',
  styles: `
    :host {
      display: grid;
      gap: 12px;
      align-content: start;
    }
    .symptoms {
      display: grid;
      grid-template-columns: max-content minmax(0, 1fr);
      gap: 8px 14px;
      align-items: baseline;
    }
    .symptoms div {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
    }
    @media (max-width: 700px) {
      .symptoms {
        grid-template-columns: minmax(0, 1fr);
      }
    }
    .symptoms button {
      padding: 5px 12px;
      border: 1px solid var(--line-strong);
      border-radius: 14px;
      background: var(--well);
      color: inherit;
      cursor: pointer;
    }
    .symptoms .on {
      background: var(--madder);
      border-color: var(--madder);
      color: var(--on-madder);
    }
    .file {
      display: flex;
      gap: 10px;
      align-items: baseline;
    }
    .file p-select {
      max-width: 420px;
    }
    .tell,
    .known,
    .cost {
      display: block;
      font-weight: 400;
      font-size: 13px;
    }
  `,
})
export class WrongPage {
  readonly pairId = input.required<string>();
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);
  private readonly pool = inject(WorkerPool);
  private readonly costOf = inject(CostOf);
  protected readonly shelf = inject(FileShelf);
  protected readonly groups = Object.entries(places).map(([where, label]) => ({
    id: `seen-${where}`,
    label,
    symptoms: symptoms.filter((s) => s.where === where),
  }));
  /** What is looked into, as it stands in the address: whoever leads here names it, and a reload keeps it. */
  readonly symptom = input<string>();
  /** The stop whose trial shows it at every level, where a trial led here. */
  readonly elsewhere = input<string>();
  protected readonly symptomId = linkedSignal(() => this.symptom() ?? '');
  protected readonly chosen = computed(() => symptoms.find((s) => s.id === this.symptomId()));
  protected readonly pair = computed(() => this.keeper.find('pairs', this.pairId()));
  protected readonly records = computed(() =>
    this.keeper
      .documents()
      .records.filter((r) => r.pair === this.pairId())
      .toReversed()
      .slice(0, 40),
  );
  protected readonly fileOf = signal('');
  private readonly making = signal('');
  private readonly made = signal<Known['file']>(undefined);
  /** The check of a file of the user's own that is looked into. */
  private readonly own = computed(() => {
    const [kind, hash] = this.fileOf().split(' ');
    return kind === 'file' && hash ? this.shelf.checked(hash) : undefined;
  });
  private readonly file = computed(() => {
    const own = this.own();
    return own?.state === 'checked' ? seenInFile(own.inspection) : this.made();
  });
  protected readonly looking = computed(() => {
    const own = this.own();
    if (!own) return this.making();
    return own.state === 'checked' ? WEIGHED : own.state === 'refused' ? (own.faults[0] ?? '') : READING;
  });
  protected readonly choices = computed(() => {
    const files = (this.shelf.files() ?? []).map((f) => ({ id: `file ${f.hash}`, label: f.name }));
    const trials = this.records().map((r) => ({ id: r.id, label: r.trial.title }));
    return [
      ...(files.length > 0 ? [{ label: 'your own files', items: files }] : []),
      { label: 'trials', items: trials },
    ];
  });
  private readonly costs = signal<Record<string, Cost>>({});
  private work: Subscription | undefined;

  private readonly found = computed(() => {
    const symptom = this.chosen();
    const pair = this.pair();
    const context = this.keeper.contextOf(pair);
    if (!symptom || !pair || !context) return [];
    const file = this.file();
    return causesOf(symptom, {
      values: pair.values,
      filament: context.filament,
      today: dayOf(),
      ...(this.elsewhere() !== undefined && { elsewhere: this.elsewhere()! }),
      ...(file && { file }),
    });
  });
  protected readonly causes = computed(() => {
    const context = this.keeper.contextOf(this.pair());
    return this.found().map((c) => {
      const kind = c.kind === undefined ? undefined : kindOf(c.kind);
      const lacks = kind && context ? kind.lacks?.(context) : undefined;
      return {
        ...c,
        trial:
          kind && lacks === undefined
            ? { id: kind.id, label: kind.label, cost: this.costOf.words(this.costs()[kind.id]) }
            : undefined,
      };
    });
  });

  constructor() {
    void this.shelf.load();
    // What each trial takes is made beforehand, one after the other.
    effect((onCleanup) => {
      const pair = this.pairId();
      const asked = this.found().flatMap((c) => c.kind ?? []);
      const subscriptions = [...new Set(asked)].flatMap((kind) => {
        const trial = this.maker.trial(pair, kind);
        return trial
          ? [this.costOf.trial(trial).subscribe((cost) => this.costs.update((all) => ({ ...all, [kind]: cost })))]
          : [];
      });
      onCleanup(() => subscriptions.forEach((s) => s.unsubscribe()));
    });
  }

  protected choose(symptom: string): void {
    this.symptomId.set(symptom);
    // What a trial has shown is of the symptom that led here alone.
    void this.router.navigate([], { queryParams: { symptom }, replaceUrl: true });
  }

  protected look(id: string): void {
    this.fileOf.set(id);
    this.work?.unsubscribe();
    this.made.set(undefined);
    this.making.set('');
    const context = this.keeper.contextOf(this.pair());
    if (id.startsWith('file ') && context) this.shelf.check([id.slice(5)], context);
    const record = this.keeper.find('records', id);
    if (!record) return;
    this.making.set(READING);
    this.work = madeOf(this.pool, this.keeper, asPrint(record.trial)).subscribe((said) => {
      if (!('result' in said)) return;
      if (said.result.ok) {
        this.made.set(seenInFile(said.result.value.inspection));
        this.making.set(WEIGHED);
      } else this.making.set('this trial makes no file, so nothing can be seen in it');
    });
  }

  protected plan(kind: string): void {
    const id = this.maker.plan(this.pairId(), kind);
    if (id !== undefined) void this.router.navigate(['/trial', id]);
  }
}
