/** Pieces of filament that are followed, mm. */
const PIECE = 0.25;
/** What has left the gear by so much is not drawn back any more, mm. */
const KEPT = 40;
/** More filament than any print takes, mm. */
const FAR = 1e7;

/** How often one piece of filament is drawn back through the gear, tool by tool. */
export class GearPasses {
  /** The most of all pieces, and the line at which it was reached. */
  most = { times: 0, line: 0 };
  private at = 0;
  private tool = 0;
  private readonly tools = new Map<number, { at: number; drawn: Map<number, number> }>();
  private drawn = new Map<number, number>();

  /** The tool in hand is another. */
  change(to: number): void {
    if (to === this.tool) return;
    this.tools.set(this.tool, { at: this.at, drawn: this.drawn });
    const own = this.tools.get(to);
    this.at = own?.at ?? 0;
    this.drawn = own?.drawn ?? new Map<number, number>();
    this.tool = to;
  }

  /** Filament moves, mm; negative where it is drawn back. */
  move(e: number, line: number): void {
    const from = this.at;
    this.at += e;
    // Beyond ten kilometres nothing is counted: figures in a file may be any.
    if (!(e < 0) || !(Math.abs(from) < FAR)) return;
    // Pieces that pass as a whole.
    const lowest = Math.max(this.at, from - KEPT);
    for (let piece = Math.ceil(lowest / PIECE - 1e-6); piece < Math.floor(from / PIECE + 1e-6); piece++) {
      const times = (this.drawn.get(piece) ?? 0) + 1;
      this.drawn.set(piece, times);
      if (times > this.most.times) this.most = { times, line };
    }
    if (this.drawn.size > (2 * KEPT) / PIECE) {
      const last = (this.at - KEPT) / PIECE;
      for (const piece of this.drawn.keys()) if (piece < last) this.drawn.delete(piece);
    }
  }
}
