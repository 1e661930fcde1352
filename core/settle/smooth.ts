import { normal, seeded } from '#core/base';

/** Noisy observations of a smooth curve: positions in level steps, values in score points. */
export interface Observations {
  x: readonly number[];
  y: readonly number[];
  /** Weight of each: how many readings stand behind it. */
  n: readonly number[];
}

/** A curve with its uncertainty on a grid, and where its top lies. */
export interface Smoothed {
  x: number[];
  mean: number[];
  low: number[];
  high: number[];
  /** Draws of the place of the top, sorted. */
  tops: number[];
  /** Probability that the curve is flat within a third of a point. */
  flat: number;
}

const lengths = [1, 1.6, 2.5, 4];
const amplitudes = [0.25, 0.7, 1.4];
const noises = [0.2, 0.4, 0.65];
const DRAWS = 400;
const PER_STEP = 8;

/**
 * A Gaussian process over the levels (squared-exponential covariance), averaged over length, height and noise by
 * marginal likelihood; the place of the top comes from draws of the averaged posterior. After Rasmussen and Williams,
 * Gaussian Processes for Machine Learning, chapters 2 and 5. Seeded, so the same readings give the same answer.
 */
export function smooth({ x, y, n }: Observations, seed = 7): Smoothed {
  const count = x.length;
  const weight = n.reduce((a, b) => a + b, 0);
  const mean = y.reduce((sum, v, i) => sum + v * n[i]!, 0) / weight;
  const low = Math.min(...x);
  const high = Math.max(...x);
  const points = Math.max(2, Math.round((high - low) * PER_STEP) + 1);
  const grid = Array.from({ length: points }, (_, i) => low + ((high - low) * i) / (points - 1));

  const models: { evidence: number; length: number; amplitude: number; factor: Float64Array[]; alpha: Float64Array }[] =
    [];
  const residual = y.map((v) => v - mean);
  for (const length of lengths) {
    for (const amplitude of amplitudes) {
      for (const noise of noises) {
        const k = Array.from({ length: count }, (_, i) =>
          Float64Array.from(
            { length: count },
            (_, j) => kernel(x[i]! - x[j]!, length, amplitude) + (i === j ? (noise * noise) / n[i]! + 1e-9 : 0),
          ),
        );
        const factor = cholesky(k);
        const half = forward(factor, residual);
        const fit = half.reduce((sum, v) => sum + v * v, 0);
        const determinant = factor.reduce((sum, row, i) => sum + Math.log(row[i]!), 0);
        models.push({ evidence: -0.5 * fit - determinant, length, amplitude, factor, alpha: backward(factor, half) });
      }
    }
  }
  const best = Math.max(...models.map((m) => m.evidence));
  const shares = models.map((m) => Math.exp(m.evidence - best));
  const total = shares.reduce((a, b) => a + b, 0);

  const random = seeded(seed);
  const sum = new Float64Array(points);
  const squares = new Float64Array(points);
  const tops: number[] = [];
  let flats = 0;
  let draws = 0;
  models.forEach((m, index) => {
    const here = Math.round((shares[index]! / total) * DRAWS);
    if (here === 0) return;
    const cross = grid.map((g) =>
      Float64Array.from({ length: count }, (_, j) => kernel(g - x[j]!, m.length, m.amplitude)),
    );
    const centre = cross.map((c) => mean + c.reduce((s, v, j) => s + v * m.alpha[j]!, 0));
    const reduced = cross.map((c) => forward(m.factor, c));
    const posterior = Array.from({ length: points }, (_, i) =>
      Float64Array.from({ length: points }, (_, j) => {
        let v = kernel(grid[i]! - grid[j]!, m.length, m.amplitude) + (i === j ? 1e-6 : 0);
        const a = reduced[i]!;
        const b = reduced[j]!;
        for (let k = 0; k < count; k++) v -= a[k]! * b[k]!;
        return v;
      }),
    );
    const root = cholesky(posterior);
    for (let d = 0; d < here; d++) {
      const z = Float64Array.from({ length: points }, () => normal(random));
      let top = 0;
      let highest = -Infinity;
      let lowest = Infinity;
      for (let i = 0; i < points; i++) {
        let v = centre[i]!;
        const row = root[i]!;
        for (let j = 0; j <= i; j++) v += row[j]! * z[j]!;
        sum[i]! += v;
        squares[i]! += v * v;
        if (v > highest) {
          highest = v;
          top = i;
        }
        if (v < lowest) lowest = v;
      }
      tops.push(grid[top]!);
      if (highest - lowest < 0.35) flats++;
      draws++;
    }
  });
  const means = Array.from(sum, (v) => v / draws);
  const deviation = Array.from(squares, (v, i) => Math.sqrt(Math.max(0, v / draws - means[i]! * means[i]!)));
  return {
    x: grid,
    mean: means,
    low: means.map((m, i) => m - 1.96 * deviation[i]!),
    high: means.map((m, i) => m + 1.96 * deviation[i]!),
    tops: tops.sort((a, b) => a - b),
    flat: flats / draws,
  };
}

const kernel = (d: number, length: number, amplitude: number) =>
  amplitude * amplitude * Math.exp((-d * d) / (2 * length * length));

/** Lower-triangular root of a symmetric positive matrix; a hair is added where rounding makes it singular. */
function cholesky(a: Float64Array[]): Float64Array[] {
  const n = a.length;
  const root = Array.from({ length: n }, () => new Float64Array(n));
  for (let i = 0; i < n; i++) {
    for (let j = 0; j <= i; j++) {
      let v = a[i]![j]!;
      const ri = root[i]!;
      const rj = root[j]!;
      for (let k = 0; k < j; k++) v -= ri[k]! * rj[k]!;
      if (i === j) ri[j] = Math.sqrt(Math.max(v, 1e-10));
      else ri[j] = v / rj[j]!;
    }
  }
  return root;
}

function forward(root: Float64Array[], b: ArrayLike<number>): Float64Array {
  const out = new Float64Array(b.length);
  for (let i = 0; i < b.length; i++) {
    let v = b[i]!;
    for (let k = 0; k < i; k++) v -= root[i]![k]! * out[k]!;
    out[i] = v / root[i]![i]!;
  }
  return out;
}

function backward(root: Float64Array[], b: Float64Array): Float64Array {
  const n = b.length;
  const out = new Float64Array(n);
  for (let i = n - 1; i >= 0; i--) {
    let v = b[i]!;
    for (let k = i + 1; k < n; k++) v -= root[k]![i]! * out[k]!;
    out[i] = v / root[i]![i]!;
  }
  return out;
}
