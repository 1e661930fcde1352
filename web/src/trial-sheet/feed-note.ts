import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { firmwareLines } from '#core/route';
import { Keeper } from '../data/keeper';
import { TrialDesk } from './trial-desk';

/** What a feed check finds, by where the printer keeps it. */
const feedKeys: Partial<Record<string, 'stepsPerMm' | 'rotationDistance'>> = {
  'extruder-steps': 'stepsPerMm',
  'rotation-distance': 'rotationDistance',
};

/** What a settled feed check asks of the printer, and that it was done. */
@Component({
  selector: 'st-feed-note',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (feed(); as f) {
      <p class="small">
        {{ f.words }} <code>{{ f.line }}</code>
      </p>
      @if (f.noted) {
        <p class="small soft">The printer on the shelf has it.</p>
      } @else {
        <button type="button" class="act" (click)="noteFeed()">It is done: note it with the printer</button>
      }
    }
  `,
})
export class FeedNote {
  protected readonly desk = inject(TrialDesk);
  private readonly keeper = inject(Keeper);
  /** What a settled feed check asks of the printer: the line to send, and whether the shelf has it by now. */
  protected readonly feed = computed(() => {
    const tuned = this.desk.settlement.tuned();
    const printer = this.keeper.find('printers', this.keeper.find('pairs', this.desk.record()?.pair)?.printer);
    const key = tuned && feedKeys[tuned.factor];
    if (!tuned || !printer || !key) return undefined;
    const [line] = firmwareLines([tuned], printer.firmware);
    return {
      words: printer.firmware === 'klipper' ? 'Write into the configuration:' : 'Send it, and store it with M500:',
      line: line?.replace(/^; /, '') ?? '',
      noted: Math.abs((printer.extruder[key] ?? NaN) - tuned.value) < 1e-6,
    };
  });

  /** The value has been put into the firmware: the printer on the shelf has it too. */
  protected noteFeed(): void {
    const tuned = this.desk.settlement.tuned();
    const printer = this.keeper.find('printers', this.keeper.find('pairs', this.desk.record()?.pair)?.printer);
    const key = tuned && feedKeys[tuned.factor];
    if (!tuned || !printer || !key) return;
    this.keeper.save('printers', { ...printer, extruder: { ...printer.extruder, [key]: tuned.value } });
  }
}
