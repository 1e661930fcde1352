import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { show } from '#core/base';
import { RowChart, type RowLine } from '../../ui/row-chart';
import { SheetFrame } from '../sheet-frame';
import { TrialDesk } from '../trial-desk';

/** Room to either side of the temperatures, °C. */
const ROOM = 4;

/** While it prints: what the nozzle showed over the height, drawn over what it was to have. */
@Component({
  selector: 'st-heat-track',
  imports: [RowChart],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <st-row-chart
      [top]="frame.chartTop()"
      [bottom]="frame.chartBottom()"
      [x]="range()"
      [lines]="lines()"
      [label]="words()"
      unit="°C"
    />
  `,
  styleUrl: './track.css',
})
export class HeatTrack {
  protected readonly frame = inject(SheetFrame);
  private readonly desk = inject(TrialDesk);
  private readonly heat = computed(() => this.desk.running()?.heat ?? []);
  protected readonly range = computed<[number, number]>(() => {
    const all = this.heat().flatMap((h) => [h.shown, h.target]);
    return [Math.min(...all) - ROOM, Math.max(...all) + ROOM];
  });
  protected readonly lines = computed<RowLine[]>(() => [
    { line: this.heat().map((h) => [h.target, h.z]), step: true, planned: true },
    { line: this.heat().map((h) => [h.shown, h.z]), main: true },
  ]);
  protected readonly words = computed(() => {
    const last = this.heat().at(-1);
    return last
      ? `What the nozzle showed over the height: ${show(last.shown, 0)} °C of ${show(last.target, 0)} at ${show(last.z, 1)} mm`
      : '';
  });
}
