import { ChangeDetectionStrategy, Component, computed, effect, inject, untracked } from '@angular/core';
import { duration, listed, sentence, show, type Progress } from '#core/base';
import { costBetween, type Price } from '#core/careful';
import { factorOf, levelWords } from '#core/factors';
import { hiddenBehind, mishaps, offFrom, ownTraits } from '#core/lab';
import { HAND, type PrintInHand } from '../work/print-in-hand';
import { TrialDesk } from './trial-desk';

/** Of what came off the practice printer: that it is no real print, and, once a value is settled, what was hidden behind it. */
@Component({
  selector: 'st-hidden-note',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (practised()) {
      @if (desk.settlement.tuned()) {
        @if (shown()) {
          @for (h of hidden(); track h.factor) {
            <p class="small" role="status">{{ h.words }}</p>
            @if (costs()[h.factor]; as c) {
              <p class="small" role="status">{{ c }}</p>
            }
          } @empty {
            <p class="small soft">No single figure is hidden behind this setting.</p>
          }
          @if (wrong(); as w) {
            <p class="small" role="status">{{ w }}</p>
          }
        } @else {
          <button type="button" class="act" (click)="shown.set(true)">Show what was hidden</button>
        }
      } @else {
        <p class="small soft">Read from the practice printer: it says nothing of your own machine.</p>
      }
    }
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
})
export class HiddenNote {
  protected readonly desk = inject(TrialDesk);
  protected readonly shown = this.desk.ofTrial(() => false);

  /** The newest practice print that was read. */
  protected readonly practised = computed(() => {
    const record = this.desk.record();
    const read = new Set(record?.readings.map((r) => r.print));
    return record?.prints.findLast((p) => p.practice && read.has(p.id));
  });

  protected readonly hidden = computed(() => {
    const [record, print, settings] = [this.desk.record(), this.practised(), this.desk.plan()?.settings];
    if (!record || !print || !settings) return [];
    const { context } = record.trial;
    const traits = ownTraits(context, print.on);
    const choices = this.desk.settlement.choices();
    const settled = choices.find((c) => c.factor === 'nozzle-temperature')?.choice;
    return choices.flatMap(({ factor: id, choice }) => {
      const factor = factorOf(id);
      const h = hiddenBehind(id, traits, context, settled ?? settings.nozzleTemperature);
      if (!h || !factor) return [];
      const say = (v: number) => `${show(v * factor.shown, /°C|%|mm³/.test(factor.unit) ? 1 : 3)} ${factor.unit}`;
      const best = h.best;
      const { off, near } = offFrom(h, choice);
      const truth =
        best !== undefined
          ? `best is ${say(best)}`
          : h.from! <= h.to!
            ? `good is ${say(h.from!)} to ${say(h.to!)}`
            : `nothing is quite good: it wants at least ${say(h.from!)} and at most ${say(h.to!)}, ${say(near!)} is as good as it gets`;
      const far = off === 0 ? 'you are within it' : `you are off by ${say(off).replace('-', '−')}`;
      return [
        { factor: id, choice, near, words: `${levelWords(factor, choice)}: ${listed([truth, far])}; ${h.words}.` },
      ];
    });
  });

  /** What went wrong with the print, where that was asked for and not told. */
  protected readonly wrong = computed(() => {
    const bed = this.practised()?.bed;
    const told = bed?.untold ? mishaps.filter((m) => bed.mishaps?.includes(m.id)).map((m) => m.told) : [];
    return told.length > 0 ? `What went wrong was not told: ${listed(told)}.` : '';
  });

  /** What each settled value costs against the best, in words; while it is worked out, how far that is. */
  protected readonly costs = this.desk.ofTrial<Readonly<Record<string, string>>>(() => ({}));
  private readonly taken = inject(HAND);
  private device: PrintInHand | undefined;

  constructor() {
    effect((stop) => {
      if (!this.shown()) return;
      const off = this.hidden().flatMap(({ factor, choice, near }) =>
        near === undefined ? [] : [{ factor, settled: choice, best: near }],
      );
      untracked(() => void this.priceAll(off));
      stop(() => this.device?.close());
    });
  }

  private takes({ factor, settled, best }: { factor: string; settled: number; best: number }) {
    const plan = this.desk.plan();
    return plan && costBetween(plan, this.desk.settlement.costs(), factor, [best, settled]);
  }

  private async priceAll(off: readonly { factor: string; settled: number; best: number }[]): Promise<void> {
    const [record, print] = [this.desk.record(), this.practised()];
    if (!record || !print || off.length === 0) return;
    const { trial } = record;
    const device = (this.device = this.taken());
    const say = (factor: string, words: string) => {
      if (this.device === device) this.costs.update((all) => ({ ...all, [factor]: words }));
    };
    for (const between of off) {
      const of = (p: Progress) => say(between.factor, `Printing your value and the best for comparison: ${p.stage} …`);
      const price = await device.price(trial, print.on, between, record.weights, of);
      say(
        between.factor,
        price.ok
          ? price.value
            ? priceWords(price.value, this.takes(between))
            : ''
          : price.faults.map(sentence).join(' '),
      );
    }
    device.close();
  }
}

/** From these on a difference is worth a word: answers, s, g. */
const FINDS = 0.05;
const NOTICES = { time: 30, mass: 0.05 };

/** What a value costs against the best, in quality, time and filament. */
function priceWords({ settled, best }: Price, takes: { time: number; mass: number } | undefined): string {
  const lost = best - settled;
  const { time = 0, mass = 0 } = takes ?? {};
  const more = (value: number, words: string) => `${words} ${value > 0 ? 'more' : 'less'}`;
  const parts = [
    ...(Math.abs(time) >= NOTICES.time ? [more(time, duration(Math.abs(time)))] : []),
    ...(Math.abs(mass) >= NOTICES.mass ? [more(mass, `${show(Math.abs(mass), 1)} g`)] : []),
  ];
  const quality =
    lost > FINDS
      ? `${show(lost, 1)} of 4 in quality`
      : lost < -FINDS
        ? 'no quality: by eye it is even better'
        : 'no quality that an eye finds';
  return `Printed beside the best, your value costs ${quality}${parts.length > 0 ? `; a piece like a cell here takes ${listed(parts)}` : ''}.`;
}
