import { normal, seeded, shuffled, type Random } from '#core/base';

/** What one score says: where on the sweep, in level steps from its first level, and 0–4. */
export interface Evidence {
  x: number;
  score: number;
}

/**
 * What shape a quality can have over a factor: better the further up, better the further down, or best somewhere
 * between (which may lie beyond either end): over some steps, or over so little that one or two levels show it.
 */
export type Shape = 'rising' | 'falling' | 'peak' | 'narrow peak';

/** Curves that the readings leave possible, on a common grid of positions in level steps. */
export interface Response {
  /** Positions, in level steps, beyond both ends of the sweep too. */
  grid: Float64Array;
  /** Curves drawn from the posterior, each with one score (0–4, unclipped) for each grid position. */
  draws: Float64Array[];
  /** Noise of one reading of each drawn curve, in score points. */
  noise: Float64Array;
  /** Log of how well a curve of this shape explains the readings over how well none (a flat line) does. */
  evidence: number;
}

/** How far the grid reaches beyond the sweep, and how fine it is. */
export const BEYOND = 5;
const PER_STEP = 12;
const SAMPLES = 12_000;
const DRAWS = 320;
/** Steps that each drawn curve walks on in each of its amounts. */
const SWEEPS = 5;

/**
 * Ordinal scores → the curves that could have given them.
 *
 * A score s is taken as a hidden response rounded to a whole number: P(s) = Φ((s + ½ − f)/σ) − Φ((s − ½ − f)/σ), open
 * at 0 and 4 (an ordered probit, McCullagh 1980, with cuts at the halves, since every score has its own words). f is a
 * peak whose flanks have widths of their own, b + (t − b)·exp(−(|x − m|/w)^p) or
 * t − a·(√(1 + ((x − m)/w)²) − 1), or a step b + (t − b)/(1 + e^((x − m)/w)).
 * The posterior comes from importance sampling: a fixed, seeded set of curves drawn from the prior, each weighed by its
 * likelihood, then drawn again by weight; then each drawn curve walks on for some Metropolis steps, so that few good ones
 * among the first do not stand for all (resample-move, Gilks and Berzuini 2001). Replicates are readings like others and
 * so weigh by their number.
 *
 * @param evidence readings; at least one
 * @param span the last position of the sweep, in level steps (the first is 0)
 */
export function respond(evidence: readonly Evidence[], shape: Shape, span: number, seed = 7): Response {
  const key = `${shape} ${Math.round(span * 1e6)}`;
  let prior = priors.get(key);
  if (!prior) {
    priors.set(key, (prior = priorOf(shape, span)));
    if (priors.size > 24) priors.delete(priors.keys().next().value!);
  }
  const count = prior.noise.length;
  const log = new Float64Array(count);
  // Readings at one position share one curve value.
  const places = new Map<number, number[]>();
  for (const { x, score } of evidence) {
    const list = places.get(x) ?? [];
    list.push(Math.min(4, Math.max(0, score)));
    places.set(x, list);
  }
  // The same scores at the same place weigh alike on every curve of one noise and height: summed once.
  const sums = [...places]
    .sort((a, b) => a[0] - b[0])
    .map(([x, scores]) => ({ x, byNoise: tables.map((row) => chances(row, scores.sort())) }));
  for (const { x, byNoise } of sums) {
    const heights = prior.placesAt(x);
    for (let i = 0; i < count; i++) log[i]! += byNoise[prior.noise[i]!]![heights[i]!]!;
  }
  let best = -Infinity;
  for (let i = 0; i < count; i++) if (log[i]! > best) best = log[i]!;
  let total = 0;
  const running = new Float64Array(count);
  for (let i = 0; i < count; i++) running[i] = total += Math.exp(log[i]! - best);
  const random = seeded(seed);
  const draws: Float64Array[] = [];
  const noise = new Float64Array(DRAWS);
  // Systematic resampling: one random start, then even steps through the running sum.
  const start = random();
  let at = 0;
  const chosen: number[] = [];
  for (let d = 0; d < DRAWS; d++) {
    const want = ((d + start) / DRAWS) * total;
    while (at < count - 1 && running[at]! < want) at++;
    chosen.push(at);
  }
  // Neighbours in the list are alike; mixed, so that qualities can be combined draw by draw.
  const kept = shuffled(DRAWS, random).map((k) => prior.curve(chosen[k]!));
  walk(kept, prior, sums, random);
  kept.forEach((curve, d) => {
    noise[d] = NOISES[curve.noise]!;
    const heights = new Float64Array(prior.grid.length);
    for (let k = 0; k < heights.length; k++) heights[k] = heightOf(curve, prior.way, prior.grid[k]!);
    draws.push(heights);
  });
  return {
    grid: prior.grid,
    draws,
    noise,
    evidence: best + Math.log(total / count) - flatEvidence([...places.values()].flat()),
  };
}

