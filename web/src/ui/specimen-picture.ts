import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { factorOf } from '#core/factors';
import { planned, type Trial } from '#core/trial';
import { levelColor, levelShare } from './level-color';

/** A small drawing of what a trial prints, each piece in the colour of its level. */
@Component({
  selector: 'st-specimen-picture',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (picture(); as p) {
      <svg
        [attr.width]="width()"
        [attr.height]="height()"
        [attr.viewBox]="p.box"
        preserveAspectRatio="xMidYMid meet"
        aria-hidden="true"
      >
        <g transform="scale(1 -1)">
          @for (s of p.shapes; track $index) {
            <path
              [class]="s.part"
              [attr.d]="s.path"
              [style.fill]="s.color"
              fill-rule="evenodd"
              vector-effect="non-scaling-stroke"
            />
          }
        </g>
      </svg>
    }
  `,
  styleUrl: './specimen-parts.css',
  styles: `
    :host,
    svg {
      display: block;
    }
    path {
      stroke-width: 0.6;
    }
  `,
})
export class SpecimenPicture {
  readonly trial = input.required<Trial>();
  readonly width = input(112);
  readonly height = input(72);

  protected readonly picture = computed(() => {
    const plan = planned(this.trial());
    if (!plan.ok) return undefined;
    const { built, cells, trial } = plan.value;
    const { drawing } = built;
    const axis = trial.axes[0];
    const named = factorOf(axis?.factor ?? '')?.choices !== undefined;
    const shareOf = new Map(
      cells.map((c) => [c.id, axis ? levelShare(c.levels[axis.factor] ?? 0, axis.levels, named) : 0.5] as const),
    );
    const shapes = drawing.shapes.map((s) => {
      const share = axis && s.cell >= 0 ? shareOf.get(s.cell) : undefined;
      const filled = share !== undefined && !['air', 'line', 'edge', 'base'].includes(s.part);
      return {
        ...s,
        color: filled ? `color-mix(in oklab, ${levelColor(share)} 55%, var(--sheet))` : null,
      };
    });
    const [x0, x1] = drawing.x;
    const [y0, y1] = drawing.y;
    const margin = 0.03 * Math.max(x1 - x0, y1 - y0);
    return {
      shapes,
      box: `${x0 - margin} ${-y1 - margin} ${x1 - x0 + 2 * margin} ${y1 - y0 + 2 * margin}`,
    };
  });
}
