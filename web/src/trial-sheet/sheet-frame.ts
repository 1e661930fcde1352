import { computed, inject, Injectable, signal } from '@angular/core';
import { levelColor } from '../ui/level-color';
import { axesOf, type Row } from './sheet-model';
import { TrialDesk } from './trial-desk';

/** The sheet of a window of 1180 px, px. */
const NARROW = 930;

/** Room above and below the specimen on the sheet, px. */
export const ABOVE = 12;
export const BELOW = 8;

/** The measures that all tracks of the sheet share: rows, the height in px, and where a height in mm lies on it. */
@Injectable()
export class SheetFrame {
  private readonly desk = inject(TrialDesk);
  /** Height and width of the sheet, px. */
  readonly height = signal(0);
  readonly width = signal(Infinity);
  /** Too narrow for what is told elsewhere too. */
  readonly narrow = computed(() => this.width() < NARROW);
  readonly rows = computed(() => this.desk.rows());
  /** One cell of each row: what all cells of a row share is written once. */
  readonly firstOfRows = computed(() => this.rows().filter((r) => r.at[1] === 0));
  readonly reads = computed(() => this.desk.stage() === 'read');
  readonly judged = computed(() => this.desk.stage() === 'read' || this.desk.stage() === 'settle');
  /** Two factors make a map. */
  readonly mapped = computed(() => this.desk.columns() !== undefined);
  /** Each row is a print of its own. */
  readonly apart = computed(() => {
    const plan = this.desk.plan();
    return plan?.trial.axes[axesOf(plan).down]?.along === 'print';
  });
  /** The rows lie at their heights above the bed. */
  readonly scaled = computed(() => !this.apart() && this.desk.plan()?.built.drawing.view === 'side');
  /** The height of the specimen on the sheet, mm. */
  readonly top = computed(() => {
    const built = this.desk.plan()?.built;
    if (!built) return 1;
    const { view, y } = built.drawing;
    return view === 'above' ? y[1] - y[0] : built.height || y[1];
  });
  private readonly perMm = computed(() => (this.height() - ABOVE - BELOW) / this.top());
  /** Top and bottom of the sheet as a chart sees them, mm. */
  readonly chartTop = computed(() => this.top() + ABOVE / this.perMm());
  readonly chartBottom = computed(() => -BELOW / this.perMm());

  /** Where a height lies on the sheet, px from above. */
  y(mm: number): number {
    return this.height() - BELOW - mm * this.perMm();
  }

  /** Where a score lies across its track, %. */
  at(score: number): number {
    return 10 + score * 20;
  }

  color(r: Row): string {
    return levelColor(r.share);
  }
}
