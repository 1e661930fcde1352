import type { Pairing, Order } from '#core/judge';
import { pairingOf, withAnswer } from '#core/route';
import type { OpenTrial } from './open-trial';
import type { CellCursor } from './cell-cursor';
import type { Scores } from './scores';

/** Answers to “which is better?”, and the order that they give. */
export class Comparisons {
  constructor(
    private readonly desk: OpenTrial,
    private readonly cursor: CellCursor,
    private readonly scores: Scores,
  ) {}

  /** The answers on a track; of all tracks and judges where left out. */
  pairingOf(track?: string, judge?: string): Pairing | undefined {
    const plan = this.desk.plan();
    return plan && pairingOf(plan, this.desk.record()?.pairs, track, judge);
  }

  /** The order that the answers give; undefined without answers. */
  orderOf(track?: string, judge?: string): Order | undefined {
    const pairing = this.desk.record()?.pairs?.length ? this.pairingOf(track, judge) : undefined;
    return pairing && pairing.answers.length > 0 ? pairing.order() : undefined;
  }

  /** Begins to compare pieces two by two on a track. */
  compare(track: string): void {
    this.cursor.band.set([]);
    this.desk.pairing.set(track);
  }

  /** Records an answer to “which is better?”. */
  prefer(track: string, a: number, b: number, result: 'a' | 'b' | 'tie', judge = this.scores.judge()): void {
    const known = (cell: number) => this.desk.plan()?.cells.some((c) => c.id === cell) ?? false;
    if (!known(a) || !known(b) || a === b || !this.desk.tracks().some((t) => t.id === track)) return;
    this.desk.change('which is better', (r) => withAnswer(r, { track, judge, a, b, result }));
  }
}
