import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { show } from '#core/base';
import { RowChart, type RowLine } from '../../ui/row-chart';
import { heightOfLevel } from '../sheet-model';
import { SheetFrame } from '../sheet-frame';
import { TrialDesk } from '../trial-desk';

/** All judged qualities together: a curve with its uncertainty, or of names a score each. */
@Component({
  selector: 'st-together-track',
  imports: [RowChart],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (lines().length) {
      <st-row-chart
        [top]="frame.chartTop()"
        [bottom]="frame.chartBottom()"
        [x]="[0, 4.2]"
        [lines]="lines()"
        label="Combined score over the height, with its uncertainty"
        unit="of 4"
      />
    } @else if (waits()) {
      <p class="waits">{{ waits() }}</p>
    } @else {
      <!-- Names have no curve between them: each stands by itself. -->
      @for (n of named(); track n.row.cell) {
        <div
          class="cell"
          [class.lit]="desk.cursor.pointed() === n.row.cell"
          [style.top.px]="frame.y(n.row.top)"
          [style.height.px]="frame.y(n.row.bottom) - frame.y(n.row.top)"
          [attr.aria-label]="n.row.label + ', together: ' + n.score"
          role="img"
        >
          <span class="dot" [class.chosen]="n.chosen" [style.left.%]="frame.at(+n.score)"></span>
          <span class="beside-dot figures" [style.left.%]="frame.at(+n.score)">{{ n.score }}</span>
        </div>
      }
    }
  `,
  styleUrl: './track.css',
  styles: `
    .cell > .dot {
      position: absolute;
      translate: -50% 0;
      background: var(--ink-soft);
    }
    .cell > .dot.chosen {
      background: var(--madder);
    }
    .cell > .beside-dot {
      position: absolute;
      translate: -50% 14px;
      font-size: 12.5px;
    }
    .waits {
      padding: 10px;
      font-size: 12.5px;
      color: var(--ink-soft);
    }
  `,
})
export class TogetherTrack {
  protected readonly desk = inject(TrialDesk);
  protected readonly frame = inject(SheetFrame);
  protected readonly lines = computed<RowLine[]>(() => {
    const response = this.desk.settlement.settled()?.response;
    if (!response) return [];
    const points = response.level.flatMap((level, i) => {
      const mm = heightOfLevel(this.frame.rows(), level);
      return mm === undefined ? [] : [{ mm, mean: response.mean[i]!, low: response.low[i]!, high: response.high[i]! }];
    });
    return [
      {
        line: points.map((p) => [p.mean, p.mm]),
        band: points.map((p) => [Math.max(0, p.low), Math.min(4.2, p.high), p.mm]),
      },
    ];
  });

  /** The combined score of each name, and which is chosen. */
  protected readonly named = computed(() => {
    const settled = this.desk.settlement.settled();
    const choice = settled?.choices[0]?.choice;
    return (settled?.scores ?? []).flatMap((s) => {
      const row = this.frame.rows().find((r) => r.cell === s.cell);
      return row && s.together !== undefined
        ? [{ row, score: show(s.together, 1), chosen: !this.desk.blind() && s.level === choice }]
        : [];
    });
  });

  protected readonly waits = computed(
    () => this.desk.settlement.settled()?.flags.find((f) => f.code === 'unread')?.message ?? '',
  );
}
