import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { show } from '#core/base';
import type { LayerReport } from '#core/inspect';

const HEIGHT = 330;
const WIDTH = 128;

/** A line that says how far a figure may go. */
export interface TrackLimit {
  track: string;
  value: number;
  words: string;
}

interface Figure {
  id: string;
  label: string;
  unit: string;
  digits: number;
  /** No number where a layer says nothing of it. */
  of(layer: LayerReport): number;
  /** The track whose limit it has, where not its own. */
  limit?: string;
}

const figures: readonly Figure[] = [
  { id: 'nozzle', label: 'nozzle', unit: '°C', digits: 0, of: (l) => l.nozzle },
  { id: 'fan', label: 'fan', unit: '%', digits: 0, of: (l) => 100 * l.fan },
  { id: 'advance', label: 'pressure advance', unit: 's', digits: 3, of: (l) => l.advance },
  { id: 'wall', label: 'outer walls', unit: 'mm/s', digits: 0, of: (l) => (l.wallSpeed > 0 ? l.wallSpeed : NaN) },
  { id: 'flow', label: 'peak flow', unit: 'mm³/s', digits: 1, of: (l) => l.peakFlow },
  { id: 'time', label: 'layer time', unit: 's', digits: 1, of: (l) => l.time },
];

/**
 * Layers of supports may lie between those of the part, and are narrower: such a layer is as wide as the two beside it.
 */
function withBetween(layers: readonly LayerReport[]): Pick<LayerReport, 'z' | 'height' | 'left' | 'right'>[] {
  const steps = layers.slice(1).map((l, i) => l.z - layers[i]!.z);
  const usual = [...steps].sort((a, b) => a - b)[steps.length >> 1] ?? 0;
  return layers.map((l, i) => {
    const near = [layers[i - 1], l, layers[i + 1]].flatMap((o) =>
      o && (o === l || Math.abs(o.z - l.z) < 0.75 * usual) ? [o] : [],
    );
    return {
      z: l.z,
      height: l.height,
      left: Math.min(...near.map((o) => o.left)),
      right: Math.max(...near.map((o) => o.right)),
    };
  });
}

