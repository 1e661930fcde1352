import { computed, inject, Injectable } from '@angular/core';
import type { ToolpathSource } from '../toolpath/toolpath-source';
import { TrialDesk } from './trial-desk';

/** The file of the trial in hand, for the toolpath drawer. */
@Injectable()
export class TrialToolpath implements ToolpathSource {
  private readonly desk = inject(TrialDesk);
  readonly file = computed(() => {
    const [made, trial] = [this.desk.made(), this.desk.record()?.trial];
    if (!made || !trial) return undefined;
    const { bytes, inspection } = made;
    return { bytes, inspection, context: trial.context, retraction: trial.baseline.retractionDistance };
  });
  readonly cells = this.desk.rows;
  readonly inHand = computed(() => this.desk.cursor.spot().cell);
  readonly fromAbove = computed(() => this.desk.plan()?.built.drawing.view === 'above');
}