/** Log chances of several scores together, by the place of the height. */
function chances(row: readonly Float64Array[], scores: readonly number[]): Float64Array {
  const sum = new Float64Array(12 * FINE + 1);
  for (const s of scores) for (let k = 0; k < sum.length; k++) sum[k]! += chance(row, s, k);
  return sum;
}

/** Each curve steps on by a random walk that leaves the posterior as it is (Metropolis and others 1953). */
function walk(
  curves: Curve[],
  { way, density, flank }: Prior,
  sums: readonly { x: number; byNoise: readonly Float64Array[] }[],
  random: Random,
): void {
  const likelihood = (c: Curve): number => {
    let sum = 0;
    for (let i = 0; i < sums.length; i++) {
      const { x, byNoise } = sums[i]!;
      sum += byNoise[c.noise]![placeOf(heightOf(c, way, x))]!;
    }
    return sum;
  };
  const step = 0.9 * Math.max(0.05, deviation(curves.map((c) => c.m)));
  const width = 0.9 * Math.max(0.05, deviation(curves.map((c) => Math.log(c.left))));
  for (const c of curves) {
    let now = likelihood(c);
    let dense = density(c);
    const next = { ...c };
    /** Goes to `next` or back, by its likelihood and `ratio`, the log of what the prior says of both. */
    const attempt = (ratio: number) => {
      if (ratio > -Infinity) {
        const then = likelihood(next);
        if (Math.log(1 - random()) < then - now + ratio) {
          copy(next, c);
          now = then;
          dense = density(c);
          return;
        }
      }
      copy(c, next);
    };
    const stepped = () => attempt(density(next) - dense);
    for (let k = 0; k < SWEEPS; k++) {
      next.m += step * normal(random);
      stepped();
      next.left *= Math.exp(width * normal(random));
      if (next.alike) next.right = next.left;
      stepped();
      if (!c.alike) {
        next.right *= Math.exp(width * normal(random));
        stepped();
      }
      next.top += 0.3 * normal(random);
      next.drop += 0.5 * normal(random);
      stepped();
      // What has names or a coin is drawn anew as the prior would: then only the likelihood speaks.
      next.noise = Math.floor(random() * NOISES.length);
      if (way === 0) Object.assign(next, flank(c.left, random));
      attempt(0);
    }
  }
}

/** Puts one curve in place of another; hot, so without asking for keys. */
function copy(from: Curve, to: Curve): void {
  to.m = from.m;
  to.top = from.top;
  to.drop = from.drop;
  to.left = from.left;
  to.right = from.right;
  to.alike = from.alike;
  to.power = from.power;
  to.noise = from.noise;
}

function deviation(values: readonly number[]): number {
  const mean = values.reduce((a, b) => a + b, 0) / values.length;
  return Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / values.length);
}

/** How well a flat line explains scores: log of the mean likelihood over its height and noise. */
function flatEvidence(scores: readonly number[]): number {
  const logs: number[] = [];
  for (let h = 0; h < 40; h++)
    for (const row of tables)
      logs.push(scores.reduce((sum, s) => sum + chance(row, s, placeOf(-0.5 + (5 * (h + 0.5)) / 40)), 0));
  const best = Math.max(...logs);
  return best + Math.log(logs.reduce((sum, v) => sum + Math.exp(v - best), 0) / logs.length);
}

/** What one curve is made of: its place, height and fall, in level steps and score points. */
interface Curve {
  m: number;
  top: number;
  drop: number;
  left: number;
  right: number;
  /** Whether both flanks are as wide. */
  alike: boolean;
  power: number;
  /** Index of its noise. */
  noise: number;
}

interface Prior {
  /** 1 where it gets better upward, −1 downward, 0 where it has a peak. */
  way: 1 | -1 | 0;
  grid: Float64Array;
  /** Index of the noise of each curve. */
  noise: Uint8Array;
  curve(i: number): Curve;
  /** For each curve, the place of its height at a position in the tables of chances. */
  placesAt(x: number): Uint16Array;
  /** Log of the density of a curve’s amounts, but for a constant; −∞ outside. */
  density(c: Curve): number;
  /** A right flank and a form of both, drawn anew. */
  flank(left: number, random: Random): Pick<Curve, 'right' | 'alike' | 'power'>;
}
const priors = new Map<string, Prior>();
const NOISES = [0.35, 0.5, 0.65];
/** 0 stands for the hyperbola: round at the top, straight further out. */
const POWERS = [0, 0, 0, 1.6, 2, 2.6];
/** How much wider or narrower one flank is than the other, as the deviation of a logarithm. */
const UNEVEN = 0.6;

