import { listed, normal, seeded, show } from '#core/base';
import { levelWords, type Factor } from '#core/factors';
import { weighedCosts } from './costs';
import { cheapest } from './picks';
import { alike, varianceOf, type CellScore, type Weights } from './scores';
import type { Choice, Settled, SettleOptions, Swept } from './settled';

const DRAWS = 4000;
/** A name that is the best with at least this may be as good as the one chosen. */
const MAY_BE = 0.1;
/** Below this the readings leave it open which name is the best. */
const OPEN = 0.8;

/**
 * A choice among names (a pattern, an order), between which nothing lies: each is taken by itself, with a normal error
 * from its number of readings. They differ where the homogeneity of their scores is refused with 95 % (Cochran 1954);
 * how sure the best is comes from seeded draws.
 *
 * @param read scores of the names that are read, at least two
 */
export function settleNamed(
  { trial }: Swept,
  read: readonly CellScore[],
  factor: Factor,
  options: SettleOptions,
  result: Settled,
): Settled {
  const weights = options.weights ?? {};
  const costs = options.costs ?? [];
  // A name that is itself a list must not run into the others.
  const say = (level: number) => {
    const words = levelWords(factor, level);
    return words.includes(',') ? `“${words}”` : words;
  };
  if (options.rule === 'cheapest-that-passes') {
    const found = cheapest(read, costs, factor);
    return 'code' in found
      ? { ...result, flags: [...result.flags, { code: found.code, message: found.message, cells: found.cells }] }
      : { ...result, choices: [chosen(factor, found.value, 'cheapest-that-passes', found.why)] };
  }
  const stands = standing(read, weights, options);
  if (alike(stands)) {
    const least = costs.length > 1 ? read.reduce((a, b) => (timeOf(costs, b) < timeOf(costs, a) ? b : a)) : undefined;
    const way = least ? `; ${say(least.level)} takes least time` : '';
    return {
      ...result,
      flags: [
        ...result.flags,
        {
          code: 'no-visible-difference',
          message: `no visible difference between ${listed(read.map((s) => say(s.level)))}: read again, or compare them two by two${way}`,
          cells: read.map((s) => s.cell),
        },
      ],
    };
  }
  const wins = bestShares(stands, trial.seed);
  const best = stands.reduce((a, q, i) => (q.mean > stands[a]!.mean + 1e-9 ? i : a), 0);
  const rivals = read.map((_, i) => i).filter((i) => i !== best && wins[i]! >= MAY_BE);
  rivals.sort((a, b) => wins[b]! - wins[a]!);
  const share = (i: number) => (wins[i]! > 0.99 ? 'over 99 %' : `${show(100 * wins[i]!, 0)} %`);
  const highest =
    weighedCosts(costs, weights).length > 0
      ? 'with its costs weighed in it scores highest'
      : 'the combined score is highest there';
  const near = rivals.map((i) => `, ${say(read[i]!.level)} with ${share(i)}`).join('');
  const why = `${highest}, ${show(stands[best]!.mean, 1)} of 4; the best of the ${read.length} with ${share(best)}${near}`;
  const answer = { ...result, choices: [chosen(factor, read[best]!.level, 'best-combined', why)] };
  if (rivals.length === 0 || wins[best]! >= OPEN) return answer;
  const open = [best, ...rivals];
  const words = open.map((i) => say(read[i]!.level));
  const axis = trial.axes[0]!;
  const levels = axis.levels.filter((v) => open.some((i) => read[i]!.level === v));
  const fewer = levels.length < axis.levels.length;
  return {
    ...answer,
    flags: [
      ...result.flags,
      {
        code: 'coarse',
        message: `the readings leave it open between ${listed(words)}: read them again, or compare them two by two`,
        cells: open.map((i) => read[i]!.cell),
      },
    ],
    next: fewer
      ? {
          ...trial,
          title: `${trial.title.split(',')[0]}, ${words.join(', ')}`.slice(0, 120),
          axes: [{ ...axis, levels }],
        }
      : null,
    nextWhy: fewer ? `or print only what may be the best: ${listed(words)}` : '',
  };
}

const chosen = (factor: Factor, level: number, rule: string, why: string): Choice => ({
  factor: factor.id,
  choice: level,
  low: level,
  high: level,
  interval95: [level, level],
  rule,
  why,
});

const timeOf = (costs: NonNullable<SettleOptions['costs']>, s: CellScore): number =>
  costs.find((c) => c.cell === s.cell)?.time ?? Infinity;

/** The mean of each name, its costs weighed in, and the variance that its readings leave. */
function standing(
  read: readonly CellScore[],
  weights: Weights,
  options: SettleOptions,
): { mean: number; variance: number }[] {
  const costs = weighedCosts(options.costs ?? [], weights);
  return read.map((s) => {
    const look = Object.keys(s.byQuality).reduce((sum, track) => sum + (weights[track] ?? 1), 0);
    const own = costs.filter((c) => c.score.has(s.cell));
    const total = own.reduce((sum, c) => sum + c.weight, look);
    return {
      mean: own.reduce((sum, c) => sum + c.weight * c.score.get(s.cell)!, look * s.together!) / total,
      variance: varianceOf(s, weights) * (look / total) ** 2,
    };
  });
}

/** How often each is the highest, over seeded draws. */
function bestShares(stands: readonly { mean: number; variance: number }[], seed: number): number[] {
  const random = seeded(seed + 17);
  const wins = stands.map(() => 0);
  for (let d = 0; d < DRAWS; d++) {
    let top = 0;
    let most = -Infinity;
    stands.forEach((s, i) => {
      const value = s.mean + Math.sqrt(s.variance) * normal(random);
      if (value > most) [top, most] = [i, value];
    });
    wins[top]!++;
  }
  return wins.map((w) => w / DRAWS);
}