/** What is in force and reached in a file, over its height beside its silhouette: the sheet's tracks for a file of any origin. */
@Component({
  selector: 'st-file-tracks',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row" role="img" [attr.aria-label]="words()">
      <figure>
        <figcaption>silhouette <span class="soft">mm</span></figcaption>
        <svg [attr.viewBox]="'0 0 ' + (wide + 34) + ' ' + high" [style.width.px]="wide + 34">
          <path class="part" [attr.d]="part()" />
          @for (t of ticks(); track t.mm) {
            <line class="tick" [attr.x1]="wide + 4" [attr.x2]="wide + 10" [attr.y1]="t.y" [attr.y2]="t.y" />
            <text class="mm" [attr.x]="wide + 12" [attr.y]="t.y + 4">{{ t.mm }}</text>
          }
        </svg>
      </figure>
      @for (t of tracks(); track t.id) {
        <figure>
          <figcaption>
            {{ t.label }} <span class="soft">{{ t.unit }}</span>
          </figcaption>
          <svg [attr.viewBox]="'0 0 ' + wide + ' ' + high">
            <rect class="ground" x="0" y="0" [attr.width]="wide" [attr.height]="high" />
            @if (t.limit; as l) {
              <line class="limit" [attr.x1]="l.x" [attr.x2]="l.x" y1="0" [attr.y2]="high" />
            }
            <path class="line" [attr.d]="t.path" />
          </svg>
          <p>
            <span class="figures">{{ t.range }}</span>&ngsp;
            @if (t.limit; as l) {
              <span class="most">{{ l.words }}</span>
            }
          </p>
        </figure>
      }
    </div>
  `,
  styles: `
    .row {
      display: flex;
      gap: 10px;
      align-items: flex-start;
      flex-wrap: wrap;
    }
    figure {
      margin: 0;
      flex: 1 1 110px;
    }
    figure:first-child {
      flex: 0 0 auto;
    }
    figcaption {
      font-size: 13px;
      font-weight: 600;
      padding-bottom: 5px;
      white-space: nowrap;
    }
    figcaption .soft {
      font-weight: 400;
    }
    svg {
      display: block;
      width: 100%;
      height: 330px;
    }
    .ground {
      fill: var(--sheet);
      stroke: var(--line);
    }
    .line {
      fill: none;
      stroke: var(--ink);
      stroke-width: 1.4;
      vector-effect: non-scaling-stroke;
    }
    .limit {
      stroke: var(--madder);
      stroke-dasharray: 3 3;
      vector-effect: non-scaling-stroke;
    }
    .part {
      fill: var(--sheet);
      stroke: var(--ink);
      stroke-width: 1.2;
    }
    .tick {
      stroke: var(--ink-soft);
    }
    .mm {
      font: 10.5px var(--figures);
      fill: var(--ink-soft);
    }
    .most {
      display: block;
    }
    p {
      margin: 4px 0 0;
      font-size: 12.5px;
      color: var(--ink-soft);
    }
  `,
})
export class FileTracks {
  readonly layers = input.required<readonly LayerReport[]>();
  readonly limits = input<readonly TrackLimit[]>([]);
  protected readonly wide = WIDTH;
  protected readonly high = HEIGHT;

  private readonly top = computed(() => Math.max(0.1, ...this.layers().map((l) => l.z)));
  /** Long files are drawn by some of their layers. */
  private readonly drawn = computed(() => {
    const all = this.layers();
    const step = Math.max(1, Math.ceil(all.length / 600));
    return all.filter((_, i) => i % step === 0);
  });

  private y(z: number): number {
    return HEIGHT - 4 - (z / this.top()) * (HEIGHT - 8);
  }

  protected readonly part = computed(() => {
    const own = withBetween(this.drawn().filter((l) => l.right > l.left));
    if (own.length === 0) return '';
    const [left, right] = [Math.min(...own.map((l) => l.left)), Math.max(...own.map((l) => l.right))];
    const k = Math.min((WIDTH - 6) / Math.max(1, right - left), (HEIGHT - 8) / this.top());
    // Over its true shape only as far as it fits: heights go with the tracks.
    const x = (v: number) => (WIDTH - (right - left) * k) / 2 + (v - left) * k;
    const up = own.map(
      (l) =>
        `${x(l.right).toFixed(1)} ${this.y(l.z - l.height).toFixed(1)}L${x(l.right).toFixed(1)} ${this.y(l.z).toFixed(1)}`,
    );
    const down = [...own]
      .reverse()
      .map(
        (l) =>
          `${x(l.left).toFixed(1)} ${this.y(l.z).toFixed(1)}L${x(l.left).toFixed(1)} ${this.y(l.z - l.height).toFixed(1)}`,
      );
    return `M${[...up, ...down].join('L')}Z`;
  });

  protected readonly ticks = computed(() => {
    const top = this.top();
    const step = [1, 2, 5, 10, 20, 50, 100].find((s) => top / s <= 8) ?? 200;
    return Array.from({ length: Math.floor(top / step) + 1 }, (_, i) => ({ mm: i * step, y: this.y(i * step) }));
  });

  /** What is set for each tool has a track for each; the rest one. */
  private readonly figures = computed(() => {
    const used = this.layers().flatMap((l) => [l.tool, ...(l.tools?.map((t) => t.tool) ?? [])]);
    const tools = [...new Set(used)].sort((a, b) => a - b);
    if (tools.length < 2) return figures;
    const of = (l: LayerReport, tool: number, key: 'nozzle' | 'advance') =>
      l.tools?.find((t) => t.tool === tool)?.[key] ?? (l.tool === tool ? l[key] : NaN);
    return figures.flatMap((f): Figure[] =>
      f.id === 'nozzle' || f.id === 'advance'
        ? tools.map((tool) => ({
            ...f,
            id: `${f.id}-${tool}`,
            limit: f.id,
            label: `${f.label}, tool ${tool + 1}`,
            of: (l) => of(l, tool, f.id as 'nozzle' | 'advance'),
          }))
        : [f],
    );
  });

  protected readonly tracks = computed(() =>
    this.figures().flatMap((f) => {
      // Where a tool or a wall prints nothing on a layer, what held before holds on.
      let held = NaN;
      const all = this.drawn().map((l) => (Number.isNaN(f.of(l)) ? held : (held = f.of(l))));
      const first = all.find((v) => !Number.isNaN(v)) ?? 0;
      const values = all.map((v) => (Number.isNaN(v) ? first : v));
      const [low, high] = [Math.min(...values), Math.max(...values)];
      // A track that stays at nothing all the way says nothing.
      if (high <= 0) return [];
      const limit = this.limits().find((l) => l.track === (f.limit ?? f.id));
      const most = Math.max(high, limit && limit.value < 2.5 * high ? limit.value : 0) * 1.08;
      const x = (v: number) => (v / most) * (WIDTH - 4) + 2;
      const path = this.drawn()
        .map(
          (l, i) =>
            `${i === 0 ? 'M' : 'L'}${x(values[i]!).toFixed(1)} ${this.y(l.z - l.height).toFixed(1)}V${this.y(l.z).toFixed(1)}`,
        )
        .join('');
      const say = (v: number) => show(v, f.digits);
      return [
        {
          ...f,
          path,
          range: say(low) === say(high) ? say(low) : `${say(low)} to ${say(high)}`,
          limit: limit && limit.value <= most ? { x: x(limit.value), words: limit.words } : undefined,
        },
      ];
    }),
  );

  protected readonly words = computed(
    () =>
      `Over ${show(this.top(), 1)} mm of height: ${this.tracks()
        .map((t) => `${t.label} ${t.range} ${t.unit}`)
        .join('; ')}`,
  );
}
