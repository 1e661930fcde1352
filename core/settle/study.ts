import { qualityOf, scoreOf, type Reading } from '#core/judge';
import type { Cell } from '#core/plan';
import { weighedCosts } from './costs';
import { combined, respond, type Evidence, type Response, type Shape } from './response';
import { chiSquare, FAILED, SCORE_VARIANCE } from './scores';
import type { Curve, SettleOptions } from './settled';

/** What the readings say of one quality. `slope` is that of a straight line through its scores, in its own errors. */
interface Part {
  track: string;
  weight: number;
  /** What its failing counts here: less where a later stop can still set it right. */
  failing: number;
  response: Response;
  slope: number;
  /** The mean of its scores. */
  mean: number;
  /** Places at which the piece broke more often than it held, where it held at others; none elsewhere. */
  broke: readonly number[];
  /** All places that were read. */
  places: readonly number[];
}

/** What the readings say of each quality and together, on one scale of level steps. */
export interface Study {
  parts: Part[];
  /** Drawn curves of all qualities by their weights; and with time and filament weighed in. */
  quality: Float64Array[];
  together: Float64Array[];
  /** The same less what a failed quality takes away: what a value is chosen by. */
  ranked: Float64Array[];
  grid: Float64Array;
  /** The last position of the sweep; the first is 0. */
  span: number;
  toX(level: number): number;
  toLevel(x: number): number;
}

/** A quality that a too low value spoils gets better upwards, one that a too high value spoils downwards. */
export const shapeOf = (track: string, factor: string): Shape => {
  const fault = qualityOf(track)?.fault[factor];
  return fault === 'too low' ? 'rising' : fault === 'too high' ? 'falling' : 'peak';
};

/** The scores of each level on each quality, with what they are worth. */
export function studied(
  cells: readonly Cell[],
  factor: string,
  readings: readonly Reading[],
  options: SettleOptions,
  voids: readonly number[],
  seed: number,
): Study {
  const all = [{ cells, readings }, ...(options.earlier ?? [])];
  const levels = all.flatMap((t) => t.cells.flatMap((c) => c.levels[factor] ?? []));
  const low = Math.min(...levels);
  const high = Math.max(...levels);
  // The widest sweep gives the step: what is finer lies between. Two levels held against one another are none.
  const widths = all.map((t) => {
    const own = t.cells.flatMap((c) => c.levels[factor] ?? []);
    return {
      count: new Set(own).size,
      width: (Math.max(...own) - Math.min(...own)) / Math.max(1, new Set(own).size - 1),
    };
  });
  const sweeps = widths.filter((w, t) => t === 0 || w.count > 2);
  const step = Math.max(...sweeps.map((w) => w.width), (high - low) / 14) || 1;
  const toX = (level: number) => (level - low) / step;
  const toLevel = (x: number) => low + x * step;
  const span = toX(high);
  const byTrack = new Map<string, Evidence[]>();
  const broken = new Map<string, Evidence[]>();
  all.forEach(({ cells: own, readings: said }, t) => {
    const level = new Map(own.map((c) => [c.id, c.levels[factor]] as const));
    for (const r of said) {
      const score = r.excluded === undefined && qualityOf(r.track) ? scoreOf(r.value) : undefined;
      if (score === undefined) continue;
      for (const cell of r.cells) {
        const at = level.get(cell);
        if (at === undefined || (t === 0 && voids.includes(cell))) continue;
        const list = byTrack.get(r.track) ?? [];
        list.push({ x: toX(at), score });
        byTrack.set(r.track, list);
        if (r.value === 'broke') broken.set(r.track, [...(broken.get(r.track) ?? []), { x: toX(at), score }]);
      }
    }
  });
  const parts = [...byTrack]
    .sort((a, b) => (a[0] < b[0] ? -1 : 1))
    .map(([track, evidence], k) => ({
      track,
      weight: options.weights?.[track] ?? 1,
      failing: qualityOf(track)?.counts?.[factor]?.as ?? 1,
      response: remembered(evidence, shapeOf(track, factor), span, seed + k),
      slope: slopeOf(evidence),
      mean: evidence.reduce((sum, e) => sum + e.score, 0) / evidence.length,
      ...breaking(evidence, broken.get(track) ?? []),
    }));
  const weighed = parts.some((p) => p.weight > 0)
    ? parts.filter((p) => p.weight > 0)
    : parts.map((p) => ({ ...p, weight: 1 }));
  const grid = weighed[0]!.response.grid;
  const counted = withFlat(weighed);
  const quality = combined(counted);
  const together = withCosts(quality, counted, grid, toLevel, factor, cells, options);
  return { parts, grid, span, toX, toLevel, quality, together, ranked: lessFailed(together, counted, span) };
}

