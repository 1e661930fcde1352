import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  effect,
  ElementRef,
  inject,
  input,
  type OnDestroy,
} from '@angular/core';
import type { EChartsType } from 'echarts/core';
import { Daylight } from './daylight';

/** A line over the height of the specimen, with a band around it where one is given: [x, mm] and [low, high, mm]. */
export interface RowLine {
  line: [number, number][];
  band?: [number, number, number][];
  step?: boolean;
  /** What was planned stands back behind what is. */
  planned?: boolean;
  main?: boolean;
}

/** A chart that shares its vertical axis, millimetres of the specimen, with the rows beside it. */
@Component({
  selector: 'st-row-chart',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: ``,
  styles: `
    :host {
      display: block;
      position: absolute;
      inset: 0;
    }
  `,
  host: { role: 'img', '[attr.aria-label]': 'label()' },
})
export class RowChart implements OnDestroy {
  /** Highest and lowest mm at the edges of the box. */
  readonly top = input.required<number>();
  readonly bottom = input.required<number>();
  readonly x = input.required<[number, number]>();
  readonly lines = input.required<readonly RowLine[]>();
  readonly label = input.required<string>();
  readonly unit = input('');

  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private readonly daylight = inject(Daylight);
  private chart: EChartsType | undefined;
  private readonly watcher = new ResizeObserver(() => this.chart?.resize());
  private gone = false;

  constructor() {
    afterNextRender(async () => {
      const { init } = await import('./chart-engine');
      if (this.gone) return;
      this.chart = init(this.host, null, { renderer: 'canvas' });
      this.watcher.observe(this.host);
      this.draw();
    });
    effect(() => {
      this.lines();
      this.top();
      this.bottom();
      this.x();
      this.daylight.night();
      this.draw();
    });
  }

  ngOnDestroy(): void {
    this.gone = true;
    this.watcher.disconnect();
    this.chart?.dispose();
  }

  private draw(): void {
    if (!this.chart) return;
    const style = getComputedStyle(document.documentElement);
    const ink = (name: string) => style.getPropertyValue(name).trim();
    const madder = ink('--madder');
    const [min, max] = this.x();
    const fontFamily = style.getPropertyValue('--figures');
    this.chart.setOption(
      {
        animation: false,
        textStyle: { fontFamily },
        grid: { left: 0, right: 0, top: 0, bottom: 0 },
        xAxis: { type: 'value', min, max, show: false },
        yAxis: { type: 'value', min: this.bottom(), max: this.top(), show: false },
        tooltip: {
          trigger: 'axis',
          axisPointer: { axis: 'y', type: 'line', lineStyle: { color: ink('--line-strong') } },
          backgroundColor: ink('--sheet'),
          borderColor: ink('--line-strong'),
          textStyle: { color: ink('--ink'), fontSize: 12, fontFamily },
          formatter: (at: unknown) => {
            const first = (at as { value?: [number, number] }[]).find((a) => Array.isArray(a.value));
            return first?.value ? `${first.value[0].toFixed(1)} ${this.unit()} at ${first.value[1].toFixed(1)} mm` : '';
          },
        },
        series: this.lines().flatMap((l) => [
          ...(l.band
            ? [
                {
                  type: 'custom',
                  silent: true,
                  tooltip: { show: false },
                  data: [0],
                  renderItem: (_: unknown, api: { coord(v: [number, number]): number[] }) => ({
                    type: 'polygon',
                    shape: {
                      points: [
                        ...l.band!.map((b) => api.coord([b[0], b[2]])),
                        ...l.band!.toReversed().map((b) => api.coord([b[1], b[2]])),
                      ],
                    },
                    style: { fill: madder, opacity: 0.14 },
                  }),
                },
              ]
            : []),
          {
            type: 'line',
            data: l.line,
            showSymbol: false,
            lineStyle: {
              color: l.band || l.main ? madder : ink(l.planned ? '--ink-soft' : '--ink'),
              width: l.band || l.main ? 2 : l.planned ? 4 : 1.2,
              opacity: l.planned ? 0.35 : 1,
            },
            step: l.step ? 'end' : false,
          },
        ]) as never,
      },
      true,
    );
  }
}
