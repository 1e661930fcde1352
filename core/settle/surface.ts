/** A response over two factors, as it was fitted; asked by `meanOn` and `sdOn`. It is data, so that it goes between workers. */
export interface Surface {
  points: readonly { x: number; y: number }[];
  centre: number;
  length: number;
  amplitude: number;
  root: readonly Float64Array[];
  alpha: Float64Array;
}

const LENGTHS = [1, 1.7, 3];
const AMPLITUDES = [0.5, 1.2];
/** Scatter of one reading with its rounding, in score points. */
const NOISE = 0.58;

/**
 * A Gaussian process over two factors (squared-exponential covariance, one length for both axes in level steps), with
 * length and amplitude of the highest marginal likelihood; readings weigh by their number. After Rasmussen and
 * Williams, Gaussian Processes for Machine Learning (2006), algorithm 2.1.
 *
 * @param points places in level steps, mean scores, and the number of readings behind each; at least two
 */
export function surfaceOf(points: readonly { x: number; y: number; score: number; n: number }[]): Surface {
  const n = points.length;
  const weight = points.reduce((s, p) => s + p.n, 0);
  const centre = points.reduce((s, p) => s + p.score * p.n, 0) / weight;
  const residual = points.map((p) => p.score - centre);
  const fits = LENGTHS.flatMap((length) =>
    AMPLITUDES.map((amplitude) => {
      const form = { length, amplitude };
      const root = cholesky(
        points.map((p, i) =>
          Float64Array.from(points, (q, j) => covariance(form, p, q) + (i === j ? NOISE ** 2 / p.n : 0)),
        ),
      );
      const half = forward(root, residual);
      let evidence = 0;
      for (let i = 0; i < n; i++) evidence -= half[i]! ** 2 / 2 + Math.log(root[i]![i]!);
      return { ...form, root, alpha: backward(root, half), evidence };
    }),
  );
  const { evidence: _, ...best } = fits.reduce((a, b) => (b.evidence > a.evidence ? b : a));
  return { ...best, points: points.map(({ x, y }) => ({ x, y })), centre };
}

type Place = { x: number; y: number };

const covariance = ({ length, amplitude }: Pick<Surface, 'length' | 'amplitude'>, a: Place, b: Place): number =>
  amplitude ** 2 * Math.exp(-((a.x - b.x) ** 2 + (a.y - b.y) ** 2) / (2 * length ** 2));

const cross = (surface: Surface, at: Place): Float64Array =>
  Float64Array.from(surface.points, (p) => covariance(surface, at, p));

/** The mean at a place in level steps, score points. */
export const meanOn = (surface: Surface, x: number, y: number): number =>
  cross(surface, { x, y }).reduce((s, k, i) => s + k * surface.alpha[i]!, surface.centre);

/** Its standard deviation there, score points. */
export function sdOn(surface: Surface, x: number, y: number): number {
  const at = { x, y };
  const v = forward(surface.root, cross(surface, at));
  return Math.sqrt(Math.max(0, covariance(surface, at, at) - v.reduce((s, q) => s + q * q, 0)));
}

/** Lower-triangular root of a symmetric positive matrix. */
function cholesky(a: Float64Array[]): Float64Array[] {
  const root = a.map((row) => new Float64Array(row.length));
  for (let i = 0; i < a.length; i++)
    for (let j = 0; j <= i; j++) {
      let v = a[i]![j]!;
      for (let k = 0; k < j; k++) v -= root[i]![k]! * root[j]![k]!;
      root[i]![j] = i === j ? Math.sqrt(Math.max(v, 1e-10)) : v / root[j]![j]!;
    }
  return root;
}

function forward(root: readonly Float64Array[], b: ArrayLike<number>): Float64Array {
  const out = new Float64Array(b.length);
  for (let i = 0; i < b.length; i++) {
    let v = b[i]!;
    for (let k = 0; k < i; k++) v -= root[i]![k]! * out[k]!;
    out[i] = v / root[i]![i]!;
  }
  return out;
}

function backward(root: readonly Float64Array[], b: Float64Array): Float64Array {
  const out = new Float64Array(b.length);
  for (let i = b.length - 1; i >= 0; i--) {
    let v = b[i]!;
    for (let k = i + 1; k < b.length; k++) v -= root[k]![i]! * out[k]!;
    out[i] = v / root[i]![i]!;
  }
  return out;
}
