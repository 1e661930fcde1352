import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { Select } from 'primeng/select';
import { duration, show } from '#core/base';
import { reachOf, type Macro } from '#core/context';
import { ownTrial } from '#core/carry';
import { carriedFactors, factorOf } from '#core/factors';
import { freeStop, stopOfFactor, tunedBaseline } from '#core/route';
import { Habits } from '../data/habits';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../data/trial-maker';
import { ToolpathDrawer } from '../toolpath/toolpath-drawer';
import { TOOLPATH_SOURCE } from '../toolpath/toolpath-source';
import { FileShelf } from '../data/file-shelf';
import { FileFindings } from './file-findings';
import { FileToolpath } from './file-toolpath';
import { FileTracks, type TrackLimit } from './file-tracks';
import { calledIn, MacroList } from '../ui/macro-list';
import { LearnPanel } from './learn-panel';

const roleWords: Record<string, string> = {
  'top-skin': 'skin',
  'bottom-skin': 'bottom skin',
  'outer-wall': 'outer walls',
  'inner-wall': 'inner walls',
  'support-interface': 'support interface',
};

/** What one file does: figures, tracks over its height, findings; from here a sweep is carried in, or a pair learnt. */
@Component({
  selector: 'st-file-page',
  imports: [FileFindings, FormsModule, RouterLink, Select, FileTracks, LearnPanel, MacroList, ToolpathDrawer],
  providers: [FileToolpath, { provide: TOOLPATH_SOURCE, useExisting: FileToolpath }],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p class="small"><a routerLink="/files">Files</a></p>
    <h1>{{ file()?.name ?? 'This file is not kept here' }}</h1>
    @let c = checked();
    @switch (c.state) {
      @case ('checked') {
        @let i = c.inspection;
        <p class="sum">
          <b>{{ duration(i.time) }}</b> and {{ duration(i.heating) }} heating ·
          <b>{{ figure(i.filament.mass, 2) }} g</b>, {{ figure(i.filament.length / 1000, 2) }} m
          @if (i.filament.cost > 0) {
            · {{ habits.costing(i.filament.cost) }}
          }
          · <b>{{ i.layers.length }} layers</b> · {{ i.travel.retractions }} retractions ·
          {{ i.travel.wallCrossings }} wall {{ i.travel.wallCrossings === 1 ? 'crossing' : 'crossings' }} · walls even
          to {{ figure(100 * i.evenness, 1) }} %
          @if (i.waste > 0) {
            · {{ figure(i.waste, 2) }} g purged{{ purged() }}
          }
          <span class="soft">on {{ pair() }}</span>
        </p>
        <st-file-tracks [layers]="i.layers" [limits]="limits()" />
        <!-- A little later than the tracks: drawn in one go both would hold the page up. -->
        @defer (on timer(40ms)) {
          <div class="below">
            <section aria-labelledby="found">
              <h2 id="found">What is to be said</h2>
              <st-file-findings [findings]="i.findings" [printer]="context()!.printer" />
            </section>
            @if (called(); as asked) {
              <st-macro-list
                class="wide"
                [printer]="asked.printer"
                [called]="asked.names"
                heading="What do these commands do?"
                text="They stand in the file, and no table of commands knows them. Say it once: it is kept with the printer, and the file is checked again by it."
                (changed)="said($event)"
              />
            }
            <section aria-labelledby="lines">
              <h2 id="lines">Its lines</h2>
              <p class="soft small">{{ recognised() }}</p>
              <table>
                @if (i.recognised !== undefined) {
                  <thead>
                    <tr class="soft small">
                      <th scope="col">Kind</th>
                      <th scope="col">Length</th>
                      <th scope="col">Time</th>
                      <th scope="col">Plain</th>
                    </tr>
                  </thead>
                }
                <tbody>
                  @for (r of roles(); track r.words) {
                    <tr>
                      <th scope="row">{{ r.words }}</th>
                      <td class="figures">{{ r.length }} m</td>
                      <td class="figures">{{ r.time }}</td>
                      @if (r.sure !== undefined) {
                        <td class="figures">{{ r.sure }} %</td>
                      }
                    </tr>
                  }
                  @for (t of i.tools.length > 1 ? i.tools : []; track t.tool) {
                    <tr>
                      <th scope="row">tool {{ t.tool + 1 }}</th>
                      <td class="figures">{{ figure(t.length / 1000, 2) }} m</td>
                      <td class="figures">{{ figure(t.mass, 2) }} g</td>
                      <td class="figures">{{ habits.costing(t.cost) }}</td>
                    </tr>
                  }
                </tbody>
              </table>
              <svg class="bed" [attr.viewBox]="bed().view" role="img" [attr.aria-label]="bed().words">
                @if (bed().round; as r) {
                  <circle [attr.cx]="r.x" [attr.cy]="r.y" [attr.r]="r.r" />
                } @else {
                  <rect x="0" y="0" [attr.width]="bed().width" [attr.height]="bed().depth" />
                }
                @for (p of bed().parts; track $index) {
                  <rect class="part" [attr.x]="p.x" [attr.y]="p.y" [attr.width]="p.w" [attr.height]="p.h" />
                  @if (bed().parts.length > 1) {
                    <text [attr.x]="p.x + p.w / 2" [attr.y]="p.y + p.h / 2">{{ $index + 1 }}</text>
                  }
                }
              </svg>
            </section>
            <section aria-labelledby="carry">
              <button type="button" class="act" (click)="look()">Look at the toolpath</button>
              <h2 id="carry">Carry a sweep into it</h2>
              <p class="soft small">
                A new file with the values written in{{
                  (i.objects?.length ?? 0) > 1 ? ', band by band or object by object' : ' band by band'
                }}, set again after every tool change. This one stays as it is.
              </p>
              <p-select
                [options]="$any(factors)"
                optionLabel="label"
                optionValue="id"
                [ngModel]="factor()"
                (ngModelChange)="factor.set($event)"
                ariaLabel="What to vary in the file"
              />
              @if (ways().length > 1) {
                <p-select
                  [options]="ways()"
                  optionLabel="label"
                  optionValue="id"
                  [ngModel]="along()"
                  (ngModelChange)="way.set($event)"
                  ariaLabel="How its values are laid out"
                />
              }
              <button type="button" class="act main" (click)="carry()">Plan the sweep</button>
              <h2>Learn a pair from it</h2>
              <p class="soft small">Speeds, retraction, walls, infill and temperatures as its lines show them.</p>
              <button type="button" class="act" (click)="learning.set(true)" [disabled]="learning()">
                Learn a pair
              </button>
            </section>
          </div>
        }
        <st-toolpath-drawer [(open)]="toolpath" />
        @if (learning()) {
          <st-learn-panel [hash]="hash()" [name]="file()?.name ?? ''" />
        }
      }
      @case ('refused') {
        @for (f of c.faults; track f) {
          <p class="wrong" role="alert">{{ f }}</p>
        }
        <button type="button" class="act" (click)="again()">Check it again</button>
      }
      @case ('working') {
        <p role="status" class="how-far">
          {{ c.progress.stage }}, {{ figure((100 * c.progress.done) / (c.progress.of || 1), 0) }} %
          <progress [value]="c.progress.done" [max]="c.progress.of"></progress>
          <button type="button" class="act" (click)="shelf.cancel(hash())">Cancel</button>
        </p>
        @if (c.early; as first) {
          <p class="sum">
            <b>{{ duration(first.takes.time) }}</b> · <b>{{ figure(first.takes.filament.mass, 2) }} g</b>,
            {{ figure(first.takes.filament.length / 1000, 2) }} m
            @if (first.takes.filament.cost > 0) {
              · {{ habits.costing(first.takes.filament.cost) }}
            }
            <span class="soft">on {{ pair() }}; its layers and lines are still being read</span>
          </p>
          @if (first.findings.length > 0) {
            <st-file-findings [findings]="first.findings" [printer]="context()!.printer" />
          }
        }
      }
      @default {
        <p class="soft">
          {{
            context()
              ? 'waiting …'
              : 'Make a pair on the shelf first: a file is checked against a printer and a filament.'
          }}
        </p>
      }
    }
  `,
  styleUrl: '../route/table.css',
  styles: `
    :host {
      display: block;
    }
    h1 {
      margin: 2px 0 6px;
    }
    h2 {
      margin: 14px 0 6px;
    }
    .how-far {
      display: flex;
      flex-wrap: wrap;
      align-items: center;
      gap: 4px 14px;
      margin-bottom: 10px;
    }
    .sum {
      margin: 0 0 16px;
      max-width: 1000px;
      line-height: 1.6;
    }
    .below {
      display: grid;
      grid-template-columns: minmax(0, 1.5fr) minmax(0, 1fr) minmax(0, 1fr);
      gap: 28px;
      margin-top: 10px;
    }
    .wide {
      grid-column: 1 / -1;
      order: 1;
    }
    td.figures {
      padding-right: 8px;
      white-space: nowrap;
    }
    @media (max-width: 900px) {
      .below {
        grid-template-columns: minmax(0, 1fr);
      }
    }
    p-select {
      width: 100%;
      margin: 8px 0;
    }
    .bed {
      width: 190px;
      margin-top: 12px;
    }
    .bed rect,
    .bed circle {
      fill: var(--sheet);
      stroke: var(--ink-soft);
      vector-effect: non-scaling-stroke;
    }
    .bed text {
      font: 13px var(--figures);
      fill: var(--ink);
      text-anchor: middle;
      dominant-baseline: central;
    }
    .bed .part {
      fill: var(--well);
      stroke: var(--ink);
    }
  `,
})
export class FilePage {
  readonly hash = input.required<string>();
  protected readonly shelf = inject(FileShelf);
  private readonly keeper = inject(Keeper);
  protected readonly habits = inject(Habits);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);
  protected readonly factor = signal('nozzle-temperature');
  protected readonly learning = signal(false);
  protected readonly toolpath = signal(false);
  private readonly drawn = inject(FileToolpath);
  protected readonly factors = carriedFactors.flatMap((id) => {
    const f = factorOf(id);
    return f ? [{ id, label: f.label }] : [];
  });

  protected readonly file = computed(() => this.shelf.files()?.find((f) => f.hash === this.hash()));
  protected readonly context = computed(() => this.keeper.contextOf(this.keeper.currentPair()));
  protected readonly pair = computed(() => this.keeper.labelOf(this.keeper.currentPair()));
  protected readonly checked = computed(() => this.shelf.checked(this.hash()));
  private readonly inspection = computed(() => {
    const c = this.checked();
    return c.state === 'checked' ? c.inspection : undefined;
  });

  constructor() {
    if (!this.shelf.files()) void this.shelf.load();
    effect(() => {
      const context = this.context();
      if (context) this.shelf.check([this.hash()], context);
    });
  }

  protected readonly figure = show;
  protected readonly duration = duration;

  protected readonly limits = computed((): TrackLimit[] => {
    const context = this.context();
    if (!context) return [];
    const least = this.keeper.currentPair()?.baseline.minimumLayerTime ?? 0;
    return [
      {
        track: 'flow',
        value: context.printer.extruder.maximumFlow,
        words: `${show(context.printer.extruder.maximumFlow)} melts`,
      },
      { track: 'time', value: least, words: `${show(least)} s at least` },
      {
        track: 'nozzle',
        value: context.filament.temperature.max,
        words: `${show(context.filament.temperature.max)} at most`,
      },
    ];
  });

  /** What it calls of which nobody has said what it does, with what was said already of what it calls. */
  protected readonly called = computed(() => {
    const [printer, seen] = [this.context()?.printer, this.inspection()];
    if (!printer || !seen) return undefined;
    const names = calledIn(seen, printer);
    return names.length > 0 ? { printer, names } : undefined;
  });

  protected said(macros: Macro[]): void {
    const printer = this.context()?.printer;
    if (printer) this.keeper.save('printers', { ...printer, macros });
  }

  protected readonly recognised = computed(() => {
    const share = this.inspection()?.recognised;
    return share === undefined
      ? 'The file names its lines itself.'
      : `Told by geometry alone; the signs are plain on ${show(100 * share, 0)}\u00a0% of the length.`;
  });

  protected readonly roles = computed(() => {
    const sums = new Map<string, { length: number; time: number; sure: number }>();
    for (const [id, r] of Object.entries(this.inspection()?.roles ?? {})) {
      if (r.volume <= 0) continue;
      const words = roleWords[id] ?? id.replace('-', ' ');
      const sum = sums.get(words) ?? { length: 0, time: 0, sure: 0 };
      sums.set(words, {
        length: sum.length + r.length,
        time: sum.time + r.time,
        sure: sum.sure + (r.sure ?? NaN) * r.length,
      });
    }
    return [...sums]
      .sort((a, b) => b[1].length - a[1].length)
      .map(([words, r]) => ({
        words,
        length: show(r.length / 1000, 1),
        time: duration(r.time),
        sure: Number.isNaN(r.sure) ? undefined : show((100 * r.sure) / r.length, 0),
      }));
  });

  protected readonly bed = computed(() => {
    const printer = this.context()?.printer;
    const reach = printer ? reachOf(printer) : { x0: 0, y0: 0, x1: 1, y1: 1 };
    const [width, depth] = [reach.x1 - reach.x0, reach.y1 - reach.y0];
    const [x0, y0, , x1, y1] = this.inspection()?.bounds ?? [0, 0, 0, 0, 0, 0];
    const objects = this.inspection()?.objects ?? [];
    // The picture counts downward.
    const box = (a: number, b: number, c: number, d: number) => ({
      x: a - reach.x0,
      y: reach.y1 - d,
      w: c - a,
      h: d - b,
    });
    const where = `On the bed from ${show(x0, 0)}, ${show(y0, 0)} to ${show(x1, 0)}, ${show(y1, 0)} mm`;
    return {
      round: printer?.bed.shape === 'round' ? { x: width / 2, y: depth / 2, r: width / 2 } : undefined,
      width,
      depth,
      view: `-2 -2 ${width + 4} ${depth + 4}`,
      parts: objects.length > 1 ? objects.map((o) => box(...o.box)) : [box(x0, y0, x1, y1)],
      words: objects.length > 1 ? `${where}, ${objects.length} objects` : where,
    };
  });

  /** What is purged by pair of tools, where there is more than one. */
  protected readonly purged = computed(() => {
    const pairs = (this.inspection()?.purges ?? []).filter((p) => p.from !== p.to);
    if (pairs.length < 2) return '';
    const words = pairs.map((p) => `${show(p.mass, 2)} g from tool ${p.from + 1} to ${p.to + 1}`);
    return ` (${words.join(', ')})`;
  });

  /** How values can be laid out in this file. */
  protected readonly ways = computed(() => {
    const objects = this.inspection()?.objects?.length ?? 0;
    const tiles = factorOf(this.factor())?.layouts.includes('tile') ?? false;
    return [
      { id: 'height' as const, label: 'band by band over its height' },
      ...(objects > 1 && tiles ? [{ id: 'tile' as const, label: `object by object, ${objects} of them` }] : []),
    ];
  });
  protected readonly way = signal<'height' | 'tile'>('height');
  protected readonly along = computed(() => (this.ways().some((w) => w.id === this.way()) ? this.way() : 'height'));

  protected again(): void {
    const context = this.context();
    if (context) this.shelf.again(this.hash(), context);
  }

  protected async look(): Promise<void> {
    const inspection = this.inspection();
    if (!inspection) return;
    await this.drawn.lay(this.hash(), inspection);
    this.toolpath.set(true);
  }

  protected carry(): void {
    const [pair, context, file, inspection] = [
      this.keeper.currentPair(),
      this.context(),
      this.file(),
      this.inspection(),
    ];
    if (!pair || !context || !file || !inspection) return;
    const baseline = tunedBaseline(pair.baseline, pair.values);
    const { hash, name, length } = file;
    const trial = ownTrial(
      { hash, name, length },
      inspection,
      context,
      baseline,
      this.factor(),
      undefined,
      this.along(),
    );
    const id = this.maker.open(pair.id, stopOfFactor(this.factor())?.id ?? freeStop, trial);
    void this.router.navigate(['/trial', id]);
  }
}
