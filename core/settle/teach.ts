import { quantile, type Response } from './response';

/** Where a further reading could be taken: its position in level steps, and what a cell there costs (time, or any). */
export interface Candidate {
  x: number;
  cost: number;
}

const clipped = (v: number): number => Math.min(4.3, Math.max(-0.3, v));

/**
 * The positions that teach most about a target per cost, chosen one after another: each time the one that takes most of
 * the target's variance away, as the curves that are still possible say. After each choice all curves are drawn
 * together as such a reading would (an ensemble square-root update, Whitaker and Hamill 2002), so that the next one
 * teaches something else. Thresholds so get levels near the step, peaks on their flanks.
 *
 * @param first candidates that are taken whatever they teach, by their places: what the others teach comes on top
 * @param target what is asked of each drawn curve: the place of its top, of its step; NaN where it has none
 * @returns at most `count` positions, ascending; fewer where a further one would teach next to nothing
 */
export function nextPositions(
  parts: readonly { response: Response; weight: number }[],
  target: readonly number[],
  candidates: readonly Candidate[],
  count: number,
  { apart = spread(target) / 6, first = [] as readonly number[] } = {},
): number[] {
  const draws = target.flatMap((t, d) => (Number.isNaN(t) ? [] : [d]));
  if (draws.length < 20 || candidates.length === 0) return [];
  const n = draws.length;
  const goal = centre(Float64Array.from(draws, (d) => target[d]!));
  const taught = parts.filter((p) => p.weight > 0);
  const columns = candidates.flatMap(({ x, cost }, c) =>
    taught.map(({ response }) => {
      let noise = 1 / 12;
      const values = new Float64Array(n);
      for (let d = 0; d < n; d++) {
        const draw = draws[d]!;
        noise += response.noise[draw]! ** 2 / n;
        values[d] = clipped(valueAt(response, draw, x));
      }
      return { c, cost, noise, values: centre(values) };
    }),
  );
  const begin = dot(goal, goal);
  const taken = new Set<number>();
  const barred = new Set<number>();
  while (taken.size < Math.min(count, candidates.length)) {
    const gains = new Map<number, number>();
    for (const col of columns) {
      if (taken.has(col.c) || barred.has(col.c)) continue;
      const gain = dot(goal, col.values) ** 2 / (dot(col.values, col.values) + n * col.noise) / col.cost;
      gains.set(col.c, (gains.get(col.c) ?? 0) + gain);
    }
    const given = first.find((c) => !taken.has(c));
    if (gains.size === 0 && given === undefined) break;
    const [best, gain] = given === undefined ? [...gains].reduce((a, b) => (b[1] > a[1] ? b : a)) : [given, Infinity];
    if (taken.size >= 3 && gain * candidates[best]!.cost < 0.002 * begin) break;
    taken.add(best);
    // Curves of the model are smoother than truth: readings all in one spot would trust its shape too far.
    candidates.forEach((q, c) => {
      if (!taken.has(c) && Math.abs(q.x - candidates[best]!.x) < apart - 1e-9) barred.add(c);
    });
    for (const seen of columns.filter((c) => c.c === best)) {
      const values = Float64Array.from(seen.values);
      const spread = dot(values, values) / n;
      const v = spread + seen.noise;
      const share = 1 / (1 + Math.sqrt(seen.noise / v)) / v / n;
      const update = (other: Float64Array) => {
        const by = share * dot(other, values);
        for (let d = 0; d < n; d++) other[d]! -= by * values[d]!;
      };
      update(goal);
      // What is taken or barred is not asked again.
      for (const col of columns) if (!taken.has(col.c) && !barred.has(col.c)) update(col.values);
    }
  }
  return [...taken].map((c) => candidates[c]!.x).sort((a, b) => a - b);
}

/** How wide most of the targets lie. */
function spread(target: readonly number[]): number {
  return quantile(target, 0.95) - quantile(target, 0.05);
}

/** A drawn curve at a position, between its grid points. */
export function valueAt({ grid, draws }: Pick<Response, 'grid' | 'draws'>, draw: number, x: number): number {
  const step = grid[1]! - grid[0]!;
  const at = Math.min(grid.length - 1.000001, Math.max(0, (x - grid[0]!) / step));
  const k = Math.floor(at);
  const curve = draws[draw]!;
  return curve[k]! + (at - k) * (curve[k + 1]! - curve[k]!);
}

/** Takes the mean off, in place. */
function centre(values: Float64Array): Float64Array {
  let sum = 0;
  for (let d = 0; d < values.length; d++) sum += values[d]!;
  const mean = sum / values.length;
  for (let d = 0; d < values.length; d++) values[d]! -= mean;
  return values;
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i]! * b[i]!;
  return sum;
}
