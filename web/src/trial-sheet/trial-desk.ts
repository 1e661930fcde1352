import { inject, Injectable, type OnDestroy } from '@angular/core';
import { Keeper } from '../data/keeper';
import { HAND } from '../work/print-in-hand';
import { CellCursor } from './cell-cursor';
import { Comparisons } from './comparisons';
import { Hand } from './hand';
import { Measurements } from './measurements';
import { OpenTrial } from './open-trial';
import { Scores } from './scores';
import { Settlement } from './settlement';

export { stages, type Stage } from './open-trial';

/** Everything on the desk while one trial is open; the parts of the sheet read it and speak to it. */
@Injectable()
export class TrialDesk extends OpenTrial implements OnDestroy {
  readonly cursor = new CellCursor(this);
  readonly scores = new Scores(this, this.cursor);
  readonly comparisons = new Comparisons(this, this.cursor, this.scores);
  readonly bench = new Measurements(this);
  readonly hand = new Hand(this, this.cursor, this.bench, inject(Keeper), inject(HAND));
  readonly settlement = new Settlement(this);

  ngOnDestroy(): void {
    this.stop();
    this.hand.close();
  }
}
