import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { levelWords } from '#core/factors';
import { levelColor } from '../ui/level-color';
import { SheetFrame } from './sheet-frame';
import { ticks, type Row } from './sheet-model';
import { TrialDesk } from './trial-desk';

const WIDTH = 188;
const SCALE = 44;
/** Room for the number of a print, px. */
const NAME = 64;

/**
 * The specimen from the side beside a millimetre scale. Heights are to scale with the rows; widths are drawn narrower.
 * Prints of their own are drawn apart, each in its row and at one scale both ways.
 */
@Component({
  selector: 'st-specimen-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (desk.plan(); as plan) {
      <svg
        [attr.width]="width + scale"
        [attr.height]="height()"
        role="img"
        [attr.aria-label]="plan.trial.title + (above() ? ', from above' : ', from the side')"
        [class.pointing]="pointing()"
        (pointerdown)="point($event)"
      >
        @for (print of drawn(); track $index) {
          <g [attr.transform]="print.transform">
            @for (s of print.shapes; track $index) {
              <path
                [attr.d]="s.path"
                [class]="s.part"
                [class.lit]="
                  desk.cursor.pointed() === s.cell ||
                  desk.climbs()?.cell === s.cell ||
                  (reads() && desk.cursor.spot().cell === s.cell)
                "
                [style.stroke]="s.part === 'level' ? s.color : null"
                [style.fill]="s.part === 'level' ? s.color : null"
                [attr.fill-rule]="'evenodd'"
                vector-effect="non-scaling-stroke"
                (pointerenter)="desk.cursor.pointed.set(s.cell >= 0 ? s.cell : undefined)"
                (pointerleave)="desk.cursor.pointed.set(undefined)"
              />
            }
          </g>
        }
        @for (n of numbers(); track n.cell) {
          <text class="numeral" [attr.x]="n.x" [attr.y]="n.y" text-anchor="middle">{{ n.text }}</text>
        }
        @if (climbing(); as up) {
          <path class="climb" [attr.d]="'M0 ' + y(up.z) + 'H' + (width + scale - 6)" />
          <text class="reached" [attr.x]="width + scale - 8" [attr.y]="y(up.z) - 4" text-anchor="end">
            {{ up.words }}
          </text>
        }
        @if (jaws(); as j) {
          <path class="jaws" [attr.d]="'M' + (j.x - 7) + ' ' + j.y + 'h14M' + j.x + ' ' + (j.y - 7) + 'v14'" />
          <text class="reached" [attr.x]="j.x" [attr.y]="j.y - 10" text-anchor="middle">{{ j.words }}</text>
        }
        @if (scaled()) {
          <path class="rule" [attr.d]="'M' + (width + scale - 10) + ' ' + y(top()) + 'V' + y(0)" />
        }
        @for (t of marks(); track t.mm) {
          <path class="rule" [attr.d]="'M' + (width + scale - 10) + ' ' + y(t.mm) + 'h' + (t.long ? -9 : -5)" />
          @if (t.label) {
            <text class="mm" [attr.x]="width + scale - 23" [attr.y]="y(t.mm) + 4" text-anchor="end">{{ t.mm }}</text>
          }
        }
      </svg>
    }
  `,
  styleUrl: '../ui/specimen-parts.css',
  styles: `
    :host {
      display: block;
    }
    svg {
      display: block;
    }
    .numeral {
      font: 600 12px var(--figures);
      fill: var(--ink);
      pointer-events: none;
      /* Lines end before a number. */
      paint-order: stroke;
      stroke: var(--sheet);
      stroke-width: 3px;
    }
    .body.lit,
    .ledge.lit,
    .bridge.lit,
    .mast.lit,
    .spike.lit {
      fill: var(--madder-soft);
    }
    .air.lit {
      fill: var(--cell);
    }
    .line.lit {
      stroke: var(--madder);
      stroke-width: 2;
    }
    svg.pointing {
      cursor: crosshair;
    }
    .jaws {
      fill: none;
      stroke: var(--madder);
      stroke-width: 2;
    }
    .climb {
      fill: none;
      stroke: var(--madder);
      stroke-width: 2;
    }
    .reached {
      font: 640 12px var(--figures);
      fill: var(--madder);
      paint-order: stroke;
      stroke: var(--sheet);
      stroke-width: 3px;
    }
    .rule {
      fill: none;
      stroke: var(--ink);
      stroke-width: 1;
    }
    .mm {
      font: 12px var(--figures);
      fill: var(--ink-soft);
    }
  `,
})
export class SpecimenDrawing {
  readonly height = input.required<number>();
  /** Pixels above the highest point and below the bed. */
  readonly margin = input.required<[number, number]>();
  readonly top = input.required<number>();
  protected readonly desk = inject(TrialDesk);
  protected readonly width = WIDTH;
  protected readonly scale = SCALE;
  protected readonly reads = computed(() => this.desk.stage() === 'read');

  private readonly frame = inject(SheetFrame);
  /** Cells beside one another are drawn from above, at one scale both ways. */
  protected readonly above = computed(() => this.desk.plan()?.built.drawing.view === 'above');
  protected readonly scaled = this.frame.scaled;

  private readonly perMm = computed(() => (this.height() - this.margin()[0] - this.margin()[1]) / this.top());
  private readonly perMmX = computed(() => {
    const x = this.desk.plan()?.built.drawing.x ?? [0, 1];
    return (WIDTH - 6) / (x[1] - x[0]);
  });

  private readonly transform = computed(() => {
    const x = this.desk.plan()?.built.drawing.x ?? [0, 1];
    if (this.above()) {
      const { k, left, low } = this.plate();
      return `translate(${left} ${low}) scale(${k} ${-k})`;
    }
    return `translate(${3 - x[0] * this.perMmX()} ${this.y(0)}) scale(${this.perMmX()} ${-this.perMm()})`;
  });

  /** Pixels a millimetre, and where the origin of a drawing from above lies. */
  private readonly plate = computed(() => {
    const { x, y } = this.desk.plan()?.built.drawing ?? { x: [0, 1], y: [0, 1] };
    const high = this.height() - this.margin()[0] - this.margin()[1];
    const k = Math.min((WIDTH + SCALE - 24) / (x[1]! - x[0]!), high / (y[1]! - y[0]!));
    return { k, left: 8 - x[0]! * k, low: this.margin()[0] + 6 + y[1]! * k };
  });

  private readonly shapes = computed(() => {
    const share = new Map(this.desk.rows().map((r) => [r.cell, r.share]));
    return (this.desk.plan()?.built.drawing.shapes ?? []).map((s) => ({
      ...s,
      color: levelColor(share.get(s.cell) ?? 0.5),
    }));
  });

  /** All that is drawn: once, or once a print. */
  protected readonly drawn = computed(() => {
    if (!this.frame.apart()) return [{ transform: this.transform(), shapes: this.shapes() }];
    const { x, y } = this.desk.plan()!.built.drawing;
    return this.frame.firstOfRows().map((row) => {
      const [top, bottom] = [this.frame.y(row.top), this.frame.y(row.bottom)];
      const k = Math.min((WIDTH - NAME - 8) / (x[1] - x[0]), (bottom - top - 8) / (y[1] - y[0]));
      const left = NAME + (WIDTH - NAME) / 2 - ((x[0] + x[1]) / 2) * k;
      const low = (top + bottom) / 2 + ((y[0] + y[1]) / 2) * k;
      const twins = this.twins(row);
      const color = levelColor(row.share);
      return {
        transform: `translate(${left} ${low}) scale(${k} ${-k})`,
        shapes: this.shapes().map((s) => ({ ...s, cell: twins.get(s.cell) ?? s.cell, color })),
      };
    });
  });

  /** The cells of the first print, and which they are in the print of a row. */
  private twins(row: Row): Map<number, number> {
    const rows = this.desk.rows();
    const first = rows.filter((r) => r.at[0] === 0);
    return new Map(
      first.flatMap((f) => {
        const twin = rows.find((r) => r.at[0] === row.at[0] && r.at[1] === f.at[1]);
        return twin ? [[f.cell, twin.cell] as const] : [];
      }),
    );
  }

  /** Whether a click holds a caliper there. */
  protected readonly pointing = computed(() => this.reads() && this.desk.hand.held() && this.desk.hand.pointing());

  /** Where the jaws closed last, px. */
  protected readonly jaws = computed(() => {
    const at = this.reads() && this.desk.hand.held() ? this.desk.hand.pointedAt() : undefined;
    if (!at || this.frame.apart()) return undefined;
    const { words } = at;
    if (this.above()) {
      const { k, left, low } = this.plate();
      return { x: left + at.u * k, y: low - at.v * k, words };
    }
    const x0 = this.desk.plan()!.built.drawing.x[0];
    return { x: 3 + (at.u - x0) * this.perMmX(), y: this.y(at.v), words };
  });

  /** Where the drawing was clicked, in its millimetres; of prints apart in the one that was clicked. */
  protected point(event: PointerEvent): void {
    if (!this.pointing()) return;
    const svg = event.currentTarget as SVGSVGElement;
    const { x, y } = this.desk.plan()!.built.drawing;
    for (const g of Array.from(svg.querySelectorAll<SVGGElement>(':scope > g'))) {
      const by = g.getScreenCTM()?.inverse();
      if (!by) continue;
      const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(by);
      if (at.x < x[0] - 1 || at.x > x[1] + 1 || at.y < y[0] - 1 || at.y > y[1] + 1) continue;
      void this.desk.hand.caliperAt(at.x, at.y);
      return;
    }
  }

  /** The values on the broad pier, written upright: the drawing is squeezed, figures must not be. */
  protected readonly numbers = computed(() => {
    const plan = this.desk.plan();
    if (!plan) return [];
    if (this.frame.apart())
      return this.frame.firstOfRows().map((r) => ({
        cell: r.cell,
        x: NAME / 2,
        y: (this.frame.y(r.top) + this.frame.y(r.bottom)) / 2 + 4,
        text: `print ${r.at[0] + 1}`,
      }));
    if (this.above()) {
      const { k, left, low } = this.plate();
      const placed = plan.built.drawing.labels;
      if (placed)
        return placed.flatMap((l) => {
          const row = this.desk.rows().find((r) => r.cell === l.cell);
          return row ? [{ cell: l.cell, x: left + l.x * k, y: low - l.y * k + 4, text: String(row.number) }] : [];
        });
      return plan.built.places.flatMap((p) => {
        const ring = p.area[0]?.outer ?? [];
        const row = this.desk.rows().find((r) => r.cell === p.cell);
        if (!row || ring.length === 0) return [];
        const middle = (pick: (q: { x: number; y: number }) => number) =>
          (Math.min(...ring.map(pick)) + Math.max(...ring.map(pick))) / 2;
        return [
          {
            cell: p.cell,
            x: left + middle((q) => q.x) * k,
            y: low - middle((q) => q.y) * k + 4,
            text: String(row.number),
          },
        ];
      });
    }
    const placed = plan.built.drawing.labels;
    if (placed)
      return placed.flatMap((l) => {
        const row = this.desk.rows().find((r) => r.cell === l.cell);
        const factor = this.desk.factor();
        if (!row || !factor) return [];
        // Read blind, a piece has its letter on the drawing too.
        const text = this.desk.blind() ? row.words : levelWords({ ...factor, unit: '' }, row.level);
        return [{ cell: l.cell, x: 3 + (l.x - plan.built.drawing.x[0]) * this.perMmX(), y: this.y(l.y) + 4, text }];
      });
    const bodies = plan.built.drawing.shapes.filter((s) => s.part === 'level');
    return this.desk.rows().flatMap((r) => {
      const right = /^M(-?[\d.]+)/.exec(bodies.find((b) => b.cell === r.cell)?.path ?? '');
      if (!right) return [];
      const x = 3 + (Number(right[1]) - 6.6 - plan.built.drawing.x[0]) * this.perMmX();
      return [
        {
          cell: r.cell,
          x,
          y: this.y((r.bottom + r.top) / 2) + 4,
          text: r.words,
        },
      ];
    });
  });

  /** While it prints, the height reached, where heights are to scale. */
  protected readonly climbing = computed(() => {
    const up = this.desk.climbs();
    return up && this.scaled() ? { z: Math.min(up.z, this.top()), words: `${up.z.toFixed(1)} mm` } : undefined;
  });

  protected readonly marks = computed(() => (this.scaled() ? ticks(this.top()) : []));

  protected y(mm: number): number {
    return this.height() - this.margin()[1] - mm * this.perMm();
  }
}
