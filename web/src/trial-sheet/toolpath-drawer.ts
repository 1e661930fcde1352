import type { ElementRef } from '@angular/core';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  model,
  signal,
  viewChild,
  type OnDestroy,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Drawer } from 'primeng/drawer';
import { Select } from 'primeng/select';
import { Slider } from 'primeng/slider';
import type { Subscription } from 'rxjs';
import { show, type Progress } from '#core/base';
import { roleAt } from '#core/moves';
import { levelColor } from '../ui/level-color';
import { WorkerPool } from '../work/worker-pool';
import { fitted, scaleBar, type Frame } from '../ui/frame';
import { PanZoom } from '../ui/pan-zoom';
import type { LayerLines } from '../work/layer-lines';
import { TrialDesk } from './trial-desk';
import {
  drawn,
  kindOf,
  moveAt,
  rangeOf,
  segmentsOf,
  strokes,
  type Kind,
  type Picture,
  type Shading,
} from './toolpath-picture';

/** While the view moves, at most so many segments are drawn, so that no frame takes over 50 ms; the rest follows at rest. */
const MOVING = 40_000;
const REST = 160;
const SLICE_MS = 12;

const alike = <T>(a: readonly T[], b: readonly T[]): boolean => a.length === b.length && a.every((v, i) => v === b[i]);

