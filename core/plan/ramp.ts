/** The largest distance of two neighbouring levels. */
export const widestStep = (levels: readonly number[]): number =>
  Math.max(0, ...levels.slice(1).map((v, i) => Math.abs(v - levels[i]!)));

/**
 * The value of a ramp at a place along it: each level holds in the middle of its band and the value runs straight from
 * one to the next; before the first middle and beyond the last it stays, so that no value lies outside the levels.
 *
 * @param at bands from the start: 0.5 is the middle of the first band
 * @example rampAt([10, 20], 1) // 15
 */
export function rampAt(levels: readonly number[], at: number): number {
  if (levels.length < 2) return levels[0] ?? 0;
  const i = Math.min(levels.length - 2, Math.max(0, Math.floor(at - 0.5)));
  const [a, b] = [levels[i]!, levels[i + 1]!];
  return a + Math.min(1, Math.max(0, at - 0.5 - i)) * (b - a);
}
