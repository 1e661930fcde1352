import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Select } from 'primeng/select';
import { show } from '#core/base';
import { compareFiles, fileFigures, filesTrial } from '#core/carry';
import { everyFactor, factorOf } from '#core/factors';
import type { Inspection } from '#core/inspect';
import { freeStop, stopOfFactor, tunedBaseline } from '#core/route';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../route/trial-maker';
import { FileShelf } from './file-shelf';

/** Two to twelve files as rows; what was varied between them can be named, and then they are a trial. */
@Component({
  selector: 'st-compare-page',
  imports: [FormsModule, RouterLink, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="small"><a routerLink="/files">Files</a></p>
    <h1>{{ files().length }} files beside one another</h1>
    <p class="soft">
      From the files alone, by the planner, on {{ pair() }}. <b>Not printed</b>: nothing here speaks of quality yet.
    </p>
    @if (waiting(); as w) {
      <p role="status">{{ w }}</p>
    }
    @if (rows().length > 0) {
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
                      <select
                        class="level wide"
                        (change)="put(i, $event)"
                        [attr.aria-label]="factorLabel() + ' of ' + r.name"
                      >
                        <option value="">…</option>
                        @for (c of all; track c; let k = $index) {
                          <option [value]="k" [selected]="levels()[i] === '' + k">{{ c }}</option>
                        }
                      </select>
                    } @else {
                      <input
                        class="level"
                        inputmode="decimal"
                        [value]="levels()[i] ?? ''"
                        (change)="put(i, $event)"
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
      @if (differences().length > 0) {
        <h2>What else differs, as far as it can be seen</h2>
        <ul>
          @for (d of differences(); track d) {
            <li>{{ d }}</li>
          }
        </ul>
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
    tbody th {
      white-space: nowrap;
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
  readonly f = input('');
  private readonly shelf = inject(FileShelf);
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);
  protected readonly figures = fileFigures;
  protected readonly base = signal(0);
  protected readonly factor = signal<string | undefined>(undefined);
  protected readonly levels = signal<Record<number, string>>({});
  protected readonly factors = everyFactor().map((f) => ({ id: f.id, label: f.label }));

  protected readonly files = computed(() => {
    const kept = this.shelf.files() ?? [];
    return this.f()
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
      cells: fileFigures.map((f) => {
        const a = r.against[f.id];
        const sign = (v: number) => (v > 0 ? '+' : '');
        const same = !a || Math.abs(a.difference) < 10 ** -f.digits / 2;
        return {
          id: f.id,
          value: show(r.values[f.id]!, f.digits),
          change: same
            ? []
            : [
                `${sign(a.difference)}${show(a.difference, f.digits)}`,
                ...(a.percent === null ? [] : [`${sign(a.percent)}${show(a.percent, 0)} %`]),
              ],
        };
      }),
    })),
  );

  protected readonly remarks = computed(() => this.compared()?.remarks ?? []);

  /** Settings in force that are not the same in all files. */
  protected readonly differences = computed(() => {
    const all = this.checked().map((f) => f.inspection);
    if (all.length < 2) return [];
    const most = (i: Inspection, of: (l: Inspection['layers'][number]) => number) => {
      const sums = new Map<number, number>();
      for (const l of i.layers.slice(1)) sums.set(of(l), (sums.get(of(l)) ?? 0) + 1);
      return [...sums].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 0;
    };
    const seen: [string, string, (i: Inspection) => number, number][] = [
      ['layer height', 'mm', (i) => most(i, (l) => l.height), 3],
      ['nozzle', '°C', (i) => most(i, (l) => l.nozzle), 0],
      ['fan', '%', (i) => 100 * most(i, (l) => l.fan), 0],
      ['acceleration', 'mm/s²', (i) => most(i, (l) => l.acceleration), 0],
      ['pressure advance', 's', (i) => most(i, (l) => l.advance), 4],
      ['walls', '', (i) => i.walls ?? 0, 0],
      ['layers', '', (i) => i.layers.length, 0],
    ];
    return seen.flatMap(([label, unit, of, digits]) => {
      const values = all.map((i) => show(of(i), digits));
      return new Set(values).size > 1 ? [`${label}: ${values.join(', ')} ${unit}`.trim()] : [];
    });
  });

  private readonly numbers = computed(() => {
    const own = this.files().map((_, i) => {
      const text = this.levels()[i]?.trim();
      return text ? Number(text.replace(',', '.')) : NaN;
    });
    return this.factor() && own.every(Number.isFinite) ? own : undefined;
  });
  private readonly chosen = computed(() => (this.factor() ? factorOf(this.factor()!) : undefined));
  protected readonly factorLabel = computed(() => this.chosen()?.label ?? '');
  protected readonly choices = computed(() => this.chosen()?.choices);
  protected readonly unit = computed(() => this.chosen()?.unit ?? '');
  protected readonly ready = computed(() => {
    const n = this.numbers();
    return n !== undefined && new Set(n).size === n.length && this.compared() !== undefined;
  });
  protected readonly missing = computed(() =>
    this.numbers() ? 'two files have the same value; give each its own' : 'give the value of each file',
  );

  protected put(i: number, event: Event): void {
    this.levels.update((l) => ({ ...l, [i]: (event.target as HTMLInputElement).value }));
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
