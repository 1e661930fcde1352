import { Injectable, type OnDestroy } from '@angular/core';
import { CellCursor } from './cell-cursor';
import { Comparisons } from './comparisons';
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
  readonly settlement = new Settlement(this);

  ngOnDestroy(): void {
    this.stop();
  }
}
