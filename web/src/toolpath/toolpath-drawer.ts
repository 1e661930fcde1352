import { ChangeDetectionStrategy, Component, computed, effect, inject, model, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Checkbox } from 'primeng/checkbox';
import { Drawer } from 'primeng/drawer';
import { Select } from 'primeng/select';
import { Slider } from 'primeng/slider';
import { show, type Progress } from '#core/base';
import { roleAt } from '#core/moves';
import { levelColor } from '../ui/level-color';
import { LayerStack } from './layer-stack';
import { kindOf, rangeOf, strokes, type Kind, type Shading } from './picture';
import { marks } from './risk-marks';
import { ToolpathCanvas } from './toolpath-canvas';
import { TOOLPATH_SOURCE } from './toolpath-source';

const alike = <T>(a: readonly T[], b: readonly T[]): boolean => a.length === b.length && a.every((v, i) => v === b[i]);

/** The toolpath, drawn from the text of the file: layers from above, their moves, and what a pointed-at move is. */
@Component({
  selector: 'st-toolpath-drawer',
  imports: [Drawer, FormsModule, Slider, Select, ToolpathCanvas, Checkbox],
  providers: [LayerStack],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-drawer
      [(visible)]="open"
      position="right"
      header="Toolpath, from the G-code text"
      ariaCloseLabel="Close the toolpath"
      [style]="{ width: 'min(1030px, 98vw)' }"
    >
      @if (stack.problem()) {
        <p class="wrong">{{ stack.problem() }}</p>
      } @else if (!stack.all().length) {
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
          <label><p-checkbox [binary]="true" [(ngModel)]="travel" /> travel</label>
          <label><p-checkbox [binary]="true" [(ngModel)]="crossings" /> wall crossings</label>
          <label><p-checkbox [binary]="true" [(ngModel)]="wide" /> true widths</label>
          <label for="beneath">layers</label>
          <p-select
            inputId="beneath"
            [options]="depths"
            optionLabel="label"
            optionValue="beneath"
            [(ngModel)]="stack.beneath"
            ariaLabel="Layers shown"
            size="small"
          />
          <span class="gap"></span>
          @if (stack.progress(); as p) {
            <span class="small soft" role="status">reading, {{ percent(p) }} %</span>
          }
          <span class="figures" aria-live="polite">{{ layerWords() }}</span>
        </div>
        <div class="view">
          <st-toolpath-canvas
            [shown]="shown()"
            [shading]="shading()"
            [range]="range()"
            [travel]="travel()"
            [crossings]="crossings()"
            [wide]="wide()"
            [(hit)]="hit"
          />
          <!-- The slider places its handle by the range it had when it was given its value: with a new range, a new one. -->
          @for (n of [stack.all().length]; track n) {
            <p-slider
              class="layers"
              orientation="vertical"
              [ngModel]="stack.index()"
              (ngModelChange)="stack.index.set($event)"
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
            [max]="stack.layer().role.length"
            ariaLabel="Moves shown"
          />
          <span class="figures small">{{ shown() }} of {{ stack.layer().role.length }}</span>
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
          @if (hanging(); as h) {
            <span
              ><svg class="over" width="24" height="10" aria-hidden="true">
                <path d="M1 5l3-3 6 6 6-6 6 6" fill="none" stroke="currentColor" stroke-width="2" />
              </svg>
              over nothing, not held: {{ h }} mm here</span
            >
          }
          @if (crossings()) {
            @for (m of crossed(); track m.words) {
              <span
                ><b [style.color]="'var(' + m.color + ')'" aria-hidden="true">{{ m.sign }}</b> {{ m.words }}:
                {{ m.count }} here</span
              >
            }
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
    .layers {
      height: calc(100vh - 265px);
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
    .over {
      color: var(--fault);
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
export class ToolpathDrawer {
  private readonly source = inject(TOOLPATH_SOURCE);
  protected readonly stack = inject(LayerStack);
  readonly open = model(false);
  protected readonly upTo = signal(Infinity);
  protected readonly chosenShading = signal<Shading>('cell');
  /** A file without cells has no levels to shade by. */
  protected readonly shading = computed(() =>
    this.chosenShading() === 'cell' && this.source.cells().length === 0 ? 'speed' : this.chosenShading(),
  );
  protected readonly travel = signal(true);
  protected readonly crossings = signal(false);
  protected readonly wide = signal(false);
  protected readonly hit = signal<number | undefined>(undefined);
  protected readonly shadings = computed((): { id: Shading; label: string }[] => [
    ...(this.source.cells().length > 0 ? [{ id: 'cell' as const, label: 'level' }] : []),
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
  protected readonly shown = computed(() => Math.min(this.upTo(), this.stack.layer().role.length));
  protected readonly layerWords = computed(() => {
    const [from, to] = this.stack.span();
    const l = this.stack.layer();
    const which = from < to ? `layers ${from + 1} to ${to + 1}` : `layer ${to + 1}`;
    const cells = [...new Set(l.cells)].flatMap((c) => this.source.cells().find((r) => r.cell === c)?.label ?? []);
    const where =
      cells.length === 0
        ? this.source.cells().length > 0
          ? 'base'
          : ''
        : cells.length > 1
          ? `${cells.length} cells`
          : cells[0]!;
    return `${which} of ${this.stack.all().length} · Z ${show(l.z, 2)} mm · ${show(this.stack.times()[this.stack.index()] ?? 0, 1)} s${where && ` · ${where}`}`;
  });

  protected readonly range = computed(() => rangeOf(this.shading(), this.stack.all(), this.stack.times()), {
    equal: alike,
  });
  protected readonly legend = computed(() => {
    const kinds = new Set<Kind>();
    const [from, to] = this.stack.span();
    for (let k = Math.max(from, to - 40); k <= to; k++)
      for (const role of this.stack.all()[k]?.roles ?? []) kinds.add(kindOf(role));
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
    const here = new Set(this.stack.layer().cells);
    return this.source
      .cells()
      .filter((r) => here.has(r.cell) && r.label !== 'whole')
      .map((r) => ({ words: r.label, color: levelColor(r.share) }));
  });

  protected percent(p: Progress): string {
    return show((100 * p.done) / (p.of || 1), 0);
  }

  /** How much of the layer is laid over nothing, mm; empty for none. */
  protected readonly hanging = computed(() => {
    const { free } = this.stack.layer();
    let length = 0;
    for (let k = 0; k < free.length; k += 4) length += Math.hypot(free[k + 2]! - free[k]!, free[k + 3]! - free[k + 1]!);
    return length > 0 ? show(length, 0) : '';
  });

  /** How often each kind of crossing stands on the layer; the plain one always, the others where there are any. */
  protected readonly crossed = computed(() => {
    const { risks } = this.stack.layer();
    return marks
      .map((m, kind) => ({ ...m, count: risks.filter((r) => r === kind).length }))
      .filter((m, kind) => kind === 0 || m.count > 0);
  });

  protected readonly what = computed(() => {
    const i = this.hit();
    const l = this.stack.layer();
    if (i === undefined || i >= l.role.length)
      return 'Point at a move. Turn the wheel to zoom, drag to move, double-click for the whole.';
    const role = roleAt(l.role[i]!).replace('-', ' ');
    const cell = this.source.cells().find((r) => r.cell === l.cells[i])?.label;
    const way = `line ${l.line[i]} of the file`;
    const of = cell && cell !== 'whole' ? ` of ${cell}` : '';
    if (kindOf(l.role[i]!) === 'travel') return `${role}${of}, ${show(l.speed[i]!)} mm/s, ${way}`;
    return `${role}${of}, ${show(l.width[i]!, 2)} × ${show(l.height, 2)} mm, ${show(l.speed[i]!, 1)} mm/s, ${show(l.flow[i]!, 1)} mm³/s, fan ${show(l.fan[i]! * 100, 0)} %, ${way}`;
  });

  constructor() {
    effect(() => this.stack.open.set(this.open()));
    effect(() => {
      this.stack.index();
      this.upTo.set(Infinity);
    });
  }
}
