import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { arithmetic } from '#core/base';
import { factorOf } from '#core/factors';
import { valueWords } from '#core/route';
import { TrialDesk } from './trial-desk';

/** A confirmation against any value that the person names. */
@Component({
  selector: 'st-confirm-against',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (named(); as f) {
      <details class="against">
        <summary>confirm against another value …</summary>
        <label
          >against, {{ f.unit }}
          <input class="figures" size="6" inputmode="decimal" #other (keydown.enter)="confirmAgainst(other.value)"
        /></label>
        <button type="button" class="act" (click)="confirmAgainst(other.value)">Confirm</button>
        @if (unconfirmed(); as u) {
          <p class="small wrong" role="alert">{{ u }}</p>
        }
      </details>
    }
  `,
  styles: `
    summary {
      cursor: pointer;
      color: var(--madder);
      font-size: 12.5px;
    }
    label {
      white-space: nowrap;
    }
    input {
      width: 56px;
      font: inherit;
      padding: 1px 5px;
      border: 1px solid var(--line);
      border-radius: 4px;
      background: var(--sheet);
      color: var(--ink);
    }
  `,
})
export class ConfirmAgainst {
  protected readonly desk = inject(TrialDesk);
  /** The one factor of which a value can be named to confirm against. */
  protected readonly named = computed(() => {
    const choices = this.desk.settlement.choices();
    const factor = choices.length === 1 ? factorOf(choices[0]!.factor) : undefined;
    return factor && !factor.choices && this.desk.record()?.trial.axes.length === 1 ? factor : undefined;
  });
  protected readonly unconfirmed = signal('');

  protected confirmAgainst(text: string): void {
    const factor = this.named();
    if (!factor) return;
    const parsed = arithmetic(text, factor.unit, 'against');
    if (!parsed.ok) return this.unconfirmed.set(parsed.faults[0]!.wrong);
    this.unconfirmed.set(
      this.desk.settlement.confirm(parsed.value / factor.shown)
        ? ''
        : `${text} ${factor.unit} cannot be printed beside ${this.words()}: give another value`,
    );
  }

  private words(): string {
    return this.desk.settlement
      .choices()
      .map((c) => valueWords({ factor: c.factor, value: c.choice }))
      .join(', ');
  }
}