/** Where a piece broke, and where it was read at all; where it broke everywhere that tells no place from another. */
function breaking(evidence: readonly Evidence[], broken: readonly Evidence[]): Pick<Part, 'broke' | 'places'> {
  const places = [...new Set(evidence.map((e) => e.x))];
  const at = (all: readonly Evidence[], x: number) => all.reduce((n, e) => n + (e.x === x ? 1 : 0), 0);
  const broke = places.filter((x) => 2 * at(broken, x) > at(evidence, x));
  return { places, broke: broke.length < places.length ? broke : [] };
}

/** A flat line explains a quality three times as well as any shape: then its level is no matter of this factor. */
const ELSEWHERE = -Math.log(3);

/**
 * Whether what is said of a quality depends on something else than the factor that varies. Where a piece breaks at some
 * levels and holds at others it does not, however poor it is all over.
 */
export const restsElsewhere = ({ response, broke }: Pick<Part, 'response' | 'broke'>): boolean =>
  broke.length === 0 && response.evidence < ELSEWHERE;

/**
 * Qualities that rest on something else, as flat lines: what is equally poor everywhere would be taken to get good beyond
 * both ends of a sweep, and its scatter would choose among levels. The one that speaks plainest keeps its shape.
 */
function withFlat<P extends Pick<Part, 'response' | 'mean' | 'broke'>>(parts: readonly P[]): P[] {
  const plainest = Math.max(...parts.map((p) => p.response.evidence));
  return parts.map((part) => {
    const { response, mean } = part;
    if (response.evidence === plainest || !restsElsewhere(part)) return part;
    return { ...part, response: { ...response, draws: response.draws.map((d) => d.map(() => mean)) } };
  });
}

/**
 * Curves less what the quality that fails most falls short by: a piece that snaps in the hand is no good however well it
 * looks, so that no gain of others outweighs it. What weighs less than another counts by as much less, and what a later stop
 * can still set right once more. What fails at every level is no reason to go to the end of a sweep: only how much
 * worse than at its best it is counts there.
 */
function lessFailed(
  together: readonly Float64Array[],
  parts: readonly Pick<Part, 'weight' | 'failing' | 'response' | 'broke' | 'places'>[],
  span: number,
): Float64Array[] {
  // What is asked alone is poor or not; taking it away twice changes nothing of the order.
  if (parts.length < 2) return [...together];
  const most = Math.max(...parts.map((p) => p.weight));
  const bars = parts.map(({ response }) => Math.min(FAILED, bestOf(response, span)));
  const breaks = brokenAt(parts, most);
  return together.map((curve, d) =>
    curve.map((v, k) => {
      let short = 0;
      parts.forEach(({ weight, failing, response }, p) => {
        short = Math.max(short, (weight / most) * failing * (bars[p]! - Math.max(0, response.draws[d]![k]!)));
      });
      return v - short - breaks[k]!;
    }),
  );
}

/** What is taken away where a piece breaks that holds elsewhere, in points: it scores 0, but a 0 that holds can be lived with. */
const BROKEN = 2;

