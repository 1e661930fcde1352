// Indigo → rose → amber, even in lightness steps of OKLab.
const stops: [number, number, number][] = [
  [0.33, 0.02, -0.12],
  [0.42, 0.08, -0.1],
  [0.53, 0.14, -0.03],
  [0.63, 0.14, 0.05],
  [0.72, 0.07, 0.12],
  [0.8, 0.02, 0.13],
];

/** The colour of a level: 0 for the lowest, 1 for the highest. */
export function levelColor(share: number): string {
  const at = Math.max(0, Math.min(1, share)) * (stops.length - 1);
  const i = Math.min(stops.length - 2, Math.floor(at));
  const t = at - i;
  const [l, a, b] = stops[i]!.map((v, k) => v + (stops[i + 1]![k]! - v) * t) as [number, number, number];
  return `oklab(${l.toFixed(3)} ${a.toFixed(3)} ${b.toFixed(3)})`;
}

/** Where a level lies between the lowest and the highest; names lie evenly. */
export const levelShare = (level: number, levels: readonly number[], named = false): number => {
  if (named) return levels.length > 1 ? levels.filter((l) => l < level).length / (levels.length - 1) : 0.5;
  const low = Math.min(...levels);
  const high = Math.max(...levels);
  return high > low ? (level - low) / (high - low) : 0.5;
};
