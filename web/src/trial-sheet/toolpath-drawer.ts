import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, effect, inject, model, signal, viewChild } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Drawer } from 'primeng/drawer';
import { Select } from 'primeng/select';
import { Slider } from 'primeng/slider';
import { show } from '#core/base';
import { roleAt, roleNumber } from '#core/moves';
import { levelColor } from '../ui/level-color';
import { WorkerPool } from '../work/worker-pool';
import type { LayerLines } from '../work/layer-lines';
import { TrialDesk } from './trial-desk';

type Shading = 'cell' | 'speed' | 'flow' | 'fan';

/** The toolpath, drawn from the text of the file: one layer from above, its moves, and what a pointed-at move is. */
@Component({
  selector: 'st-toolpath-drawer',
  imports: [Drawer, FormsModule, Slider, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-drawer
      [(visible)]="open"
      position="right"
      header="Toolpath, from the G-code text"
      [style]="{ width: 'min(940px, 98vw)' }"
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
            [options]="shadings"
            optionLabel="label"
            optionValue="id"
            [(ngModel)]="shading"
            ariaLabel="Shade by"
            size="small"
          />
          <label><input type="checkbox" [(ngModel)]="travel" /> travel</label>
          <span class="gap"></span>
          <span class="figures"
            >layer {{ index() + 1 }} of {{ layers().length }} · Z {{ z() }} mm · {{ cellWords() }}</span
          >
        </div>
        <div class="view">
          <canvas
            #canvas
            (pointermove)="point($event)"
            (pointerleave)="hit.set(undefined)"
            role="img"
            [attr.aria-label]="'Layer ' + (index() + 1) + ' from above'"
          ></canvas>
          <p-slider
            class="layers"
            orientation="vertical"
            [ngModel]="index()"
            (ngModelChange)="index.set($event)"
            [min]="0"
            [max]="layers().length - 1"
            ariaLabel="Layer"
          />
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
                  [attr.stroke]="k.color"
                  [attr.stroke-width]="k.width"
                  [attr.stroke-dasharray]="k.dash"
                />
              </svg>
              {{ k.words }}</span
            >
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
      height: 500px;
      background: var(--sheet);
      border: 1px solid var(--line);
    }
    .layers {
      height: 480px;
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
    .what {
      min-height: 20px;
    }
  `,
})
export class ToolpathDrawer {
  protected readonly desk = inject(TrialDesk);
  private readonly pool = inject(WorkerPool);
  readonly open = model(false);
  private readonly canvas = viewChild<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly layers = signal<LayerLines[]>([]);
  protected readonly problem = signal('');
  protected readonly index = signal(0);
  protected readonly upTo = signal(Infinity);
  protected readonly shading = signal<Shading>('cell');
  protected readonly travel = signal(true);
  protected readonly hit = signal<number | undefined>(undefined);
  private from: Uint8Array | undefined;

  protected readonly shadings = [
    { id: 'cell', label: 'level' },
    { id: 'speed', label: 'speed' },
    { id: 'flow', label: 'flow' },
    { id: 'fan', label: 'fan' },
  ];

  protected readonly layer = computed(() => this.layers()[Math.min(this.index(), this.layers().length - 1)]!);
  protected readonly shown = computed(() => Math.min(this.upTo(), this.layer().role.length));
  protected readonly z = computed(() => show(this.layer().z, 2));
  protected readonly cellWords = computed(
    () => this.desk.rows().find((r) => r.cell === this.layer().cell)?.label ?? 'base',
  );

  /** The range of the shaded quantity over the whole file, so that layers can be compared. */
  private readonly range = computed<[number, number]>(() => {
    let low = Infinity;
    let high = -Infinity;
    const shading = this.shading();
    for (const l of this.layers()) {
      for (let i = 0; i < l.role.length; i++) {
        if (l.role[i] === roleNumber.travel) continue;
        const v = shading === 'fan' ? l.fan[i]! : shading === 'flow' ? l.flow[i]! : l.speed[i]!;
        if (v < low) low = v;
        if (v > high) high = v;
      }
    }
    return low <= high ? [low, high] : [0, 1];
  });

  protected readonly legend = computed(() => {
    const ink = 'currentColor';
    const shading = this.shading();
    const kinds = [
      { words: 'outer wall', color: ink, width: 2.6, dash: '' },
      { words: 'inner wall', color: ink, width: 1.4, dash: '' },
      { words: 'skin, infill', color: ink, width: 0.8, dash: '' },
      { words: 'bridge, overhang', color: ink, width: 1.8, dash: '6 2' },
      { words: 'travel', color: ink, width: 0.7, dash: '1 3' },
    ];
    if (shading === 'cell') return kinds;
    const [low, high] = this.range();
    const unit = { speed: 'mm/s', flow: 'mm³/s', fan: '%' }[shading];
    const k = shading === 'fan' ? 100 : 1;
    return [
      ...kinds,
      { words: `${show(low * k, 1)} ${unit}`, color: 'var(--line-strong)', width: 4, dash: '' },
      { words: `${show(high * k, 1)} ${unit}`, color: 'var(--ink)', width: 4, dash: '' },
    ];
  });

  protected readonly what = computed(() => {
    const i = this.hit();
    const l = this.layer();
    if (i === undefined || i >= l.role.length) return 'Point at a move.';
    const role = roleAt(l.role[i]!).replace('-', ' ');
    const way = `line ${l.line[i]} of the file`;
    if (l.role[i] === roleNumber.travel) return `travel, ${show(l.speed[i]!)} mm/s, ${way}`;
    return `${role}, ${show(l.width[i]!, 2)} × ${show(l.height, 2)} mm, ${show(l.speed[i]!, 1)} mm/s, ${show(l.flow[i]!, 1)} mm³/s, fan ${show(l.fan[i]! * 100, 0)} %, ${way}`;
  });

  constructor() {
    effect(() => {
      const made = this.desk.made();
      if (!this.open() || !made || this.from === made.bytes) return;
      this.from = made.bytes;
      this.layers.set([]);
      const context = this.desk.record()!.trial.context;
      this.pool.layers(made.bytes, context.filament.diameter, context.printer.firmware).then(
        (layers) => {
          this.layers.set(layers);
          // Opened at the row in hand.
          const row = this.desk.rows().find((r) => r.cell === this.desk.spot().cell);
          const at = row ? layers.findIndex((l) => l.z > (row.bottom + row.top) / 2) : 0;
          this.index.set(Math.max(0, at));
        },
        (error: unknown) => this.problem.set(String(error)),
      );
    });
    effect(() => {
      this.index();
      this.upTo.set(Infinity);
    });
    effect(() => {
      const canvas = this.canvas()?.nativeElement;
      if (!canvas || this.layers().length === 0) return;
      this.size.set({ width: canvas.clientWidth || 760, height: canvas.clientHeight || 500 });
      this.draw(canvas);
    });
  }

  private readonly size = signal({ width: 760, height: 500 });

  /** mm → canvas, the same for all layers of the file. */
  private readonly frame = computed(() => {
    const { width, height } = this.size();
    const b = this.desk.inspection()?.bounds ?? [0, 0, 0, 1, 1, 1];
    const margin = 3;
    const scale = Math.min(width / (b[3] - b[0] + 2 * margin), height / (b[4] - b[1] + 2 * margin));
    return { scale, x: width / 2 - (scale * (b[0] + b[3])) / 2, y: height / 2 + (scale * (b[1] + b[4])) / 2 };
  });

  private draw(canvas: HTMLCanvasElement): void {
    const ratio = Math.min(2, window.devicePixelRatio || 1);
    const { width, height } = this.size();
    canvas.width = width * ratio;
    canvas.height = height * ratio;
    const c = canvas.getContext('2d')!;
    const l = this.layer();
    const { scale, x, y } = this.frame();
    const style = getComputedStyle(document.documentElement);
    const ink = style.getPropertyValue('--ink').trim();
    const paper = style.getPropertyValue('--line-strong').trim();
    c.setTransform(ratio, 0, 0, ratio, 0, 0);
    c.clearRect(0, 0, width, height);
    c.lineCap = 'round';
    const row = this.desk.rows().find((r) => r.cell === l.cell);
    const level = row ? levelColor(row.share) : ink;
    const [low, high] = this.range();
    const shading = this.shading();
    for (let i = 0; i < this.shown(); i++) {
      const role = l.role[i]!;
      const isTravel = role === roleNumber.travel;
      if (isTravel && !this.travel()) continue;
      let color = level;
      if (shading !== 'cell' && !isTravel) {
        const v = shading === 'fan' ? l.fan[i]! : shading === 'flow' ? l.flow[i]! : l.speed[i]!;
        const share = high > low ? (v - low) / (high - low) : 1;
        color = `color-mix(in oklab, ${ink} ${Math.round(100 * share)}%, ${paper})`;
      }
      c.strokeStyle = isTravel ? ink : color;
      c.globalAlpha = isTravel ? 0.5 : 1;
      c.lineWidth = widthOf(role) * (this.hit() === i ? 2 : 1);
      c.setLineDash(isTravel ? [1, 4] : role === roleNumber.bridge || role === roleNumber.overhang ? [7, 2.5] : []);
      c.beginPath();
      c.moveTo(x + l.ends[4 * i]! * scale, y - l.ends[4 * i + 1]! * scale);
      c.lineTo(x + l.ends[4 * i + 2]! * scale, y - l.ends[4 * i + 3]! * scale);
      c.stroke();
    }
    c.globalAlpha = 1;
    c.setLineDash([]);
    // A bar of 10 mm gives the scale.
    c.strokeStyle = ink;
    c.lineWidth = 1;
    c.beginPath();
    c.moveTo(14, height - 14);
    c.lineTo(14 + 10 * scale, height - 14);
    c.stroke();
    c.fillStyle = ink;
    c.font = `12px ${style.getPropertyValue('--figures')}`;
    c.fillText('10 mm', 14, height - 22);
  }

  protected point(event: PointerEvent): void {
    const canvas = this.canvas()?.nativeElement;
    if (!canvas) return;
    const box = canvas.getBoundingClientRect();
    const { scale, x, y } = this.frame();
    const px = (event.clientX - box.left - x) / scale;
    const py = (y - (event.clientY - box.top)) / scale;
    const l = this.layer();
    let best: number | undefined;
    let nearest = 6 / scale;
    for (let i = 0; i < this.shown(); i++) {
      if (l.role[i] === roleNumber.travel && !this.travel()) continue;
      const [ax, ay, bx, by] = [l.ends[4 * i]!, l.ends[4 * i + 1]!, l.ends[4 * i + 2]!, l.ends[4 * i + 3]!];
      const d2 = (bx - ax) ** 2 + (by - ay) ** 2;
      const t = d2 === 0 ? 0 : Math.max(0, Math.min(1, ((px - ax) * (bx - ax) + (py - ay) * (by - ay)) / d2));
      const d = Math.hypot(px - ax - t * (bx - ax), py - ay - t * (by - ay));
      if (d < nearest) {
        nearest = d;
        best = i;
      }
    }
    this.hit.set(best);
  }
}

function widthOf(role: number): number {
  if (role === roleNumber['outer-wall']) return 2.6;
  if (role === roleNumber['inner-wall'] || role === roleNumber.brim) return 1.4;
  if (role === roleNumber.bridge || role === roleNumber.overhang) return 1.8;
  return role === roleNumber.travel ? 0.7 : 0.8;
}
