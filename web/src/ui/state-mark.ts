import { ChangeDetectionStrategy, Component, input } from '@angular/core';

/** A stop's state as a mark that reads without colour: ring, filled, ticked, broken. */
@Component({
  selector: 'st-state-mark',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg viewBox="0 0 16 16" width="16" height="16" aria-hidden="true" [attr.class]="state().replace(' ', '-')">
      <circle cx="8" cy="8" r="6" />
      @if (state() === 'steady') {
        <path d="M5 8.2l2.1 2.1L11 6" />
      }
      @if (state() === 'settled') {
        <circle class="core" cx="8" cy="8" r="3" />
      }
    </svg>
  `,
  styles: `
    :host {
      display: inline-flex;
    }
    circle,
    path {
      fill: var(--rail);
      stroke: var(--line-strong);
      stroke-width: 1.6;
    }
    .to-come circle {
      stroke-dasharray: 1.5 2;
    }
    .in-hand circle {
      fill: var(--madder);
      stroke: var(--madder);
    }
    .settled circle {
      stroke: var(--madder);
    }
    .settled .core {
      fill: var(--madder);
    }
    .steady circle {
      fill: var(--steady);
      stroke: var(--steady);
    }
    .steady path {
      fill: none;
      stroke: var(--sheet);
    }
    .shaken circle {
      stroke: var(--shaken);
      stroke-dasharray: 3 2.4;
    }
  `,
})
export class StateMark {
  readonly state = input.required<'to come' | 'open' | 'in hand' | 'settled' | 'steady' | 'shaken'>();
}
