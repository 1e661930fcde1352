import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import { Select } from 'primeng/select';
import { Keeper } from '../data/keeper';

/** The pair in hand; choosing another goes to its route. */
@Component({
  selector: 'st-pair-menu',
  imports: [FormsModule, Select],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <p-select
      [options]="options()"
      optionLabel="label"
      optionValue="id"
      [ngModel]="keeper.currentPair()?.id"
      (ngModelChange)="choose($event)"
      ariaLabel="Pair in hand"
      size="small"
    />
  `,
  styles: `
    :host {
      min-width: 0;
    }
    p-select {
      width: 340px;
      max-width: 46vw;
    }
  `,
})
export class PairMenu {
  protected readonly keeper = inject(Keeper);
  private readonly router = inject(Router);
  protected readonly options = computed(() =>
    this.keeper.documents().pairs.map((p) => ({ id: p.id, label: this.keeper.labelOf(p) })),
  );

  protected choose(id: string): void {
    this.keeper.choosePair(id);
    void this.router.navigate(['/pair', id]);
  }
}
