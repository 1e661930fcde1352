import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { answersFor, inOrderOf, pairingOf } from '#core/route';
import { placeWords } from '../trial-sheet/sheet-model';
import { PhoneBox } from './phone-box';
import { PhoneSheet } from './phone-sheet';

/** Which of two pieces is better, until the order is known. */
@Component({
  selector: 'st-phone-pairs',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (asked(); as pair) {
      <p class="look">
        Which is better on {{ sheet.track()?.label }}? {{ sheet.track()?.look }} {{ answered() }} answered.
      </p>
      <div class="pair">
        <button type="button" (click)="prefer('a')">
          <b>{{ name(pair[0]) }}</b> {{ placeOf(pair[0]) }}
        </button>
        <button type="button" (click)="prefer('b')">
          <b>{{ name(pair[1]) }}</b> {{ placeOf(pair[1]) }}
        </button>
        <button type="button" class="tie" (click)="prefer('tie')">no difference</button>
      </div>
    } @else {
      <p role="status">
        The order on {{ sheet.track()?.label }} is known, by {{ answered() }} answers; the desk shows it.
      </p>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: 10px;
    }
    .look {
      font-style: italic;
      font-size: 14px;
    }
    .pair {
      display: grid;
      grid-template-columns: 1fr 1fr;
      gap: 8px;
    }
    .pair button {
      min-height: 84px;
      border: 1px solid var(--line-strong);
      border-radius: 6px;
      background: var(--well);
      color: inherit;
      font: inherit;
      font-size: 14px;
    }
    .pair b {
      display: block;
      font-size: 20px;
    }
    .pair .tie {
      grid-column: 1 / -1;
      min-height: 48px;
    }
  `,
})
export class PhonePairs {
  protected readonly sheet = inject(PhoneSheet);
  private readonly box = inject(PhoneBox);
  private readonly pairing = computed(() => {
    const plan = this.sheet.plan();
    const track = this.sheet.track()?.id;
    return plan && track !== undefined && this.sheet.way() === 'pairs'
      ? pairingOf(plan, this.sheet.record()?.pairs, track, this.sheet.judge())
      : undefined;
  });
  protected readonly answered = computed(() => this.pairing()?.answers.length ?? 0);
  protected readonly asked = computed(() => {
    const pairing = this.pairing();
    return pairing && pairing.answers.length < answersFor(pairing) ? pairing.next() : undefined;
  });

  private cellAt(place: number): number {
    const plan = this.sheet.plan();
    return (plan ? inOrderOf(plan) : [])[place]?.id ?? -1;
  }

  protected name(place: number): string {
    return this.sheet.rows().find((r) => r.cell === this.cellAt(place))?.label ?? '';
  }

  protected placeOf(place: number): string {
    return placeWords(this.sheet.rows(), this.cellAt(place), this.sheet.record()?.trial.axes[0]?.along);
  }

  protected prefer(result: 'a' | 'b' | 'tie'): void {
    const [record, track, pair] = [this.sheet.record(), this.sheet.track(), this.asked()];
    if (!record || !track || !pair) return;
    const [a, b] = pair.map((place) => this.cellAt(place)) as [number, number];
    this.box.say({ kind: 'pair', record: record.id, track: track.id, a, b, result, judge: this.sheet.judge() });
  }
}
