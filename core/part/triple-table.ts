/** Numbers for triples of whole figures: open addressing over flat arrays, since a `Map` of a million keys takes seconds. */
export class TripleTable {
  private readonly keys: Int32Array;
  private readonly slots: Int32Array;
  private readonly mask: number;
  private readonly most: number;
  /** How many triples are known; they are numbered from 0. */
  count = 0;

  /** @param most triples that may come */
  constructor(most: number) {
    const size = 2 ** Math.ceil(Math.log2(Math.max(16, 1.7 * most)));
    this.mask = size - 1;
    this.slots = new Int32Array(size).fill(-1);
    this.keys = new Int32Array(3 * most);
    this.most = most;
  }

  /** The number of a triple; a new one where it is not known. @throws RangeError beyond what was said to come */
  numberOf(a: number, b: number, c: number): number {
    let h = Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b) ^ Math.imul(c, 0xc2b2ae35);
    h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
    for (let at = (h ^ (h >>> 13)) & this.mask; ; at = (at + 1) & this.mask) {
      const n = this.slots[at]!;
      if (n < 0) {
        if (this.count === this.most) throw new RangeError(`more than ${this.most} triples`);
        this.slots[at] = this.count;
        this.keys[3 * this.count] = a;
        this.keys[3 * this.count + 1] = b;
        this.keys[3 * this.count + 2] = c;
        return this.count++;
      }
      if (this.keys[3 * n] === a && this.keys[3 * n + 1] === b && this.keys[3 * n + 2] === c) return n;
    }
  }
}
