import { ChangeDetectionStrategy, Component, computed, effect, inject, untracked } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Keeper } from '../data/keeper';
import { PrintRun } from '../data/print-run';

/** While something prints, on every page: what and how far, and the button that stops it. One key does too. */
@Component({
  selector: 'st-run-bar',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '(document:keydown.F8)': 'key($event)' },
  template: `
    @if (run.active()) {
      @if (run.under(); as u) {
        <a [routerLink]="['/trial', u.trial]" [queryParams]="{ stage: 'print' }" [title]="u.title">
          {{ words() }}
        </a>
        @if (run.tellable()) {
          <button type="button" (click)="run.stop()" title="Stop (F8): heaters off at once">Stop</button>
        }
      }
    }
  `,
  styles: `
    :host {
      display: inline-flex;
      align-items: center;
      gap: 8px;
    }
    a {
      color: var(--madder);
      font-variant-numeric: tabular-nums;
      white-space: nowrap;
    }
    button {
      padding: 3px 14px;
      border: 0;
      border-radius: 4px;
      background: var(--fault);
      color: var(--on-madder);
      font: inherit;
      font-weight: 640;
      cursor: pointer;
    }
  `,
})
export class RunBar {
  protected readonly run = inject(PrintRun);
  private readonly keeper = inject(Keeper);
  protected readonly words = computed(() => {
    const u = this.run.under();
    if (!u) return '';
    if (u.state === 'asking') return 'is this the right printer?';
    const percent = u.total > 0 ? Math.round((100 * u.place) / u.total) : 0;
    const state = { paused: 'paused', apart: 'wire broken' }[u.state as string] ?? 'printing';
    return `${state} ${percent} %`;
  });

  constructor() {
    // Only the tab that writes goes on with a print: it would go on twice.
    effect(() => {
      if (this.keeper.writes()) untracked(() => void this.run.recall());
    });
  }

  protected key(event: Event): void {
    if (!this.run.active()) return;
    event.preventDefault();
    this.run.stop();
  }
}
