import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { askedNext, nextBegun } from '#core/route';
import { kindOf } from '#core/trial';
import { Keeper } from '../data/keeper';
import { TrialMaker } from '../data/trial-maker';
import { TrialDesk } from './trial-desk';

/** A trial of another stop that the answer asks for: planned by a press, or opened where it is begun already. */
@Component({
  selector: 'st-asked-next',
  imports: [RouterLink],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (asked(); as a) {
      @if (begun(); as id) {
        <a class="small" [routerLink]="['/trial', id]">{{ label(a.kind) }} is begun</a>
      } @else {
        <button type="button" class="act" (click)="plan()">Plan: {{ label(a.kind) }}</button>
      }
      <p class="small soft">{{ a.why }}</p>
    }
  `,
  styles: `
    :host {
      display: contents;
    }
    .act {
      justify-content: center;
      height: auto;
      padding-block: 6px;
      line-height: 1.25;
      white-space: normal;
    }
  `,
})
export class AskedNextTrial {
  private readonly desk = inject(TrialDesk);
  private readonly keeper = inject(Keeper);
  private readonly maker = inject(TrialMaker);
  private readonly router = inject(Router);
  private readonly pair = computed(() => this.keeper.find('pairs', this.desk.record()?.pair));
  private readonly own = computed(() => this.keeper.documents().records.filter((r) => r.pair === this.pair()?.id));

  /** Only once the value stands on the tune sheet: what is asked for is planned with it. */
  protected readonly asked = computed(() => {
    const [pair, settled, plan] = [this.pair(), this.desk.settlement.settled(), this.desk.plan()];
    const context = this.keeper.contextOf(pair);
    if (!pair || !settled || !plan || !context || !this.desk.settlement.tuned()) return undefined;
    return askedNext(plan.trial, settled, context, pair.values, (id) => this.own().find((r) => r.id === id)?.trial);
  });
  protected readonly begun = computed(() => {
    const asked = this.asked();
    return asked && nextBegun(asked, this.own())?.id;
  });

  protected label(kind: string): string {
    return kindOf(kind)?.label ?? kind;
  }

  protected plan(): void {
    const [asked, pair] = [this.asked(), this.pair()];
    const trial = asked && pair && this.maker.trial(pair.id, asked.kind);
    if (!trial) return;
    const more = asked.after === undefined ? {} : { after: asked.after };
    void this.router.navigate(['/trial', this.maker.open(pair.id, asked.stop, trial, more)]);
  }
}