/** What is taken away at each place of the grid, by whether the piece broke at the nearest level that was read. */
function brokenAt(
  parts: readonly Pick<Part, 'weight' | 'response' | 'broke' | 'places'>[],
  most: number,
): Float64Array {
  const { grid } = parts[0]!.response;
  const taken = new Float64Array(grid.length);
  for (const { weight, broke, places } of parts) {
    if (broke.length === 0) continue;
    const nearest = (all: readonly number[], x: number) =>
      all.reduce((least, p) => Math.min(least, Math.abs(p - x)), Infinity);
    grid.forEach((x, k) => {
      if (nearest(broke, x) <= nearest(places, x) + 1e-9) taken[k] = Math.max(taken[k]!, (weight / most) * BROKEN);
    });
  }
  return taken;
}

/** The highest that the mean of drawn curves gets within the sweep. */
function bestOf({ grid, draws }: Response, span: number): number {
  let best = 0;
  grid.forEach((x, k) => {
    if (x < -1e-9 || x > span + 1e-9) return;
    best = Math.max(best, draws.reduce((sum, d) => sum + Math.max(0, d[k]!), 0) / draws.length);
  });
  return best;
}

/** The slope of a straight line through scores over its standard error by the variance of a single score. */
function slopeOf(evidence: readonly Evidence[]): number {
  const middle = evidence.reduce((sum, e) => sum + e.x, 0) / evidence.length;
  const spread = evidence.reduce((sum, e) => sum + (e.x - middle) ** 2, 0);
  const rise = evidence.reduce((sum, e) => sum + (e.x - middle) * e.score, 0);
  return spread > 0 ? rise / Math.sqrt(SCORE_VARIANCE * spread) : 0;
}

/** Whether the qualities rise or fall by more than chance would have them, all together: χ² at 99 %. */
export const slopes = (parts: readonly Pick<Part, 'slope'>[]): boolean =>
  parts.reduce((sum, p) => sum + p.slope ** 2, 0) > chiSquare(parts.length, 2.3263);

/** The mean of the drawn curves at a level, 0–4, whatever it costs. */
export const meanAt = ({ grid, quality, toX }: Study, level: number): number =>
  partAt({ grid, draws: quality }, toX(level));

/** The mean of drawn curves at a place, 0–4. */
export function partAt({ grid, draws }: Pick<Response, 'grid' | 'draws'>, x: number): number {
  let k = 0;
  for (let i = 1; i < grid.length; i++) if (Math.abs(grid[i]! - x) < Math.abs(grid[k]! - x)) k = i;
  return draws.reduce((sum, d) => sum + Math.min(4, Math.max(0, d[k]!)), 0) / draws.length;
}

/** Adds what time and filament weigh, as scores over the levels. */
function withCosts(
  draws: Float64Array[],
  parts: readonly { weight: number }[],
  grid: Float64Array,
  toLevel: (x: number) => number,
  factor: string,
  cells: readonly Cell[],
  { costs = [], weights = {} }: SettleOptions,
): Float64Array[] {
  const sum = parts.reduce((s, p) => s + p.weight, 0);
  return weighedCosts(costs, weights).reduce((now, { weight, score }) => {
    const points = cells
      .flatMap((c) => (score.has(c.id) ? [{ level: c.levels[factor]!, score: score.get(c.id)! }] : []))
      .sort((a, b) => a.level - b.level);
    const share = weight / (sum + weight);
    return now.map((curve) => curve.map((v, k) => (1 - share) * v + share * between(points, toLevel(grid[k]!))));
  }, draws);
}

/** A score between two levels, on the straight line that joins theirs. */
export function between(points: readonly { level: number; score: number }[], level: number): number {
  const i = points.findIndex((p) => p.level >= level);
  if (i < 0) return points[points.length - 1]!.score;
  const [a, b] = [points[Math.max(0, i - 1)]!, points[i]!];
  return b.level === a.level ? b.score : a.score + ((b.score - a.score) * (level - a.level)) / (b.level - a.level);
}

/** More evidence than this for a shape over a flat line is a visible difference: eleven to five, for one quality. */
export const DIFFERENCE = Math.log(2.2);

