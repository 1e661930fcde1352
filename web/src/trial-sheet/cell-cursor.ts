import { untracked, effect, type WritableSignal } from '@angular/core';
import { moved, firstOpen, type Spot } from './sheet-model';
import type { OpenTrial } from './open-trial';

/** Where the person is on the sheet: the cell in hand, the one pointed at, and a band of cells. */
export class CellCursor {
  /** Cells of one track that the next score is for. */
  readonly band: WritableSignal<readonly number[]>;
  readonly spot: WritableSignal<Spot>;
  /** The cell pointed at, lit everywhere. */
  readonly pointed: WritableSignal<number | undefined>;

  constructor(private readonly desk: OpenTrial) {
    this.band = desk.ofTrial<readonly number[]>(() => []);
    this.spot = desk.ofTrial<Spot>(() => ({ cell: 0, track: '' }));
    this.pointed = desk.ofTrial<number | undefined>(() => undefined);

    effect(() => {
      const rows = this.desk.rows();
      const tracks = this.desk.tracks();
      this.desk.id();
      untracked(() => {
        const at = this.spot();
        if (rows.some((r) => r.cell === at.cell) && tracks.some((t) => t.id === at.track)) return;
        this.spot.set(
          firstOpen(rows, tracks, this.desk.record()?.readings ?? [], (cell) => this.desk.printOfCell(cell)?.id ?? ''),
        );
      });
    });
  }

  /** Grows the band in hand by a step up or down the sheet. */
  stretch(up: number): void {
    const rows = this.desk.rows();
    const way = this.upwards(up);
    const band = this.band().length > 0 ? this.band() : [this.spot().cell];
    this.move(up, 0);
    const here = this.spot().cell;
    this.band.set(
      band.includes(here) && band.length > 1 && way !== 0
        ? band.filter((c) => c !== band[band.length - 1])
        : rows.filter((r) => band.includes(r.cell) || r.cell === here).map((r) => r.cell),
    );
  }

  move(up: number, right: number): void {
    const way = this.upwards(up);
    if (this.desk.rows().length > 0 && this.desk.tracks().length > 0)
      this.spot.set(moved(this.desk.rows(), this.desk.tracks(), this.spot(), way, right));
  }

  /** Takes a cell in hand, on the track as it is. */
  go(cell: number): void {
    this.spot.update((s) => ({ ...s, cell }));
  }

  /** Bands are numbered from below; tiles and prints in reading order, from above. */
  private upwards(up: number): number {
    const rows = this.desk.rows();
    return (rows[0]?.bottom ?? 0) > (rows.at(-1)?.bottom ?? 0) ? -up : up;
  }
}
