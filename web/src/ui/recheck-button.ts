import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { Router } from '@angular/router';
import { show } from '#core/base';
import { factorOf, levelWords } from '#core/factors';
import type { Tuned } from '#core/route';
import { CostOf, type Cost } from '../data/cost-of';
import { TrialMaker } from '../data/trial-maker';

/** The shortest trial that would recheck a shaken value, one press away. */
@Component({
  selector: 'st-recheck-button',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (trial()) {
      <button type="button" class="act" (click)="plan()">Recheck {{ words() }}</button>
      <span class="figures small soft">{{ cost() }}</span>
    }
  `,
  styles: `
    :host {
      display: inline-flex;
      flex-wrap: wrap;
      gap: 4px 10px;
      align-items: center;
    }
    .act {
      white-space: normal;
    }
  `,
})
export class RecheckButton {
  readonly pair = input.required<string>();
  readonly value = input.required<Tuned>();
  private readonly maker = inject(TrialMaker);
  private readonly costOf = inject(CostOf);
  private readonly router = inject(Router);
  protected readonly trial = computed(() => this.maker.recheck(this.pair(), this.value()));
  protected readonly words = computed(() => {
    const axis = this.trial()?.axes[0];
    const factor = factorOf(axis?.factor ?? '');
    if (!axis || !factor) return '';
    // The unit once: three levels stand on a button.
    const [last, ...others] = [...axis.levels].reverse();
    const bare = factor.choices ? (v: number) => levelWords(factor, v) : (v: number) => show(v * factor.shown, 3);
    return `at ${[...others.reverse().map(bare), levelWords(factor, last!)].join(', ')}`;
  });
  private readonly known = signal<Cost | undefined>(undefined);
  protected readonly cost = computed(() => this.costOf.words(this.known()));

  constructor() {
    effect((onCleanup) => {
      const trial = this.trial();
      this.known.set(undefined);
      const work = trial && this.costOf.trial(trial).subscribe((c) => this.known.set(c));
      onCleanup(() => work?.unsubscribe());
    });
  }

  protected plan(): void {
    const id = this.maker.planRecheck(this.pair(), this.value());
    if (id) void this.router.navigate(['/trial', id]);
  }
}
