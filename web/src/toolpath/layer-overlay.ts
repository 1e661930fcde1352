import type { ElementRef, OnDestroy } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal, viewChild } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Slider } from 'primeng/slider';
import { combineLatest, switchMap, type Observable, type Subscription } from 'rxjs';
import { show, type Progress } from '#core/base';
import type { Context } from '#core/context';
import { Daylight } from '../ui/daylight';
import { fitted, scaleBar, type Frame } from '../ui/frame';
import { PanZoom } from '../ui/pan-zoom';
import type { LayerPair } from '../work/over-one-another';
import { WorkerPool } from '../work/worker-pool';

const STRIP = { wide: 120, high: 470 };

/** A file that is laid over another: what it is called, and where its bytes come from. */
export interface LaidFile {
  name: string;
  file: Observable<Blob>;
}

/** Two files laid over one another, layer by layer: what both lay stands back, what only one lays comes forward. */
@Component({
  selector: 'st-layer-overlay',
  imports: [FormsModule, PanZoom, Slider],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (problem()) {
      <p class="wrong" role="alert">{{ problem() }}</p>
    }
    @if (progress(); as p) {
      <p role="status" class="small">
        {{ p.stage }}, {{ percent(p) }} % <progress [value]="p.done" [max]="p.of"></progress>
        <button type="button" class="act bare" (click)="stop()">Stop</button>
      </p>
    }
    @if (pair(); as l) {
      <div class="both">
        <figure>
          <figcaption>own lines <span class="soft">%</span></figcaption>
          <svg
            [attr.viewBox]="'0 0 ' + strip.wide + ' ' + strip.high"
            role="img"
            [attr.aria-label]="words()"
            (pointerdown)="pick($event)"
          >
            <rect class="ground" x="0" y="0" [attr.width]="strip.wide" [attr.height]="strip.high" />
            <path class="share" [attr.d]="share()" />
            <line class="here" x1="0" [attr.x2]="strip.wide" [attr.y1]="here()" [attr.y2]="here()" />
          </svg>
          <p class="small figures">0 to {{ most() }} %</p>
        </figure>
        <!-- The slider places its handle by the range it had when it was given its value: with a new range, a new one. -->
        @for (n of [pairs().length]; track n) {
          <p-slider
            class="layers"
            orientation="vertical"
            [ngModel]="index()"
            (ngModelChange)="chosen.set($event)"
            [min]="0"
            [max]="n - 1"
            ariaLabel="Layer laid over"
          />
        }
        <div class="picture">
          <canvas
            #canvas
            [(stPanZoom)]="view"
            [whole]="whole()"
            role="img"
            [attr.aria-label]="
              'Layer ' + (index() + 1) + ', both files. Plus and minus zoom, arrows move, 0 shows the whole.'
            "
          ></canvas>
          <p class="legend small" aria-live="polite">
            <span class="figures">layer {{ index() + 1 }} of {{ pairs().length }} · Z {{ figure(l.z, 2) }} mm</span>
            @for (k of legend(); track k.words) {
              <span>
                <svg width="34" height="10" aria-hidden="true">
                  <path
                    d="M1 5h32"
                    stroke="currentColor"
                    [attr.stroke-width]="k.width"
                    [attr.stroke-dasharray]="k.dash"
                    [attr.opacity]="k.alpha"
                  />
                </svg>
                {{ k.words }} <b class="figures">{{ k.length }}</b>
              </span>
            }
          </p>
        </div>
      </div>
    }
  `,
  styles: `
    :host {
      display: block;
      margin-top: 10px;
    }
    .both {
      display: grid;
      grid-template-columns: 120px auto minmax(0, 1fr);
      gap: 14px;
    }
    figure {
      margin: 0;
    }
    figcaption {
      font-size: 13px;
      font-weight: 600;
      line-height: 1.3;
      padding-bottom: 6px;
    }
    figcaption .soft {
      font-weight: 400;
    }
    svg {
      display: block;
    }
    figure svg {
      width: 120px;
      height: 470px;
      cursor: pointer;
    }
    .ground {
      fill: var(--sheet);
      stroke: var(--line);
    }
    .share {
      fill: var(--ink-soft);
    }
    .here {
      stroke: var(--madder);
      stroke-width: 1.5;
    }
    .layers {
      height: 450px;
      margin: 34px 6px 0;
    }
    canvas {
      display: block;
      width: 100%;
      height: 492px;
      background: var(--sheet);
      border: 1px solid var(--line);
      cursor: grab;
    }
    .legend {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 22px;
      margin: 6px 0 0;
    }
    .legend span {
      display: inline-flex;
      gap: 7px;
      align-items: center;
    }
  `,
})
export class LayerOverlay implements OnDestroy {
  /** The baseline and the file laid over it. */
  readonly first = input.required<LaidFile>();
  readonly second = input.required<LaidFile>();
  readonly context = input.required<Context>();
  private readonly pool = inject(WorkerPool);
  private readonly daylight = inject(Daylight);
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly strip = STRIP;
  protected readonly pairs = signal<readonly LayerPair[]>([]);
  protected readonly progress = signal<Progress | undefined>(undefined);
  protected readonly problem = signal<string | undefined>(undefined);
  /** The layer picked; before any is, the one that differs most. */
  protected readonly chosen = signal<number | undefined>(undefined);
  protected readonly view = signal<Frame | undefined>(undefined);
  private work: Subscription | undefined;

  constructor() {
    effect(() => {
      const [a, b, context] = [this.first(), this.second(), this.context()];
      this.begin(a, b, context);
    });
    effect(() => {
      const canvas = this.canvas()?.nativeElement;
      const pair = this.pair();
      this.daylight.night();
      if (!canvas || !pair) return;
      this.size.set({ width: canvas.clientWidth || 700, height: canvas.clientHeight || 492 });
      draw(canvas, pair, this.frame(), this.size());
    });
  }

  ngOnDestroy(): void {
    this.work?.unsubscribe();
  }

  protected stop(): void {
    this.work?.unsubscribe();
    this.progress.set(undefined);
  }

  private begin(a: LaidFile, b: LaidFile, context: Context): void {
    this.work?.unsubscribe();
    this.pairs.set([]);
    this.chosen.set(undefined);
    this.view.set(undefined);
    this.problem.set(undefined);
    this.progress.set({ stage: 'laying over', done: 0, of: 1 });
    this.work = combineLatest([a.file, b.file])
      .pipe(switchMap(([x, y]) => this.pool.over(x, y, context)))
      .subscribe({
        next: ({ progress, batch }) => {
          this.progress.set(progress);
          if (batch.length > 0) this.pairs.update((all) => [...all, ...batch]);
        },
        error: (e: unknown) => {
          this.problem.set(e instanceof Error ? e.message : String(e));
          this.progress.set(undefined);
        },
        complete: () => this.progress.set(undefined),
      });
  }

  /** Share of a pair's length that one file lays and the other does not. */
  private readonly shares = computed(() =>
    this.pairs().map(({ a, b }) => (a.apart + b.apart) / Math.max(1e-9, a.length + b.length)),
  );
  private readonly most_ = computed(() => Math.max(0.05, ...this.shares()));
  protected readonly most = computed(() => show(100 * this.most_(), 0));

  protected readonly index = computed(() => {
    const own = this.chosen();
    if (own !== undefined) return Math.min(own, this.pairs().length - 1);
    return this.shares().reduce((best, s, i, all) => (s > all[best]! + 1e-9 ? i : best), 0);
  });
  protected readonly pair = computed(() => this.pairs()[this.index()]);

  private readonly top = computed(() => Math.max(0.1, ...this.pairs().map((p) => p.z)));

  private y(z: number): number {
    return STRIP.high - 2 - (z / this.top()) * (STRIP.high - 4);
  }

  protected readonly share = computed(() => {
    const all = this.pairs();
    const step = Math.max(1, Math.ceil(all.length / 500));
    return all
      .map((p, i) => {
        if (i % step > 0) return '';
        const high = Math.max(0.8, this.y(p.z - p.height) - this.y(p.z));
        const wide = (this.shares()[i]! / this.most_()) * (STRIP.wide - 4);
        return `M0 ${this.y(p.z).toFixed(1)}h${wide.toFixed(1)}v${high.toFixed(1)}H0Z`;
      })
      .join('');
  });
  protected readonly here = computed(() => {
    const p = this.pair();
    return p ? this.y(p.z - p.height / 2) : 0;
  });

  protected readonly words = computed(
    () => `Over the height, up to ${this.most()} % of a layer is laid by one file and not by the other.`,
  );

  protected readonly legend = computed(() => {
    const p = this.pair();
    if (!p) return [];
    const metres = (v: number) => `${show(v / 1000, 2)} m`;
    return [
      { ...kinds.both, words: 'both', length: metres(p.a.length - p.a.apart) },
      { ...kinds.first, words: `only ${this.first().name}`, length: metres(p.a.apart) },
      { ...kinds.second, words: `only ${this.second().name}`, length: metres(p.b.apart) },
    ];
  });

  protected readonly size = signal({ width: 700, height: 492 });
  private readonly box = computed<[number, number, number, number]>(() => {
    const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
    // Above the first layer, whose brim would make the rest small.
    for (const { a, b } of this.pairs().length > 2 ? this.pairs().slice(1, 40) : this.pairs())
      for (const { ends } of [a, b])
        for (let i = 0; i < ends.length; i += 2) {
          box[0] = Math.min(box[0], ends[i]!);
          box[1] = Math.min(box[1], ends[i + 1]!);
          box[2] = Math.max(box[2], ends[i]!);
          box[3] = Math.max(box[3], ends[i + 1]!);
        }
    return box[0] < box[2] ? box : [0, 0, 1, 1];
  });
  protected readonly whole = computed(() => fitted(this.box(), this.size().width, this.size().height));
  private readonly frame = computed(() => this.view() ?? this.whole());

  protected percent(p: Progress): string {
    return show((100 * p.done) / (p.of || 1), 0);
  }

  protected figure(v: number, digits: number): string {
    return show(v, digits);
  }

  protected pick(event: PointerEvent): void {
    const box = (event.currentTarget as SVGElement).getBoundingClientRect();
    const z = (1 - (event.clientY - box.top) / box.height) * this.top();
    const found = this.pairs().findIndex((p) => p.z >= z);
    this.chosen.set(found < 0 ? this.pairs().length - 1 : found);
  }
}

const kinds = {
  both: { width: 0.8, dash: '', alpha: 0.45 },
  first: { width: 1.6, dash: '4 3', alpha: 1 },
  second: { width: 2.4, dash: '', alpha: 1 },
};

function draw(
  canvas: HTMLCanvasElement,
  { a, b }: LayerPair,
  frame: Frame,
  { width, height }: { width: number; height: number },
): void {
  const ratio = Math.min(2, window.devicePixelRatio || 1);
  canvas.width = width * ratio;
  canvas.height = height * ratio;
  const c = canvas.getContext('2d')!;
  c.setTransform(ratio, 0, 0, ratio, 0, 0);
  const style = getComputedStyle(document.documentElement);
  const ink = style.getPropertyValue('--ink').trim();
  c.strokeStyle = ink;
  const lines = ({ ends, own }: LayerPair['a'], which: number, kind: (typeof kinds)['both']) => {
    c.globalAlpha = kind.alpha;
    c.lineWidth = kind.width;
    c.setLineDash(kind.dash === '' ? [] : kind.dash.split(' ').map(Number));
    c.beginPath();
    for (let i = 0; i < own.length; i++) {
      if (own[i] !== which) continue;
      c.moveTo(frame.x + ends[4 * i]! * frame.scale, frame.y - ends[4 * i + 1]! * frame.scale);
      c.lineTo(frame.x + ends[4 * i + 2]! * frame.scale, frame.y - ends[4 * i + 3]! * frame.scale);
    }
    c.stroke();
  };
  lines(a, 0, kinds.both);
  lines(a, 1, kinds.first);
  lines(b, 1, kinds.second);
  c.globalAlpha = 1;
  c.setLineDash([]);
  scaleBar(c, frame, ink, height, style.getPropertyValue('--figures'));
}