/** Responses worked out lately: one reading changes one quality only. */
const lately = new Map<string, Response>();

/** One narrow peak stands against so many curves of other shapes, before anything is read. */
const NARROW = Math.log(12);

/**
 * Where readings make it the likelier one, curves with a narrow peak, and of the others as many as are still as likely:
 * a single odd reading so leaves open what two settle.
 */
function orNarrow(found: Response, narrow: Response): Response {
  const odds = narrow.evidence - found.evidence - NARROW;
  if (odds <= 0) return found;
  const others = Math.round(narrow.draws.length / (1 + Math.exp(odds)));
  const noise = narrow.noise.slice();
  noise.set(found.noise.subarray(0, others));
  // Neighbours among the drawn are not alike: the first are as good as any.
  return { ...narrow, draws: narrow.draws.map((d, k) => (k < others ? found.draws[k]! : d)), noise };
}

/** How far the means of the scores at each place lie apart. */
function rangeOf(evidence: readonly Evidence[]): number {
  const sums = new Map<number, { sum: number; n: number }>();
  for (const { x, score } of evidence) {
    const { sum, n } = sums.get(x) ?? { sum: 0, n: 0 };
    sums.set(x, { sum: sum + score, n: n + 1 });
  }
  const means = [...sums.values()].map(({ sum, n }) => sum / n);
  return Math.max(...means) - Math.min(...means);
}

/**
 * The response of a quality: of the shape its fault would give, unless the readings speak for a peak by more than four
 * to one (a quality can fail on the far side of the optimum too), or by twelve for one so narrow that a level or two show it.
 */
function remembered(evidence: Evidence[], shape: Shape, span: number, seed: number): Response {
  const ordered = [...evidence].sort((a, b) => a.x - b.x || a.score - b.score);
  const key = `${shape} ${span} ${seed} ${ordered.map((e) => `${e.x}:${e.score}`).join(' ')}`;
  let found = lately.get(key);
  if (!found) {
    found = respond(ordered, shape, span, seed);
    if (shape !== 'peak') {
      const peak = respond(ordered, 'peak', span, seed);
      // Or where a peak alone speaks against a flat line.
      const alone = peak.evidence > DIFFERENCE / 2 && found.evidence < 0;
      if (alone || peak.evidence > found.evidence + Math.log(4)) found = peak;
    }
    // Of a quality that stays within a point nothing speaks for one level.
    if (rangeOf(ordered) >= 1) found = orNarrow(found, respond(ordered, 'narrow peak', span, seed));
    if (lately.size > 40) lately.delete(lately.keys().next().value!);
    lately.set(key, found);
  }
  return found;
}

/** Bands worked out lately: of a quality whose readings have not changed, neither has its band. */
const bands = new WeakMap<readonly Float64Array[], { key: string; curve: Curve }>();

/** Mean and 95 % band of drawn curves over the sweep itself, by level. */
export function curveOf(grid: Float64Array, draws: readonly Float64Array[], { toLevel, span }: Study): Curve {
  const key = `${span} ${toLevel(0)} ${toLevel(1)}`;
  const known = bands.get(draws);
  if (known?.key === key) return known.curve;
  const curve: Curve = { level: [], mean: [], low: [], high: [] };
  const values = new Float64Array(draws.length);
  const [low, high] = [Math.floor(0.025 * values.length), Math.floor(0.975 * values.length)];
  grid.forEach((x, k) => {
    if (x < -1e-9 || x > span + 1e-9 || (k % 2 === 1 && span > 3)) return;
    let sum = 0;
    for (let d = 0; d < values.length; d++) sum += values[d] = Math.min(4, Math.max(0, draws[d]![k]!));
    // A typed array sorts numbers as numbers, and fast.
    values.sort();
    curve.level.push(toLevel(x));
    curve.mean.push(sum / values.length);
    curve.low.push(values[low]!);
    curve.high.push(values[high]!);
  });
  bands.set(draws, { key, curve });
  return curve;
}
