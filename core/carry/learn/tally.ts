/** Sums of weights by value; the value with the most is what a file means. */
export class Tally {
  private readonly sums = new Map<number, number>();
  private all = 0;

  add(value: number, weight: number): void {
    this.sums.set(value, (this.sums.get(value) ?? 0) + weight);
    this.all += weight;
  }

  /** The value found most, and the share that has it. */
  get most(): { value: number; share: number } | undefined {
    const [best] = [...this.sums].sort((a, b) => b[1] - a[1]);
    return best && { value: best[0], share: best[1] / this.all };
  }

  get largest(): number {
    return Math.max(0, ...this.sums.keys());
  }
}
