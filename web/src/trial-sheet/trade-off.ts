import {
  afterNextRender,
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  ElementRef,
  inject,
  type OnDestroy,
} from '@angular/core';
import type { EChartsType } from 'echarts/core';
import { duration, show } from '#core/base';
import { gains, tradeOff } from '#core/settle';
import { valueWords } from '#core/route';
import { Daylight } from '../ui/daylight';
import { levelColor, levelShare } from '../ui/level-color';
import { TrialDesk } from './trial-desk';

/** Quality against time: what passes, what no other level beats, and what each further gain costs. */
@Component({
  selector: 'st-trade-off',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="chart" role="img" aria-label="Quality against time of each level" [hidden]="alike()"></div>
    <ul class="small">
      @for (g of words(); track g) {
        <li>{{ g }}</li>
      } @empty {
        <li class="soft">{{ none() }}</li>
      }
    </ul>
  `,
  styles: `
    :host {
      display: grid;
      gap: 2px;
    }
    .chart {
      height: 118px;
    }
    ul {
      margin: 0;
      padding-left: 15px;
      font-size: 12.5px;
    }
  `,
})
export class TradeOff implements OnDestroy {
  private readonly desk = inject(TrialDesk);
  private readonly daylight = inject(Daylight);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private chart: EChartsType | undefined;
  private gone = false;

  protected readonly trades = computed(() =>
    tradeOff(this.desk.settlement.settled()?.scores ?? [], this.desk.settlement.costs()),
  );
  private say(level: number): string {
    const factor = this.desk.factor();
    return factor ? valueWords({ factor: factor.id, value: level }) : String(level);
  }
  /** Where all levels cost the same, there is nothing to weigh. */
  protected readonly alike = computed(() => {
    const spread = (key: 'time' | 'mass') => {
      const all = this.trades().map((t) => t[key]);
      return (Math.max(...all) - Math.min(...all)) / Math.max(1e-9, Math.max(...all));
    };
    return this.trades().length < 2 || (spread('time') < 0.05 && spread('mass') < 0.05);
  });
  protected readonly words = computed(() => (this.alike() ? [] : gains(this.trades(), (l) => this.say(l))));
  protected readonly none = computed(() => {
    const all = this.trades();
    if (all.length === 0) return 'what each level costs shows once its file is made and cells are read';
    if (this.alike()) return 'all levels take about the same time and filament: nothing is to be traded';
    const least = all.filter((t) => t.pareto)[0];
    return least ? `${this.say(least.level)} has the best scores and takes least: nothing is to be traded` : '';
  });

  constructor() {
    afterNextRender(async () => {
      const { init } = await import('../ui/chart-engine');
      // Without a canvas the words below say the same.
      if (this.gone || !document.createElement('canvas').getContext('2d')) return;
      this.chart = init(this.host.querySelector<HTMLElement>('.chart')!, null, { renderer: 'canvas' });
      this.draw();
    });
    effect(() => {
      this.trades();
      this.daylight.night();
      // Only once it is shown does the chart have a size.
      setTimeout(() => this.draw());
    });
  }

  ngOnDestroy(): void {
    this.gone = true;
    this.chart?.dispose();
  }

  private draw(): void {
    if (!this.chart || this.gone || this.alike()) return;
    this.chart.resize();
    const style = getComputedStyle(this.host);
    const token = (name: string) => style.getPropertyValue(name).trim();
    const [ink, faint, well] = [token('--ink-soft'), token('--line-strong'), token('--sheet')];
    const levels = this.trades().map((t) => t.level);
    const text = { color: ink, fontSize: 12, fontFamily: style.fontFamily };
    const front = this.trades()
      .filter((t) => t.pareto)
      .sort((a, b) => a.time - b.time);
    this.chart.setOption(
      {
        animation: false,
        grid: { left: 34, right: 46, top: 10, bottom: 20 },
        xAxis: {
          type: 'value',
          scale: true,
          name: 'min',
          nameTextStyle: text,
          axisLabel: text,
          splitNumber: 4,
          axisLine: { lineStyle: { color: faint } },
          splitLine: { show: false },
        },
        yAxis: {
          type: 'value',
          min: 0,
          max: 4,
          interval: 1,
          axisLabel: text,
          splitLine: { lineStyle: { color: faint, opacity: 0.4 } },
        },
        series: [
          {
            type: 'line',
            data: front.map((t) => [t.time / 60, t.quality]),
            symbol: 'none',
            silent: true,
            lineStyle: { color: ink, width: 1, type: 'dashed' },
          },
          {
            type: 'scatter',
            data: this.trades().map((t) => ({
              value: [t.time / 60, t.quality],
              symbol: 'circle',
              symbolSize: t.pareto ? 10 : 7,
              itemStyle: {
                color: t.passes ? levelColor(levelShare(t.level, levels)) : well,
                borderColor: levelColor(levelShare(t.level, levels)),
                borderWidth: 2,
              },
              label: {
                show: t.pareto,
                position: 'right',
                formatter: this.say(t.level),
                ...text,
              },
              name: `${this.say(t.level)}: ${show(t.quality, 1)} in ${duration(t.time)}`,
            })),
            labelLayout: { hideOverlap: true },
          },
        ],
      },
      true,
    );
  }
}
