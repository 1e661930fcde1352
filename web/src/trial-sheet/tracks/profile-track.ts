import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RowChart, type RowLine } from '../../ui/row-chart';
import { SheetFrame } from '../sheet-frame';
import { TrialDesk } from '../trial-desk';

/** The time of each layer over the height. */
@Component({
  selector: 'st-profile-track',
  imports: [RowChart],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (profile().length) {
      <st-row-chart
        [top]="frame.chartTop()"
        [bottom]="frame.chartBottom()"
        [x]="[0, longest()]"
        [lines]="profile()"
        label="Time of each layer over the height"
        unit="s"
      />
      @if (threshold(); as t) {
        <span class="threshold" [class.leftward]="t > 0.5 * longest()" [style.left.%]="(100 * t) / longest()"
          ><span>{{ t }} s at least</span></span
        >
      }
    }
  `,
  styleUrl: './track.css',
  styles: `
    .threshold {
      position: absolute;
      top: 0;
      bottom: 0;
      border-left: 1px dashed var(--line-strong);
      pointer-events: none;
    }
    .threshold span {
      position: absolute;
      bottom: 4px;
      left: 2px;
      padding: 0 3px;
      /* The first layer is the longest: its line runs behind these words. */
      background: var(--sheet);
      font-size: 12px;
      color: var(--ink-soft);
      white-space: nowrap;
    }
    .threshold.leftward span {
      left: auto;
      right: 2px;
    }
  `,
})
export class ProfileTrack {
  protected readonly desk = inject(TrialDesk);
  protected readonly frame = inject(SheetFrame);
  protected readonly profile = computed<RowLine[]>(() => {
    const layers = this.desk.inspection()?.layers ?? [];
    // Beside a drawing from above the layers take the whole height, whatever it measures.
    const scale = this.frame.top() / (this.desk.plan()?.built.height || 1);
    return layers.length > 0 ? [{ line: layers.map((l) => [Math.min(l.time, this.longest()), l.z * scale]) }] : [];
  });
  protected readonly longest = computed(() => {
    const times = (this.desk.inspection()?.layers ?? []).map((l) => l.time).sort((a, b) => a - b);
    return Math.max(10, (times[Math.floor(times.length * 0.97)] ?? 10) * 1.25);
  });
  protected readonly threshold = computed(() => this.desk.plan()?.settings.minimumLayerTime);
}
