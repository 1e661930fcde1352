import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { contours } from 'd3-contour';
import { meanOn } from '#core/settle';
import { TrialDesk } from './trial-desk';

const FINE = 12;
const STEPS = [0.5, 1, 1.5, 2, 2.5, 3, 3.5];

/** The response over two factors as contours of the combined score, in the places of the cells. */
@Component({
  selector: 'st-surface-track',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      [attr.viewBox]="'0 0 100 ' + high()"
      preserveAspectRatio="none"
      role="img"
      aria-label="Combined score over both settings, as contours of half a point"
      [style.top.px]="top()"
      [style.height.px]="high()"
    >
      @for (c of lines(); track c.value) {
        <path
          [attr.d]="c.path"
          [style.fill-opacity]="0.28"
          vector-effect="non-scaling-stroke"
          [class.whole]="c.whole"
        />
      }
    </svg>
    @if (peak(); as p) {
      <span class="peak figures" [style.left.%]="p.x" [style.top.px]="top() + p.y">{{ p.words }}</span>
    }
  `,
  styles: `
    :host {
      position: absolute;
      inset: 0;
    }
    svg {
      position: absolute;
      left: 0;
      width: 100%;
    }
    svg {
      background: color-mix(in srgb, var(--ink) 62%, var(--sheet));
    }
    path {
      fill: var(--sheet);
      stroke: var(--ink-soft);
      stroke-width: 0.7;
    }
    .whole {
      stroke-width: 1.4;
    }
    .peak {
      position: absolute;
      transform: translate(-50%, -50%);
      padding: 0 5px;
      border: 1.5px solid var(--madder);
      background: var(--sheet);
      color: var(--madder);
      font-weight: 640;
      font-size: 12px;
    }
  `,
})
export class SurfaceTrack {
  /** Where the lines of the map begin and how high they are together, px; and whether the first line is the lowest. */
  readonly top = input.required<number>();
  readonly high = input.required<number>();
  readonly up = input.required<boolean>();
  private readonly desk = inject(TrialDesk);
  private readonly size = computed(() => {
    const rows = this.desk.rows();
    return {
      lines: Math.max(1, ...rows.map((r) => r.at[0] + 1)),
      columns: Math.max(1, ...rows.map((r) => r.at[1] + 1)),
    };
  });
  /** Scores on a fine grid over the whole map, the first row at the top. */
  private readonly grid = computed(() => {
    const surface = this.desk.settlement.settled()?.surface;
    const axes = this.desk.record()?.trial.axes ?? [];
    if (!surface) return undefined;
    const { lines, columns } = this.size();
    const [w, h] = [columns * FINE, lines * FINE];
    // The surface speaks of the first axis down and the second across; the sheet may run the other way.
    const across = axes.findIndex(
      (a, i) =>
        i !== (axes.findIndex((b) => b.along === 'height') < 0 ? 0 : axes.findIndex((b) => b.along === 'height')),
    );
    const values = new Float64Array(w * h);
    for (let j = 0; j < h; j++)
      for (let i = 0; i < w; i++) {
        const x = (i + 0.5) / FINE - 0.5;
        const line = (j + 0.5) / FINE - 0.5;
        const y = this.up() ? lines - 1 - line : line;
        values[j * w + i] = Math.min(4, Math.max(0, across === 1 ? meanOn(surface, x, y) : meanOn(surface, y, x)));
      }
    return { w, h, values };
  });
  protected readonly lines = computed(() => {
    const g = this.grid();
    if (!g) return [];
    const make = contours().size([g.w, g.h]).thresholds(STEPS);
    return make([...g.values]).map((c) => ({
      value: c.value,
      whole: Number.isInteger(c.value),
      path: c.coordinates
        .flat()
        .map(
          (ring) =>
            `M${ring.map(([x, y]) => `${((100 * x!) / g.w).toFixed(2)} ${((this.high() * y!) / g.h).toFixed(1)}`).join('L')}Z`,
        )
        .join(''),
    }));
  });
  protected readonly peak = computed(() => {
    const g = this.grid();
    if (!g) return undefined;
    let at = 0;
    for (let k = 1; k < g.values.length; k++) if (g.values[k]! > g.values[at]!) at = k;
    return {
      x: (100 * ((at % g.w) + 0.5)) / g.w,
      y: (this.high() * (Math.floor(at / g.w) + 0.5)) / g.h,
      words: g.values[at]!.toFixed(1),
    };
  });
}
