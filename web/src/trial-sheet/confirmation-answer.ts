import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { RouterLink } from '@angular/router';
import { movedIn, movedWords } from '#core/route';
import { TrialDesk } from './trial-desk';

/** Of a confirmation: how it came out, told without the values until it is decided, and what to do with it. */
@Component({
  selector: 'st-confirmation-answer',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (desk.settlement.verdict(); as v) {
      <section aria-label="Confirmation" class="answer">
        <p class="value" [class.none]="v.state === 'open'">
          {{ v.state === 'steady' ? 'it holds' : v.state === 'reverted' ? 'the old one is better' : 'not told yet' }}
        </p>
        <p>{{ v.why }}.</p>
        @if (desk.blind()) {
          <p class="small soft">The values stay hidden until you decide.</p>
        } @else {
          <p class="figures">{{ movedWords(confirmed(), 'new') }} against {{ movedWords(confirmed(), 'old') }}</p>
        }
      </section>
      <section aria-label="Act" class="acts">
        @if (desk.record()?.settledOn) {
          <p>
            {{
              v.state === 'steady' ? 'Kept: the value is steady now.' : 'The old value stands on the tune sheet again.'
            }}
          </p>
          @if (v.state === 'reverted') {
            <p class="small">
              A value between may be better than both.
              {{ desk.record()?.readings?.length ? 'This print counts in the trial now:' : 'Back in the trial:' }}
              <a [routerLink]="['/trial', desk.record()?.confirms?.trial]">see what it says</a>
            </p>
          }
        } @else {
          <button type="button" class="act main" [disabled]="v.state === 'open'" (click)="desk.settlement.decide()">
            {{ v.state === 'reverted' ? 'Put the old value back' : 'Keep the new value: steady' }}
          </button>
        }
        <a [routerLink]="['/pair', desk.record()?.pair, 'tune']" class="small">tune sheet</a>
      </section>
    }
  `,
  styles: `
    :host {
      display: grid;
      grid-template-columns: minmax(0, 1fr) 220px;
      gap: 24px;
      grid-column: 1 / -1;
    }
    section {
      display: grid;
      gap: 5px;
      align-content: start;
    }
    .acts .act {
      justify-content: center;
    }
    @media (max-width: 760px) {
      :host {
        grid-template-columns: minmax(0, 1fr);
      }
    }
  `,
})
export class ConfirmationAnswer {
  protected readonly desk = inject(TrialDesk);
  protected readonly movedWords = movedWords;
  protected readonly confirmed = computed(() => {
    const confirms = this.desk.record()?.confirms;
    return confirms ? movedIn(confirms) : [];
  });
}
