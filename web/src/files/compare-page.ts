import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, untracked } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Select } from 'primeng/select';
import { defer, map } from 'rxjs';
import { show } from '#core/base';
import { compareFiles, fileFigures, filesTrial, whatDiffers } from '#core/carry';
import { everyFactor, factorOf } from '#core/factors';
import { freeStop, stopOfFactor, tunedBaseline, type KeptFile } from '#core/route';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../data/trial-maker';
import { FileShelf } from '../data/file-shelf';
import { comparedCells } from '../ui/compared-cells';
import { LayerOverlay, type LaidFile } from '../toolpath/layer-overlay';

/** Two to twelve files as rows; what was varied between them can be named, and then they are a trial. */
@Component({
  selector: 'st-compare-page',
  imports: [FormsModule, LayerOverlay, RouterLink, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="small"><a routerLink="/files">Files</a></p>
    @if (files().length < 2) {
      <h1>Files beside one another</h1>
      <p>
        {{
          !loaded()
            ? 'Looking for the files …'
            : files().length === 1
              ? files()[0]!.name + ' is alone: choose one more to hold it against.'
              : 'No files are chosen. Tick two to twelve of them, then press Compare.'
        }}
      </p>
      <a class="act main" routerLink="/files">Choose files</a>
    } @else {
      <h1>{{ files().length }} files beside one another</h1>
      <p class="soft">
        From the files alone, by the planner, on {{ pair() }}. <b>Not printed</b>: nothing here speaks of quality yet.
      </p>
    }
    @if (waiting(); as w) {
      <p role="status">{{ w }}</p>
    }
    @if (rows().length > 1) {
      <div class="scroll">
        <table>
          <thead>
            <tr>
              <th>against</th>
              <th>file</th>
              @for (f of figures; track f.id) {
                <th>
                  {{ f.label }} <span>{{ f.unit }}</span>
                </th>
              }
              @if (factor()) {
                <th>{{ factorLabel() }}</th>
              }
            </tr>
          </thead>
          <tbody>
            @for (r of rows(); track r.hash; let i = $index) {
              <tr [class.base]="i === base()">
                <td>
                  <input
                    type="radio"
                    name="base"
                    [checked]="i === base()"
                    (change)="base.set(i)"
                    [attr.aria-label]="'Compare with ' + r.name"
                  />
                </td>
                <th scope="row">
                  <a [routerLink]="['/files', r.hash]">{{ r.name }}</a>
                </th>
                @for (c of r.cells; track c.id) {
                  <td class="figures">
                    {{ c.value }}
                    @for (d of c.change; track d) {
                      <span class="small soft change">{{ d }}</span>
                    }
                  </td>
                }
                @if (factor()) {
                  <td>
                    @if (choices(); as all) {
                      <p-select
                        class="level wide"
                        size="small"
                        placeholder="…"
                        [options]="all"
                        optionLabel="label"
                        optionValue="level"
                        [ngModel]="levels()[i] || null"
                        (ngModelChange)="put(i, $event ?? '')"
                        [ariaLabel]="factorLabel() + ' of ' + r.name"
                      />
                    } @else {
                      <input
                        class="level"
                        inputmode="decimal"
                        [value]="levels()[i] ?? ''"
                        (change)="put(i, $any($event.target).value)"
                        [attr.aria-label]="factorLabel() + ' of ' + r.name"
                      />
                      <span class="soft small">{{ unit() }}</span>
                    }
                  </td>
                }
              </tr>
            }
          </tbody>
        </table>
      </div>
      @for (r of remarks(); track r) {
        <p class="remark">{{ r }}</p>
      }
      <h2>What else differs, as far as it can be seen</h2>
      @if (learning(); as l) {
        <p class="soft small" role="status">{{ l }}</p>
      } @else if (differences().length === 0) {
        <p class="soft small">All settings that their lines show are the same.</p>
      }
      @if (differences().length > 0) {
        <div class="scroll">
          <table class="settings">
            <thead>
              <tr>
                <th>setting</th>
                @for (r of rows(); track r.hash) {
                  <th>{{ r.name }}</th>
                }
              </tr>
            </thead>
            <tbody>
              @for (d of differences(); track d.label) {
                <tr>
                  <th scope="row">
                    {{ d.label }} <span>{{ d.unit }}</span>
                  </th>
                  @for (v of d.values; track $index) {
                    <td class="figures">{{ v }}</td>
                  }
                </tr>
              }
            </tbody>
          </table>
        </div>
      }
      <h2>Layer over layer</h2>
      @if (over(); as o) {
        <div class="bar">
          <span class="soft small">{{ o.first.name }}, and over it</span>
          <p-select
            [options]="others()"
            optionLabel="name"
            optionValue="hash"
            [ngModel]="o.hash"
            (ngModelChange)="laid.set($event)"
            ariaLabel="Laid over it"
          />
        </div>
        <st-layer-overlay [first]="o.first" [second]="o.second" [context]="o.context" />
      } @else {
        <p class="soft small">What each layer has in one file and not in the other, drawn over one another.</p>
        <button type="button" class="act" (click)="laid.set(others()[0]?.hash)">Lay them over one another</button>
      }
      <h2>Make it a trial</h2>
      <p class="soft small">
        Name what was varied and its value in each file; then each file is a print of its own to be read and settled.
      </p>
      <div class="bar">
        <p-select
          [options]="$any(factors)"
          optionLabel="label"
          optionValue="id"
          [filter]="true"
          filterBy="label"
          placeholder="what was varied"
          [ngModel]="factor()"
          (ngModelChange)="factor.set($event)"
          ariaLabel="What was varied"
        />
        <button type="button" class="act main" [disabled]="!ready()" (click)="make()">Make it a trial</button>
        @if (factor() && !ready()) {
          <span class="soft small">{{ missing() }}</span>
        }
      </div>
    }
  `,
  styleUrl: '../route/table.css',
  styles: `
    :host {
      display: block;
    }
    .scroll {
      overflow-x: auto;
      margin: 12px 0;
    }
    th span {
      font-weight: 400;
    }
    .change {
      display: block;
      white-space: nowrap;
    }
    tbody th,
    .settings thead th {
      min-width: 120px;
      max-width: 230px;
      overflow-wrap: anywhere;
    }
    tr.base td,
    tr.base th {
      background: var(--well);
    }
    .wide.level {
      width: auto;
    }
    .level {
      width: 74px;
      font: inherit;
      font-family: var(--figures);
      padding: 4px 6px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
      color: var(--ink);
    }
    h2 {
      margin: 22px 0 6px;
    }
    .settings {
      width: auto;
    }
    .settings th span {
      color: var(--ink-soft);
    }
    .bar {
      display: flex;
      gap: 12px;
      align-items: center;
    }
    .remark {
      border-left: 3px solid var(--madder);
      padding-left: 10px;
    }
  `,
})
export class ComparePage {
  /** Hashes of the files, with commas between. */
  readonly f = input<string | undefined>('');
  private readonly shelf = inject(FileShelf);
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);
  protected readonly figures = fileFigures;
  protected readonly base = signal(0);
  protected readonly factor = signal<string | undefined>(undefined);
  protected readonly levels = signal<Record<number, string>>({});
  protected readonly factors = everyFactor().map((f) => ({ id: f.id, label: f.label }));

  protected readonly loaded = computed(() => this.shelf.files() !== undefined);
  protected readonly files = computed(() => {
    const kept = this.shelf.files() ?? [];
    return (this.f() ?? '')
      .split(',')
      .slice(0, 12)
      .flatMap((hash) => kept.find((k) => k.hash === hash) ?? []);
  });
  private readonly context = computed(() => this.keeper.contextOf(this.keeper.currentPair()));
  protected readonly pair = computed(() => this.keeper.labelOf(this.keeper.currentPair()));

  constructor() {
    if (!this.shelf.files()) void this.shelf.load();
    effect(() => {
      const context = this.context();
      const hashes = this.files().map((f) => f.hash);
      if (context && hashes.length > 0) this.shelf.check(hashes, context);
      const files = this.files();
      if (context && this.compared()) untracked(() => void this.shelf.learn(files, context));
    });
    // Files are often named by what was varied in them.
    effect(() => {
      const names = this.files().map((f) => /(\d+(?:[.,]\d+)?)\D*$/.exec(f.name.replace(/\.[a-z]+$/i, ''))?.[1]);
      if (names.length > 0 && names.every(Boolean)) this.levels.set({ ...names } as Record<number, string>);
    });
  }

  private readonly checked = computed(() =>
    this.files().flatMap((f) => {
      const c = this.shelf.checked(f.hash);
      return c.state === 'checked' ? [{ ...f, inspection: c.inspection }] : [];
    }),
  );

  protected readonly waiting = computed(() => {
    const left = this.files().length - this.checked().length;
    return left > 0 ? `${left} of ${this.files().length} are still being checked …` : undefined;
  });

  private readonly compared = computed(() => {
    const all = this.checked();
    return all.length === this.files().length && all.length > 0
      ? compareFiles(all, this.base(), this.numbers())
      : undefined;
  });

  protected readonly rows = computed(() =>
    (this.compared()?.rows ?? []).map((r, i) => ({
      name: r.name,
      hash: this.files()[i]!.hash,
      cells: comparedCells(r),
    })),
  );

  protected readonly remarks = computed(() => this.compared()?.remarks ?? []);

  /** Settings that the files show and that are not the same in all of them. */
  protected readonly differences = computed(() => {
    const all = this.checked();
    if (all.length < 2) return [];
    const rows = whatDiffers(all.map((f) => this.shelf.learnt(f.hash) ?? [])).map((d) => ({
      ...d,
      label: d.sure ? d.label : `${d.label}, likely`,
    }));
    const layers = { label: 'layers', unit: '', values: all.map((f) => show(f.inspection.layers.length)) };
    return new Set(layers.values).size > 1 ? [...rows, layers] : rows;
  });
  protected readonly learning = computed(() => {
    const left = this.files().filter((f) => !this.shelf.learnt(f.hash)).length;
    return left > 0 ? `${left} of ${this.files().length} are still read for it …` : undefined;
  });

  /** The file laid over the baseline, once asked for. */
  protected readonly laid = signal<string | undefined>(undefined);
  protected readonly others = computed(() => this.files().filter((_, i) => i !== this.base()));
  protected readonly over = computed(
    () => {
      const [first, context, laid] = [this.files()[this.base()], this.context(), this.laid()];
      const second = this.others().find((f) => f.hash === laid) ?? this.others()[0];
      return laid && first && second && context
        ? { hash: second.hash, first: this.laidFile(first), second: this.laidFile(second), context }
        : undefined;
    },
    {
      equal: (a, b) => a?.first.name === b?.first.name && a?.hash === b?.hash && a?.context === b?.context,
    },
  );
  private laidFile({ hash, name }: KeptFile): LaidFile {
    return { name, file: defer(() => this.keeper.file(hash)).pipe(map((file) => file ?? new Blob())) };
  }

  private readonly numbers = computed(() => {
    const own = this.files().map((_, i) => {
      const text = this.levels()[i]?.trim();
      return text ? Number(text.replace(',', '.')) : NaN;
    });
    return this.factor() && own.every(Number.isFinite) ? own : undefined;
  });
  private readonly chosen = computed(() => (this.factor() ? factorOf(this.factor()!) : undefined));
  protected readonly factorLabel = computed(() => this.chosen()?.label ?? '');
  protected readonly choices = computed(() =>
    this.chosen()?.choices?.map((label, level) => ({ label, level: String(level) })),
  );
  protected readonly unit = computed(() => this.chosen()?.unit ?? '');
  protected readonly ready = computed(() => {
    const n = this.numbers();
    return n !== undefined && new Set(n).size === n.length && this.compared() !== undefined;
  });
  protected readonly missing = computed(() =>
    this.numbers() ? 'two files have the same value; give each its own' : 'give the value of each file',
  );

  protected put(i: number, text: string): void {
    this.levels.update((l) => ({ ...l, [i]: text }));
  }

  protected make(): void {
    const [pair, context, factor, numbers] = [this.keeper.currentPair(), this.context(), this.chosen(), this.numbers()];
    if (!pair || !context || !factor || !numbers) return;
    const files = this.checked().map(({ hash, name, length, inspection }) => ({
      source: { hash, name, length },
      inspection,
    }));
    const levels = numbers.map((v) => (factor.choices ? v : v / factor.shown));
    const trial = filesTrial(files, context, tunedBaseline(pair.baseline, pair.values), factor.id, levels);
    const id = this.maker.open(pair.id, stopOfFactor(factor.id)?.id ?? freeStop, trial);
    void this.router.navigate(['/trial', id], { queryParams: { stage: 'print' } });
  }
}
