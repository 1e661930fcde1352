/** What a kernel takes beside its floor, ms. */
export interface Turns {
  ms: number;
  floor: number;
  /** The middle of the ratios of all turns. */
  ratio: number;
  /** The very first run of the kernel over a warm one: what a person waits for who has just come. */
  first: number;
}

const clock = (work: () => unknown): number => {
  const from = performance.now();
  work();
  return performance.now() - from;
};
const middle = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]!;

/**
 * Kernel and floor one after the other, so that both meet the same machine.
 *
 * @param turns so many of them, after `warm` that do not count
 * @param often the floor is run so often in a turn, where it is short
 */
export function inTurns(kernel: () => unknown, floor: () => unknown, turns = 9, warm = 4, often = 5): Turns {
  const begun = clock(kernel);
  const all = Array.from({ length: turns + warm }, () => {
    const floors = Array.from({ length: often }, () => clock(floor));
    return { ms: clock(kernel), floor: middle(floors) };
  }).slice(warm);
  const ms = middle(all.map((t) => t.ms));
  return {
    ms,
    floor: middle(all.map((t) => t.floor)),
    ratio: middle(all.map((t) => t.ms / t.floor)),
    first: begun / ms,
  };
}
