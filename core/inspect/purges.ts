/** Filament purged when one tool gives way to another, mm. */
export interface Purged {
  from: number;
  to: number;
  length: number;
}

/**
 * Filament purged at changes of tool, by pair of tools: laid in lines of that role, or pushed into the air before the
 * next line, beyond what had been drawn back.
 */
export class Purges {
  private readonly sums = new Map<string, Purged>();
  /** Filament drawn back, mm: in the tool in hand, and in those that wait. */
  private back = 0;
  private readonly waiting = new Map<number, number>();
  private tool = 0;
  /** The tool before, until another line than one of purging is laid. */
  private from: number | undefined;

  change(to: number): void {
    if (to === this.tool) return;
    this.waiting.set(this.tool, this.back);
    this.back = this.waiting.get(to) ?? 0;
    this.from = this.tool;
    this.tool = to;
  }

  /**
   * @param e filament pushed, mm
   * @param prints whether a line is laid
   * @param purges whether it is one of purging
   */
  step(e: number, prints: boolean, purges: boolean): void {
    if (e === 0) return;
    const { back } = this;
    this.back = Math.max(0, back - e);
    if (e < 0) return;
    if (!prints && this.from === undefined) return;
    if (prints && purges) this.add(this.from ?? this.tool, e);
    else if (prints) this.from = undefined;
    else this.add(this.from!, Math.max(0, e - back));
  }

  /** Filament drawn back in the tool in hand, mm. */
  get drawnBack(): number {
    return this.back;
  }

  /** By pair of tools, in the order in which they first gave way. */
  get all(): Purged[] {
    return [...this.sums.values()].filter((p) => p.length > 0);
  }

  private add(from: number, length: number): void {
    const key = `${from} ${this.tool}`;
    const sum = this.sums.get(key) ?? { from, to: this.tool, length: 0 };
    sum.length += length;
    this.sums.set(key, sum);
  }
}