/** The score of a curve at a position, unclipped. */
function heightOf(c: Curve, way: Prior['way'], x: number): number {
  const d = x - c.m;
  if (way !== 0) return c.top - c.drop / (1 + Math.exp((way * d) / c.left));
  const u = d < 0 ? -d / c.left : d / c.right;
  if (c.power === 0) return c.top - c.drop * (Math.sqrt(1 + u * u) - 1);
  return c.top - c.drop * (1 - Math.exp(-(c.power === 2 ? u * u : u ** c.power)));
}

function priorOf(shape: Shape, span: number): Prior {
  const random = seeded(20);
  const peak = shape === 'peak' || shape === 'narrow peak';
  // A narrow peak that no level is near says nothing: it lies within the sweep, and fewer samples fill that as well.
  const beyond = shape === 'narrow peak' ? 0.5 : BEYOND;
  const n = shape === 'narrow peak' ? SAMPLES / 3 : SAMPLES;
  const wide = span + 2 * BEYOND;
  const places = shuffled(n, random);
  // Of few levels each step is a large part of the range.
  const usual = Math.min(1.5, span / 4.67);
  const [narrow, broad] = shape === 'peak' ? [usual, 9] : peak ? [usual / 5, usual] : [0.04, 2.5];
  // The best is faultless most often, but one print in five is spoilt by something else.
  const [high, off] = peak ? [4.2, 0.6] : [4.3, 0.7];
  const [least, more] = peak ? [1.5, 4] : [1.2, 3.6];
  const flank: Prior['flank'] = (left, r) => {
    // Flanks are alike in one case of three.
    const alike = r() < 0.35;
    return {
      alike,
      right: alike ? left : left * Math.exp(UNEVEN * normal(r)),
      power: POWERS[Math.floor(r() * POWERS.length)]!,
    };
  };
  // Arrays of figures, not objects: there are thousands, and a new sweep makes them anew.
  const [m, top, drop, left, right, power] = Array.from({ length: 6 }, () => new Float64Array(n)) as [
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
    Float64Array,
  ];
  const [noise, alike] = [new Uint8Array(n), new Uint8Array(n)];
  for (let i = 0; i < n; i++) {
    // The place of the peak or step is spread evenly, each sample in a slot of its own.
    m[i] = -beyond + ((span + 2 * beyond) * (places[i]! + random())) / n;
    noise[i] = Math.floor(random() * NOISES.length);
    top[i] = random() < 0.8 ? high - Math.abs(normal(random)) * off : 1.5 + 2.5 * random();
    drop[i] = least + more * random();
    left[i] = narrow * (broad / narrow) ** random();
    const own = peak ? flank(left[i]!, random) : undefined;
    right[i] = own?.right ?? left[i]!;
    power[i] = own?.power ?? 0;
    alike[i] = (own?.alike ?? true) ? 1 : 0;
  }
  const curve = (i: number): Curve => ({
    m: m[i]!,
    top: top[i]!,
    drop: drop[i]!,
    left: left[i]!,
    right: right[i]!,
    power: power[i]!,
    noise: noise[i]!,
    alike: alike[i] === 1,
  });
  const density = (c: Curve): number => {
    if (c.m < -beyond || c.m > span + beyond || c.drop < least || c.drop > least + more) return -Infinity;
    if (c.left < narrow || c.left > broad) return -Infinity;
    const below = (high - c.top) / off;
    const tops =
      (below >= 0 ? (0.8 * 2 * Math.exp((-below * below) / 2)) / (off * Math.sqrt(2 * Math.PI)) : 0) +
      (c.top >= 1.5 && c.top <= 4 ? 0.2 / 2.5 : 0);
    const apart = c.alike ? 0 : Math.log(c.right / c.left) / UNEVEN;
    return Math.log(tops) - (apart * apart) / 2;
  };
  const count = Math.round(wide * PER_STEP) + 1;
  const grid = Float64Array.from({ length: count }, (_, k) => -BEYOND + (wide * k) / (count - 1));
  const way = peak ? 0 : shape === 'rising' ? 1 : -1;
  const known = new Map<number, Uint16Array>();
  return {
    way,
    grid,
    noise,
    curve,
    density,
    flank,
    placesAt(x) {
      let found = known.get(x);
      if (!found) {
        if (known.size > 80) known.clear();
        known.set(x, (found = new Uint16Array(n)));
        const c = curve(0);
        for (let i = 0; i < n; i++) {
          [c.m, c.top, c.drop] = [m[i]!, top[i]!, drop[i]!];
          [c.left, c.right, c.power] = [left[i]!, right[i]!, power[i]!];
          found[i] = placeOf(heightOf(c, way, x));
        }
      }
      return found;
    },
  };
}

