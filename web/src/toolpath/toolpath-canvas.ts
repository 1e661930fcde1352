import type { ElementRef } from '@angular/core';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  model,
  signal,
  viewChild,
  type OnDestroy,
} from '@angular/core';
import { Daylight } from '../ui/daylight';
import { levelColor } from '../ui/level-color';
import { fitted, scaleBar, type Frame } from '../ui/frame';
import { PanZoom } from '../ui/pan-zoom';
import { LayerStack } from './layer-stack';
import { drawn, kindOf, moveAt, segmentsOf, strokes, type Picture, type Shading } from './picture';
import { freeMarks, riskMarks } from './risk-marks';
import { TOOLPATH_SOURCE } from './toolpath-source';

/** While the view moves, at most so many segments are drawn, so that no frame takes over 50 ms; the rest follows at rest. */
const MOVING = 40_000;
const REST = 160;
const SLICE_MS = 12;

const alike = <T>(a: readonly T[], b: readonly T[]): boolean => a.length === b.length && a.every((v, i) => v === b[i]);

/** The layers shown, drawn from above; a move can be pointed at. */
@Component({
  selector: 'st-toolpath-canvas',
  imports: [PanZoom],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <canvas
      #canvas
      [(stPanZoom)]="view"
      [whole]="whole()"
      (pointermove)="point($event)"
      (pointerleave)="hit.set(undefined)"
      role="img"
      [attr.aria-label]="
        'Layer ' + (stack.index() + 1) + ' from above. Plus and minus zoom, arrows move, 0 shows the whole.'
      "
    ></canvas>
  `,
  styles: `
    :host {
      display: flex;
      flex: 1;
      min-width: 0;
    }
    canvas {
      flex: 1;
      min-width: 0;
      height: calc(100vh - 245px);
      min-height: 380px;
      background: var(--sheet);
      border: 1px solid var(--line);
      cursor: crosshair;
    }
  `,
})
export class ToolpathCanvas implements OnDestroy {
  private readonly source = inject(TOOLPATH_SOURCE);
  private readonly daylight = inject(Daylight);
  protected readonly stack = inject(LayerStack);
  /** Moves of the highest layer that are drawn. */
  readonly shown = input.required<number>();
  readonly shading = input.required<Shading>();
  /** Lowest and highest value of what is shaded. */
  readonly range = input.required<[number, number]>();
  readonly travel = input.required<boolean>();
  readonly crossings = input.required<boolean>();
  /** Lines in their true width. */
  readonly wide = input.required<boolean>();
  /** The move pointed at. */
  readonly hit = model<number | undefined>(undefined);
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('canvas');
  /** Where the person has moved and zoomed to; the whole file where undefined. */
  protected readonly view = signal<Frame | undefined>(undefined);
  private resting: ReturnType<typeof setTimeout> | undefined;
  private drawing = 0;
  private readonly size = signal({ width: 760, height: 490 });

  /** The layers shown. While more are read below or above, these stay what they are, and so does the drawing. */
  private readonly layers = computed(
    () => {
      const [from, to] = this.stack.span();
      return this.stack.all().slice(from, to + 1);
    },
    { equal: alike },
  );
  private readonly times = computed(
    () => {
      const [from, to] = this.stack.span();
      return this.stack.times().slice(from, to + 1);
    },
    { equal: alike },
  );
  /** What is laid on the bed beside the part is seen with the first layer; above it the part fills the drawing. */
  private readonly onBed = computed(() => this.stack.span()[0] === 0);
  /** The whole of what is shown on the canvas. */
  protected readonly whole = computed<Frame>(() => {
    const { width, height } = this.size();
    const seen = this.source.file()?.inspection;
    const b = seen?.bounds ?? [0, 0, 0, 1, 1, 1];
    const boxes = seen?.roles['purge'] || this.onBed() ? [] : (seen?.cells ?? []).map((c) => c.box);
    const parts = boxes.filter(([x0, , x1]) => x1 > x0);
    if (parts.length === 0) return fitted([b[0], b[1], b[3], b[4]], width, height);
    const least = (k: 0 | 1) => Math.min(...parts.map((p) => p[k]));
    const most = (k: 2 | 3) => Math.max(...parts.map((p) => p[k]));
    return fitted([least(0), least(1), most(2), most(3)], width, height);
  });
  private readonly frame = computed(() => this.view() ?? this.whole());

  constructor() {
    // Another file is seen whole.
    effect(() => {
      this.source.file();
      this.view.set(undefined);
    });
    effect(() => {
      const canvas = this.canvas()?.nativeElement;
      this.daylight.night();
      if (!canvas || this.layers().length === 0) return;
      this.measure(canvas);
      this.draw(canvas);
    });
    // What stands beside it comes later, and takes its room.
    effect((onCleanup) => {
      const canvas = this.canvas()?.nativeElement;
      if (!canvas) return;
      const watch = new ResizeObserver(() => this.measure(canvas));
      watch.observe(canvas);
      onCleanup(() => watch.disconnect());
    });
  }

  private measure({ clientWidth, clientHeight }: HTMLCanvasElement): void {
    const [width, height] = [clientWidth || 760, clientHeight || 490];
    this.size.update((now) => (now.width === width && now.height === height ? now : { width, height }));
  }

  ngOnDestroy(): void {
    clearTimeout(this.resting);
    cancelAnimationFrame(this.drawing);
  }

  private draw(canvas: HTMLCanvasElement): void {
    const ratio = Math.min(2, window.devicePixelRatio || 1);
    const { width, height } = this.size();
    const c = canvas.getContext('2d')!;
    const style = getComputedStyle(document.documentElement);
    const ink = style.getPropertyValue('--ink').trim();
    const paper = style.getPropertyValue('--line-strong').trim();
    const share = new Map(this.source.cells().map((r) => [r.cell, levelColor(r.share)]));
    const several = this.source.cells().length > 1;
    const layers = this.layers();
    const picture: Picture = {
      layers,
      from: 0,
      to: layers.length - 1,
      upTo: this.shown(),
      shading: this.shading(),
      range: this.range(),
      times: this.times(),
      travel: this.travel(),
      wide: this.wide(),
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
      this.marks(c, picture, ink, height, style);
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
  private marks(
    c: CanvasRenderingContext2D,
    p: Picture,
    ink: string,
    height: number,
    style: CSSStyleDeclaration,
  ): void {
    const { scale, x, y } = p.frame;
    const l = this.stack.layer();
    c.strokeStyle = ink;
    const i = this.hit();
    if (i !== undefined && i < l.role.length) {
      c.lineWidth = 2 * strokes[kindOf(l.role[i]!)].width + 1;
      c.beginPath();
      c.moveTo(x + l.ends[4 * i]! * scale, y - l.ends[4 * i + 1]! * scale);
      c.lineTo(x + l.ends[4 * i + 2]! * scale, y - l.ends[4 * i + 3]! * scale);
      c.stroke();
    }
    if (this.crossings()) riskMarks(c, l, p.frame, ink, style);
    freeMarks(c, l, p.frame, style);
    scaleBar(c, p.frame, ink, height, style.getPropertyValue('--figures'));
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
    this.hit.set(moveAt(this.stack.layer(), this.shown(), this.travel(), px, py, 6 / scale));
  }
}
