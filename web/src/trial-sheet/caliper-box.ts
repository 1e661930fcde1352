import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { InputText } from 'primeng/inputtext';
import { arithmetic, show, sentence } from '#core/base';
import type { Reading } from '#core/judge';
import { heightsOf, heightTracks, type HeightTrack } from '#core/settle';
import { calculate, calculatorOf } from '#core/sums';
import { TrialDesk } from './trial-desk';

/** A caliper height, or the two ends of a good stretch, turned into the value that was in force there. */
@Component({
  selector: 'st-caliper-box',
  imports: [FormsModule, InputText],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <section class="caliper" aria-label="Caliper">
      <label for="caliper">caliper height, from the bed side</label>
      <div class="box">
        <input
          pInputText
          id="caliper"
          class="figures"
          [ngModel]="height()"
          (ngModelChange)="measure($event)"
          placeholder="26.5, or 21 to 26 mm"
          autocomplete="off"
          aria-describedby="caliper-said"
          [attr.aria-invalid]="said().wrong"
        />
        <b class="figures" aria-live="polite">{{ said().value }}</b>
      </div>
      <p class="small" id="caliper-said" [class.wrong]="said().wrong">{{ said().words }}</p>
      @if (keeps().length > 0) {
        <div class="keep" role="group" aria-label="What is it there?">
          @for (k of keeps(); track k.words) {
            <button type="button" class="act small" (click)="keep(k.readings)">{{ k.words }}</button>
          }
        </div>
      }
      @for (k of kept(); track $index) {
        <p class="small kept">
          {{ k.words }} <b class="figures">{{ k.mm }} mm</b>
          <button type="button" class="act small" [attr.aria-label]="'Take back ' + k.words" (click)="takeBack(k)">
            ✕
          </button>
        </p>
      }
    </section>
  `,
  styles: `
    section {
      display: grid;
      gap: 7px;
      align-content: start;
    }
    label {
      font-size: 12.5px;
      color: var(--ink-soft);
    }
    .keep {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
    }
    .kept {
      display: flex;
      gap: 8px;
      align-items: center;
    }
    .box {
      display: grid;
      grid-template-columns: minmax(0, 1fr) auto;
      gap: 10px;
      width: 190px;
      align-items: center;
    }
  `,
})
export class CaliperBox {
  private readonly desk = inject(TrialDesk);
  protected readonly height = signal('');

  /** The heights typed, mm: one, or the ends of a stretch. */
  private readonly typed = computed<{ heights?: number[]; wrong: string }>(() => {
    const parts = this.height().split(/\s*(?:–|…|\bto\b)\s*/);
    if (parts.length > 2) return { wrong: 'give one height, or two with “to” between them' };
    const heights: number[] = [];
    for (const part of parts) {
      const parsed = arithmetic(part, 'mm', 'height');
      if (!parsed.ok) return { wrong: parsed.faults[0]!.wrong };
      heights.push(parsed.value);
    }
    return { heights, wrong: '' };
  });

  protected readonly said = computed<{ value: string; words: string; wrong: boolean }>(() => {
    if (this.height().trim() === '') return { value: '', words: 'the row lights', wrong: false };
    const { heights, wrong } = this.typed();
    const refused = (words: string) => ({ value: '', words, wrong: true });
    if (!heights) return refused(wrong);
    const factor = this.desk.factor();
    // One row of a map tells the heights of all its columns.
    const rows = this.desk.rows().filter((r) => r.at[1] === 0);
    if (!factor || rows.length === 0) return { value: '', words: '', wrong: false };
    const axis = this.desk.record()?.trial.axes.find((a) => a.factor === factor.id);
    const result = calculate(calculatorOf('height')!, {
      reading: heights[0],
      ...(heights.length > 1 && { to: heights[1] }),
      edges: [rows[0]!.bottom, ...rows.map((r) => r.top)],
      levels: rows.map((r) => r.level),
      ramp: axis?.kind === 'ramp',
    });
    if (!result.ok) return refused(result.faults.map(sentence).join(' '));
    const { value, low, high, plusMinus, values, band } = result.value as Told;
    const say = (v: number) => show(v * factor.shown);
    const off = `± ${show((plusMinus ?? 0) * factor.shown, 2)} ${factor.unit}`.trim();
    const answer = (figure: string, words: string) => ({
      value: `= ${figure} ${factor.unit}`.trim(),
      words,
      wrong: false,
    });
    if (low !== undefined) return answer(say(value), `${off}: from ${say(low)} to ${say(high!)}`);
    if (!values) return answer(say(value), `${off} from 0.2 mm of reading`);
    return values.length > 1
      ? answer(values.map(say).join(' or '), 'on a border between bands, within 0.2 mm')
      : answer(say(value), `band ${band! + 1}`);
  });

  /** What can be said of the heights typed; each is kept as a reading, and decides. */
  protected readonly keeps = computed((): { words: string; readings: [HeightTrack, number][] }[] => {
    const plan = this.desk.plan();
    const { heights } = this.typed();
    // A map has no single value at a height.
    if (this.height().trim() === '' || this.said().wrong || !heights || !plan || !heightsOf(plan)) return [];
    const [from, to] = heights as [number, number?];
    if (to !== undefined)
      return [
        {
          words: 'Good between them',
          readings: [
            ['height-good-from', from],
            ['height-good-to', to],
          ],
        },
      ];
    return [
      { words: 'Best here', readings: [['height-best', from]] },
      { words: 'Fails from here', readings: [['height-fails', from]] },
    ];
  });
  /** Heights that are kept, the newest last. */
  protected readonly kept = computed(() =>
    (this.desk.record()?.readings ?? []).flatMap((r) =>
      r.track in heightTracks && typeof r.value === 'number' && r.excluded === undefined
        ? [{ reading: r, words: heightTracks[r.track as HeightTrack], mm: show(r.value, 2) }]
        : [],
    ),
  );

  protected keep(readings: readonly [HeightTrack, number][]): void {
    this.desk.bench.keepHeights(readings, (mm) => this.desk.rows().find((r) => mm < r.top)?.cell);
    this.height.set('');
  }

  protected takeBack({ reading }: { reading: Reading }): void {
    this.desk.change('take back a height', (r) => ({ ...r, readings: r.readings.filter((q) => q !== reading) }));
  }

  protected measure(text: string): void {
    this.height.set(text);
    const height = this.typed().heights?.[0];
    if (height === undefined) return;
    const row = this.desk.rows().find((r) => height >= r.bottom && height < r.top);
    this.desk.cursor.pointed.set(row?.cell);
  }
}

interface Told {
  value: number;
  low?: number;
  high?: number;
  plusMinus?: number;
  values?: number[];
  band?: number;
}
