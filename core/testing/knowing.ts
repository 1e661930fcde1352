import { NOISE, hiddenOf, seeded, type Hidden } from './hidden-judge';

/** What somebody says who knows how the simulated judge is made: the interval that holds the optimum with 95 %, and the best place. */
export interface Known {
  interval95: [number, number];
  /** Where the mean of the responses is highest, in level steps. */
  choice: number;
}

/**
 * The limit of what scores can tell of a peak: Bayes' rule over the judge’s own formulas and ranges, which the settling
 * does not know. Half of its peaks are even, half not. A peer of the settling code, not part of it.
 *
 * @param count peaks drawn from the judge, optima from three steps below the sweep to three above
 */
export function knowing(count = 40_000): (said: readonly { x: number; score: number }[]) => Known {
  const random = seeded(3);
  const peaks: Hidden[] = Array.from({ length: count }, (_, i) =>
    hiddenOf(i % 2 === 0 ? 'smooth' : 'asymmetric', random, -3, 10),
  ).sort((a, b) => a.optimum - b.optimum);
  const places = Array.from({ length: 8 * 10 + 1 }, (_, k) => -0.5 + k / 10);
  return (said) => {
    const log = peaks.map((peak) =>
      said.reduce((sum, { x, score }) => sum + Math.log(1e-9 + chanceOf(score, peak.response(x))), 0),
    );
    const best = log.reduce((a, b) => Math.max(a, b), -Infinity);
    const likely = peaks.map((peak, i) => ({ peak, weight: Math.exp(log[i]! - best) })).filter((p) => p.weight > 1e-6);
    const total = likely.reduce((sum, p) => sum + p.weight, 0);
    const upTo = (share: number): number => {
      let sum = 0;
      return likely.find((p) => (sum += p.weight) >= share * total)!.peak.optimum;
    };
    const means = places.map((x) => likely.reduce((sum, p) => sum + p.weight * p.peak.response(x), 0));
    return { interval95: [upTo(0.025), upTo(0.975)], choice: places[means.indexOf(Math.max(...means))]! };
  };
}

/** The chance of a whole score from a response with the judge’s noise. */
function chanceOf(score: number, response: number): number {
  const below = (cut: number) => 1 / 2 + erf((cut - response) / (NOISE * Math.SQRT2)) / 2;
  return (score === 4 ? 1 : below(score + 0.5)) - (score === 0 ? 0 : below(score - 0.5));
}

/** The error function (Abramowitz and Stegun 7.1.26, error below 1.5e-7). */
function erf(v: number): number {
  const t = 1 / (1 + 0.3275911 * Math.abs(v));
  const poly = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
  return Math.sign(v) * (1 - poly * Math.exp(-v * v));
}