/** The toolpath, drawn from the text of the file: layers from above, their moves, and what a pointed-at move is. */
@Component({
  selector: 'st-toolpath-drawer',
  imports: [Drawer, FormsModule, PanZoom, Slider, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-drawer
      [(visible)]="open"
      position="right"
      header="Toolpath, from the G-code text"
      ariaCloseLabel="Close the toolpath"
      [style]="{ width: 'min(980px, 98vw)' }"
    >
      @if (problem()) {
        <p class="wrong">{{ problem() }}</p>
      } @else if (!layers().length) {
        <p class="soft">Reading the file …</p>
      } @else {
        <div class="bar">
          <label for="shading">shade by</label>
          <p-select
            inputId="shading"
            [options]="shadings()"
            optionLabel="label"
            optionValue="id"
            [ngModel]="shading()"
            (ngModelChange)="chosenShading.set($event)"
            ariaLabel="Shade by"
            size="small"
          />
          <label><input type="checkbox" [(ngModel)]="travel" /> travel</label>
          <label><input type="checkbox" [(ngModel)]="crossings" /> wall crossings</label>
          <label for="beneath">layers</label>
          <p-select
            inputId="beneath"
            [options]="depths"
            optionLabel="label"
            optionValue="beneath"
            [(ngModel)]="beneath"
            ariaLabel="Layers shown"
            size="small"
          />
          <span class="gap"></span>
          @if (progress(); as p) {
            <span class="small soft" role="status">reading, {{ percent(p) }} %</span>
          }
          <span class="figures" aria-live="polite">{{ layerWords() }}</span>
        </div>
        <div class="view">
          <canvas
            #canvas
            [(stPanZoom)]="view"
            [whole]="whole()"
            (pointermove)="point($event)"
            (pointerleave)="hit.set(undefined)"
            role="img"
            [attr.aria-label]="
              'Layer ' + (index() + 1) + ' from above. Plus and minus zoom, arrows move, 0 shows the whole.'
            "
          ></canvas>
          <!-- The slider places its handle by the range it had when it was given its value: with a new range, a new one. -->
          @for (n of [layers().length]; track n) {
            <p-slider
              class="layers"
              orientation="vertical"
              [ngModel]="index()"
              (ngModelChange)="index.set($event)"
              [min]="0"
              [max]="n - 1"
              ariaLabel="Layer"
            />
          }
        </div>
        <div class="bar moves">
          <span class="small">moves</span>
          <p-slider
            [ngModel]="shown()"
            (ngModelChange)="upTo.set($event)"
            [min]="1"
            [max]="layer().role.length"
            ariaLabel="Moves shown"
          />
          <span class="figures small">{{ shown() }} of {{ layer().role.length }}</span>
        </div>
        <p class="legend small">
          @for (k of legend(); track k.words) {
            <span
              ><svg width="30" height="10" aria-hidden="true">
                <path
                  d="M1 5h28"
                  stroke="currentColor"
                  [attr.stroke-width]="k.width"
                  [attr.stroke-dasharray]="k.dash.join(' ')"
                />
              </svg>
              {{ k.words }}</span
            >
          }
          @if (scaleWords(); as s) {
            <span class="scale"
              ><span class="figures">{{ s.low }}</span
              ><i aria-hidden="true"></i><span class="figures">{{ s.high }}</span></span
            >
          }
          @for (l of levels(); track l.words) {
            <span><i class="swatch" [style.background]="l.color" aria-hidden="true"></i>{{ l.words }}</span>
          }
          @if (crossings()) {
            <span>✕ travel over an outer wall: {{ crossingCount() }} here</span>
          }
        </p>
        <p class="small figures what" aria-live="polite">{{ what() }}</p>
      }
    </p-drawer>
  `,
  styles: `
    .bar {
      display: flex;
      gap: 12px;
      align-items: center;
      font-size: 13px;
      min-height: 36px;
    }
    .bar > * {
      white-space: nowrap;
    }
    .gap {
      flex: 1;
    }
    .view {
      display: flex;
      gap: 14px;
      align-items: stretch;
    }
    canvas {
      flex: 1;
      min-width: 0;
      height: calc(100vh - 285px);
      min-height: 380px;
      background: var(--sheet);
      border: 1px solid var(--line);
      cursor: crosshair;
    }
    .layers {
      height: calc(100vh - 305px);
      min-height: 360px;
      margin: 10px 6px;
    }
    .moves p-slider {
      flex: 1;
      margin: 0 6px;
    }
    .legend {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 18px;
      color: var(--ink-soft);
    }
    .legend span {
      display: inline-flex;
      gap: 6px;
      align-items: center;
    }
    .scale i {
      width: 90px;
      height: 8px;
      background: linear-gradient(to right, var(--line-strong), var(--ink));
    }
    .swatch {
      width: 12px;
      height: 12px;
    }
    .what {
      min-height: 20px;
    }
  `,
})
export class ToolpathDrawer implements OnDestroy {
  protected readonly desk = inject(TrialDesk);
  private readonly pool = inject(WorkerPool);
  readonly open = model(false);
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly layers = signal<LayerLines[]>([]);
  protected readonly problem = signal('');
  /** The layer in hand, and how many beneath it are shown too. */
  protected readonly index = signal(0);
  protected readonly beneath = signal(0);
  protected readonly upTo = signal(Infinity);
  protected readonly chosenShading = signal<Shading>('cell');
  /** A file without cells has no levels to shade by. */
  protected readonly shading = computed(() =>
    this.chosenShading() === 'cell' && this.desk.rows().length === 0 ? 'speed' : this.chosenShading(),
  );
  protected readonly travel = signal(true);
  protected readonly crossings = signal(false);
  protected readonly hit = signal<number | undefined>(undefined);
  /** Where the person has moved and zoomed to; the whole file where undefined. */
  protected readonly view = signal<Frame | undefined>(undefined);
  /** How far the file is read. */
  protected readonly progress = signal<Progress | undefined>(undefined);
  private reading: Subscription | undefined;
  /** Whether the layer to begin with has been read and shown. */
  private opened = false;
  private from: Uint8Array | undefined;
  private resting: ReturnType<typeof setTimeout> | undefined;
  private drawing = 0;

  protected readonly shadings = computed((): { id: Shading; label: string }[] => [
    ...(this.desk.rows().length > 0 ? [{ id: 'cell' as const, label: 'level' }] : []),
    { id: 'speed', label: 'speed' },
    { id: 'flow', label: 'flow' },
    { id: 'fan', label: 'fan' },
    { id: 'time', label: 'layer time' },
  ]);

  protected readonly depths = [
    { beneath: 0, label: 'this one' },
    { beneath: 4, label: '5 down' },
    { beneath: 19, label: '20 down' },
    { beneath: Infinity, label: 'all down' },
  ];
  /** Lowest and highest layer shown. */
  private readonly span = computed<[number, number]>(() => {
    const to = Math.min(this.index(), this.layers().length - 1);
    return [Math.max(0, to - this.beneath()), to];
  });
  protected readonly layer = computed(() => this.layers()[this.span()[1]]!);
  protected readonly shown = computed(() => Math.min(this.upTo(), this.layer().role.length));
  private readonly times = computed(() => {
    const layers = this.desk.inspection()?.layers ?? [];
    const byHeight = new Map(layers.map((l) => [l.z.toFixed(3), l.time]));
    return this.layers().map((l, k) =>
      layers.length === this.layers().length ? layers[k]!.time : (byHeight.get(l.z.toFixed(3)) ?? 0),
    );
  });
  protected readonly layerWords = computed(() => {
    const [from, to] = this.span();
    const l = this.layer();
    const which = from < to ? `layers ${from + 1} to ${to + 1}` : `layer ${to + 1}`;
    const cells = [...new Set(l.cells)].flatMap((c) => this.desk.rows().find((r) => r.cell === c)?.label ?? []);
    const where =
      cells.length === 0
        ? this.desk.rows().length > 0
          ? 'base'
          : ''
        : cells.length > 1
          ? `${cells.length} cells`
          : cells[0]!;
    return `${which} of ${this.layers().length} · Z ${show(l.z, 2)} mm · ${show(this.times()[this.index()] ?? 0, 1)} s${where && ` · ${where}`}`;
  });

  private readonly range = computed(() => rangeOf(this.shading(), this.layers(), this.times()), { equal: alike });
  /** The layers shown. While more are read below or above, these stay what they are, and so does the drawing. */
  private readonly stack = computed(
    () => {
      const [from, to] = this.span();
      return this.layers().slice(from, to + 1);
    },
    { equal: alike },
  );
  private readonly stackTimes = computed(
    () => {
      const [from, to] = this.span();
      return this.times().slice(from, to + 1);
    },
    { equal: alike },
  );

  protected readonly legend = computed(() => {
    const kinds = new Set<Kind>();
    const [from, to] = this.span();
    for (let k = Math.max(from, to - 40); k <= to; k++)
      for (const role of this.layers()[k]?.roles ?? []) kinds.add(kindOf(role));
    return (Object.keys(strokes) as Kind[])
      .filter((k) => kinds.has(k) && (k !== 'travel' || this.travel()))
      .map((k) => strokes[k]);
  });

  protected readonly scaleWords = computed(() => {
    const shading = this.shading();
    if (shading === 'cell') return undefined;
    const [low, high] = this.range();
    const unit = { speed: 'mm/s', flow: 'mm³/s', fan: '%', time: 's' }[shading];
    const k = shading === 'fan' ? 100 : 1;
    return { low: `${show(low * k, 1)} ${unit}`, high: `${show(high * k, 1)} ${unit}` };
  });

  /** The colour of each level seen on the highest layer. */
  protected readonly levels = computed(() => {
    if (this.shading() !== 'cell') return [];
    const here = new Set(this.layer().cells);
    return this.desk
      .rows()
      .filter((r) => here.has(r.cell) && r.label !== 'whole')
      .map((r) => ({ words: r.label, color: levelColor(r.share) }));
  });

  protected percent(p: Progress): string {
    return show((100 * p.done) / (p.of || 1), 0);
  }

  protected readonly crossingCount = computed(() => this.layer().crossings.length / 2);

  protected readonly what = computed(() => {
    const i = this.hit();
    const l = this.layer();
    if (i === undefined || i >= l.role.length)
      return 'Point at a move. Turn the wheel to zoom, drag to move, double-click for the whole.';
    const role = roleAt(l.role[i]!).replace('-', ' ');
    const cell = this.desk.rows().find((r) => r.cell === l.cells[i])?.label;
    const way = `line ${l.line[i]} of the file`;
    const of = cell && cell !== 'whole' ? ` of ${cell}` : '';
    if (kindOf(l.role[i]!) === 'travel') return `${role}${of}, ${show(l.speed[i]!)} mm/s, ${way}`;
    return `${role}${of}, ${show(l.width[i]!, 2)} × ${show(l.height, 2)} mm, ${show(l.speed[i]!, 1)} mm/s, ${show(l.flow[i]!, 1)} mm³/s, fan ${show(l.fan[i]! * 100, 0)} %, ${way}`;
  });

  constructor() {
    effect(() => {
      const made = this.desk.made();
      if (!this.open() || !made || this.from === made.bytes) return;
      this.from = made.bytes;
      this.layers.set([]);
      const context = this.desk.record()!.trial.context;
      this.opened = false;
      this.reading?.unsubscribe();
      this.reading = this.pool.layers(new Blob([made.bytes]), context).subscribe({
        next: ({ progress, layers }) => {
          this.progress.set(progress);
          if (layers.length > 0) this.layers.update((all) => [...all, ...layers]);
          if (!this.opened && layers.length > 0) this.openAt();
        },
        error: (error: unknown) => this.problem.set(String(error)),
        complete: () => {
          this.progress.set(undefined);
          this.openAt();
        },
      });
    });
    // Closed while it is read: what is left unread is read when it is opened again.
    effect(() => {
      if (this.open() || !this.progress()) return;
      this.reading?.unsubscribe();
      this.progress.set(undefined);
      this.from = undefined;
    });
    effect(() => {
      this.index();
      this.upTo.set(Infinity);
    });
    effect(() => {
      const canvas = this.canvas()?.nativeElement;
      if (!canvas || this.stack().length === 0) return;
      this.size.set({ width: canvas.clientWidth || 760, height: canvas.clientHeight || 490 });
      this.draw(canvas);
    });
  }

  /** Shows the row in hand; cells beside one another are seen from their middle layer. */
  private openAt(): void {
    if (this.opened) return;
    const layers = this.layers();
    const row = this.desk.rows().find((r) => r.cell === this.desk.spot().cell);
    const above = this.desk.plan()?.built.drawing.view === 'above';
    const middle = ((row?.bottom ?? 0) + (row?.top ?? 0)) / 2;
    const wanted = layers.findIndex((l) => l.z > middle);
    const read = !this.progress();
    this.view.set(undefined);
    if (above) this.index.set(Math.floor(layers.length / 2));
    else if (wanted >= 0) this.index.set(wanted);
    this.opened = read || (!above && wanted >= 0);
  }

  ngOnDestroy(): void {
    this.reading?.unsubscribe();
    clearTimeout(this.resting);
    cancelAnimationFrame(this.drawing);
  }

  private readonly size = signal({ width: 760, height: 490 });

  /** The whole file on the canvas. */
  protected readonly whole = computed<Frame>(() => {
    const { width, height } = this.size();
    const b = this.desk.inspection()?.bounds ?? [0, 0, 0, 1, 1, 1];
    return fitted([b[0], b[1], b[3], b[4]], width, height);
  });
  private readonly frame = computed(() => this.view() ?? this.whole());

  private draw(canvas: HTMLCanvasElement): void {
    const ratio = Math.min(2, window.devicePixelRatio || 1);
    const { width, height } = this.size();
    const c = canvas.getContext('2d')!;
    const style = getComputedStyle(document.documentElement);
    const ink = style.getPropertyValue('--ink').trim();
    const paper = style.getPropertyValue('--line-strong').trim();
    const share = new Map(this.desk.rows().map((r) => [r.cell, levelColor(r.share)]));
    const several = this.desk.rows().length > 1;
    const layers = this.stack();
    const picture: Picture = {
      layers,
      from: 0,
      to: layers.length - 1,
      upTo: this.shown(),
      shading: this.shading(),
      range: this.range(),
      times: this.stackTimes(),
      travel: this.travel(),
      frame: this.frame(),
      ink: (s) => `color-mix(in oklab, ${ink} ${Math.round(100 * s)}%, ${paper})`,
      level: (cell) => (several ? (share.get(cell) ?? ink) : ink),
    };
    const begin = () => {
      canvas.width = width * ratio;
      canvas.height = height * ratio;
      c.setTransform(ratio, 0, 0, ratio, 0, 0);
      c.lineCap = 'butt';
    };
    const finish = () => {
      this.marks(c, picture, ink, height, style.getPropertyValue('--figures'));
    };
    clearTimeout(this.resting);
    cancelAnimationFrame(this.drawing);
    // In slices, so that no frame takes long.
    const run = (strokes: Iterator<number>, then: () => void) => {
      const until = performance.now() + SLICE_MS;
      while (performance.now() < until) if (strokes.next().done) return then();
      this.drawing = requestAnimationFrame(() => run(strokes, then));
    };
    begin();
    run(drawn(c, picture, MOVING), () => {
      finish();
      if (segmentsOf(picture) <= MOVING) return;
      // All of it once the view rests.
      this.resting = setTimeout(() => {
        begin();
        run(drawn(c, picture, Infinity), finish);
      }, REST);
    });
  }

  /** The pointed-at move, wall crossings, and a bar of 10 mm that gives the scale. */
  private marks(c: CanvasRenderingContext2D, p: Picture, ink: string, height: number, font: string): void {
    const { scale, x, y } = p.frame;
    const l = this.layer();
    c.strokeStyle = ink;
    const i = this.hit();
    if (i !== undefined && i < l.role.length) {
      c.lineWidth = 2 * strokes[kindOf(l.role[i]!)].width + 1;
      c.beginPath();
      c.moveTo(x + l.ends[4 * i]! * scale, y - l.ends[4 * i + 1]! * scale);
      c.lineTo(x + l.ends[4 * i + 2]! * scale, y - l.ends[4 * i + 3]! * scale);
      c.stroke();
    }
    if (this.crossings()) {
      c.lineWidth = 1.4;
      c.beginPath();
      for (let k = 0; k < l.crossings.length; k += 2) {
        const [cx, cy] = [x + l.crossings[k]! * scale, y - l.crossings[k + 1]! * scale];
        c.moveTo(cx - 4, cy - 4);
        c.lineTo(cx + 4, cy + 4);
        c.moveTo(cx - 4, cy + 4);
        c.lineTo(cx + 4, cy - 4);
      }
      c.stroke();
    }
    scaleBar(c, p.frame, ink, height, font);
  }

  protected point(event: PointerEvent): void {
    const canvas = this.canvas()?.nativeElement;
    if (!canvas) return;
    // While it is dragged, nothing is pointed at.
    if (event.buttons === 1) return;
    const box = canvas.getBoundingClientRect();
    const { scale, x, y } = this.frame();
    const px = (event.clientX - box.left - x) / scale;
    const py = (y - (event.clientY - box.top)) / scale;
    this.hit.set(moveAt(this.layer(), this.shown(), this.travel(), px, py, 6 / scale));
  }
}