/** Log of the chance of each score at responses from −4 to 8 by 1/64, for each noise. */
const FROM = -4;
const FINE = 64;
const tables = NOISES.map((sigma) =>
  Array.from({ length: 5 }, (_, s) =>
    Float64Array.from({ length: 12 * FINE + 1 }, (__, k) => {
      const f = FROM + k / FINE;
      const high = s === 4 ? 1 : phi((s + 0.5 - f) / sigma);
      const low = s === 0 ? 0 : phi((s - 0.5 - f) / sigma);
      // A slip of the pen is always possible: one in fifty scores says nothing.
      return Math.log(0.98 * Math.max(0, high - low) + 0.02 / 5);
    }),
  ),
);

const placeOf = (f: number): number => Math.min(12 * FINE, Math.max(0, Math.round((f - FROM) * FINE)));

/** Log chance of a score at a place of the table, which between two whole numbers counts for both by its distance. */
function chance(row: readonly Float64Array[], score: number, k: number): number {
  const low = Math.floor(score);
  const share = score - low;
  return share === 0 ? row[low]![k]! : (1 - share) * row[low]![k]! + share * row[low + 1]![k]!;
}

/** The normal distribution function (Abramowitz and Stegun 26.2.17, error below 7.5e-8). */
function phi(z: number): number {
  const t = 1 / (1 + 0.2316419 * Math.abs(z));
  const poly = t * (0.31938153 + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
  const tail = poly * Math.exp((-z * z) / 2) * 0.3989422804014327;
  return z > 0 ? 1 - tail : tail;
}

/** The weighted mean of several responses, draw by draw; all on one grid. */
export function combined(parts: readonly { response: Response; weight: number }[]): Float64Array[] {
  const total = parts.reduce((sum, p) => sum + p.weight, 0);
  const first = parts[0]!.response;
  // How far below the poorest score a curve runs nobody has seen: beside others it counts as poorest.
  const least = parts.length > 1 ? -0.3 : -Infinity;
  return first.draws.map((_, d) => {
    const out = new Float64Array(first.grid.length);
    for (const { response, weight } of parts) {
      const curve = response.draws[d]!;
      const share = weight / total;
      for (let k = 0; k < out.length; k++) out[k]! += share * Math.min(4.3, Math.max(least, curve[k]!));
    }
    return out;
  });
}

/** Where each curve is highest; on a plateau (within a twentieth of a point) its middle. */
export function topsOf(grid: Float64Array, draws: readonly Float64Array[]): number[] {
  return draws.map((curve) => {
    let top = 0;
    for (let k = 1; k < curve.length; k++) if (curve[k]! > curve[top]!) top = k;
    let i = top;
    let j = top;
    while (i > 0 && curve[i - 1]! > curve[top]! - 0.01) i--;
    while (j < curve.length - 1 && curve[j + 1]! > curve[top]! - 0.01) j++;
    return (grid[i]! + grid[j]!) / 2;
  });
}

/**
 * Where each curve first crosses a score; NaN where it does not within the grid.
 *
 * @param falling only on its way down
 */
export function crossingsOf(
  grid: Float64Array,
  draws: readonly Float64Array[],
  score: number,
  falling = false,
): number[] {
  return draws.map((curve) => {
    for (let k = 1; k < curve.length; k++) {
      const [a, b] = [curve[k - 1]!, curve[k]!];
      if (a >= score !== b >= score && !(falling && b >= score))
        return grid[k - 1]! + ((grid[k]! - grid[k - 1]!) * (score - a)) / (b - a);
    }
    return NaN;
  });
}

/** A quantile of numbers, by sorting; NaN are left out. */
export function quantile(values: readonly number[], q: number): number {
  const sorted = values.filter((v) => !Number.isNaN(v)).sort((a, b) => a - b);
  if (sorted.length === 0) return NaN;
  const at = q * (sorted.length - 1);
  const low = Math.floor(at);
  return sorted[low]! + (at - low) * (sorted[Math.min(sorted.length - 1, low + 1)]! - sorted[low]!);
}

/**
 * Up to where each curve is still as good as at its better end of the sweep, within `by` score points: for a falling
 * one seen from 0, for a rising one from the span.
 */
export function soundTo(
  grid: Float64Array,
  draws: readonly Float64Array[],
  way: 1 | -1,
  span: number,
  by = 0.25,
): number[] {
  const near = (x: number) => {
    let k = 0;
    while (k < grid.length - 1 && grid[k]! < x - 1e-9) k++;
    return k;
  };
  const start = way === 1 ? near(0) : near(span);
  return draws.map((curve) => {
    const floor = Math.min(4, curve[start]!) - by;
    let k = start;
    while (k + way >= 0 && k + way < curve.length && curve[k + way]! >= floor) k += way;
    return grid[k]!;
  });
}
