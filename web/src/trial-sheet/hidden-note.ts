import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { listed, show } from '#core/base';
import { factorOf, levelWords } from '#core/factors';
import { hiddenBehind, ownTraits } from '#core/lab';
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
          } @empty {
            <p class="small soft">No single figure is hidden behind this setting.</p>
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
      const off =
        best !== undefined ? choice - best : choice < h.from! ? choice - h.from! : Math.max(0, choice - h.to!);
      const truth =
        best !== undefined
          ? `best is ${say(best)}`
          : h.from! <= h.to!
            ? `good is ${say(h.from!)} to ${say(h.to!)}`
            : `nothing is quite good: it wants at least ${say(h.from!)} and at most ${say(h.to!)}`;
      const far = off === 0 ? 'you are within it' : `you are off by ${say(off).replace('-', '−')}`;
      return [{ factor: id, words: `${levelWords(factor, choice)}: ${listed([truth, far])}; ${h.words}.` }];
    });
  });
}
