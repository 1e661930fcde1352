import { rounded, show } from '#core/base';
import { factorOf, levelWords, type Factor } from '#core/factors';
import type { Reading } from '#core/judge';
import type { Axis, Cell } from '#core/plan';
import { effectsOf } from './compare';
import { weighedCosts } from './costs';
import { alike, cellScores, varianceOf, type CellScore, type Weights } from './scores';
import { meanOn, sdOn, surfaceOf } from './surface';
import type { Choice, Settled, SettleOptions, Swept } from './settled';
import { voidsOf } from './voids';

const NEAR = 0.25;

/** Two factors: the cell that stands highest on the surface through all readings gives both values. */
export function settleMap(
  { trial, cells }: Swept,
  readings: readonly Reading[],
  options: SettleOptions,
  none: Settled,
): Settled {
  const axes = trial.axes.flatMap((axis) => {
    const factor = factorOf(axis.factor);
    return factor ? [{ axis, factor }] : [];
  });
  const { voids, flags } = voidsOf(options.inspection, (own) => `${own.length} cells`, {
    cells,
    heated: options.heated,
  });
  const scores = cellScores(cells, axes[0]!.factor.id, readings, options.weights ?? {}, voids);
  const score = new Map(scores.flatMap((s) => (s.together === undefined ? [] : [[s.cell, s.together] as const])));
  if (score.size < Math.min(4, cells.length)) {
    flags.push({
      code: 'unread',
      message: `${score.size === 0 ? 'nothing is' : `only ${score.size} cells are`} read; a map needs at least four`,
      cells: [],
    });
    return { ...none, flags, scores };
  }
  const weights = options.weights ?? {};
  const costs = weighedCosts(options.costs ?? [], weights);
  // Where costs are weighed in, they tell cells apart that look alike.
  if (costs.length === 0 && flat(cells, scores, weights)) {
    flags.push({
      code: 'no-visible-difference',
      message: 'no visible difference over the whole map: widen both sweeps',
      cells: cells.map((c) => c.id),
    });
    return { ...none, flags, scores };
  }
  const counts = new Map(scores.map((q) => [q.cell, q.n] as const));
  const read = cells.filter((c) => score.has(c.id));
  const surface = surfaceOf(
    read.map((c) => ({
      x: c.index[1]!,
      y: c.index[0]!,
      score: score.get(c.id)!,
      n: Math.max(1, counts.get(c.id) ?? 1),
    })),
  );
  const smooth = new Map(read.map((c) => [c.id, meanOn(surface, c.index[1]!, c.index[0]!)] as const));
  const tracks = new Set(scores.flatMap((s) => Object.keys(s.byQuality)));
  const look = [...tracks].reduce((sum, track) => sum + (weights[track] ?? 1), 0);
  // What the eye says and what it costs, by their weights.
  const standing = new Map(
    [...smooth].map(([cell, score]) => {
      const priced = costs.filter((c) => c.score.has(cell));
      const total = priced.reduce((sum, c) => sum + c.weight, look);
      return [cell, priced.reduce((sum, c) => sum + c.weight * c.score.get(cell)!, look * score) / total] as const;
    }),
  );
  const best = cells
    .filter((c) => standing.has(c.id))
    .reduce((a, b) => (standing.get(b.id)! > standing.get(a.id)! + 1e-9 ? b : a));
  const top = standing.get(best.id)!;
  const choices: Choice[] = [];
  axes.forEach(({ axis, factor }, k) => {
    const along = cells.filter((c) => c.index[1 - k] === best.index[1 - k] && (standing.get(c.id) ?? -1) >= top - NEAR);
    const value = best.levels[factor.id]!;
    if (factor.choices) {
      // Names have no neighbours: the one chosen stands by itself.
      const why = `the cell ${best.label} stands highest on the surface through all readings, ${show(top, 1)} of 4`;
      choices.push({
        factor: factor.id,
        choice: value,
        low: value,
        high: value,
        interval95: [value, value],
        rule: 'best-combined',
        why,
      });
      return;
    }
    const levels = along.map((c) => c.levels[factor.id]!);
    // Where nothing lies beyond what was swept, the end is as good a value as any.
    const limits = factor.limits(trial.context);
    const [least, most] = [Math.min(...axis.levels), Math.max(...axis.levels)];
    const beyond = value === least ? least - limits.min : value === most ? limits.max - most : 0;
    const edge = axis.levels.length > 2 && beyond > factor.settable / 2;
    if (edge)
      flags.push({
        code: 'at-the-edge',
        message: `${factor.label}: the best lies at the edge of the sweep, ${levelWords(factor, value)}; extend it there to be sure`,
        cells: [best.id],
      });
    choices.push({
      factor: factor.id,
      choice: value,
      low: Math.min(...levels),
      high: Math.max(...levels),
      interval95: [rounded(Math.min(...levels), 6), rounded(Math.max(...levels), 6)],
      rule: 'best-combined',
      why: `the cell ${best.label} stands highest on the surface through all readings${costs.length > 0 ? ', with its costs weighed in' : ''}, ${show(top, 1)} of 4 ± ${show(1.96 * sdOn(surface, best.index[1]!, best.index[0]!), 1)}; ${levels.length > 1 ? `within a quarter point of it from ${levelWords(factor, Math.min(...levels))} to ${levelWords(factor, Math.max(...levels))}` : 'no other level comes within a quarter point of it'}`,
    });
  });
  const effects = effectWords(cells, axes, score);
  if (effects !== undefined) flags.push({ code: 'effects', message: effects, cells: [] });
  return { ...none, choices, flags, scores, surface };
}

/** With three questions asked, each is to be sure to 1 − 5 %/3. */
const OF_THREE = 2.128;

/** Whether nothing differs: not the cells, and not the means of what runs down or across, which show a slope sooner. */
function flat(cells: readonly Cell[], scores: readonly CellScore[], weights: Weights): boolean {
  const stands = scores.flatMap((s) => {
    const index = cells.find((c) => c.id === s.cell)?.index;
    return s.together === undefined || !index ? [] : [{ mean: s.together, variance: varianceOf(s, weights), index }];
  });
  const along = (k: number) =>
    [...new Set(stands.map((s) => s.index[k]!))].map((i) => {
      const own = stands.filter((s) => s.index[k] === i);
      const sum = (of: (s: (typeof own)[number]) => number) => own.reduce((n, s) => n + of(s), 0);
      return { mean: sum((s) => s.mean) / own.length, variance: sum((s) => s.variance) / own.length ** 2 };
    });
  return [stands, along(0), along(1)].every((of) => alike(of, OF_THREE));
}

/** Of a full 2 × 2: what each factor does, and whether they depend on one another. */
function effectWords(
  cells: readonly Cell[],
  axes: readonly { axis: Axis; factor: Factor }[],
  score: ReadonlyMap<number, number>,
): string | undefined {
  if (axes.length !== 2 || axes.some((a) => a.axis.levels.length !== 2)) return undefined;
  const at = (i: number, j: number) => {
    const cell = cells.find((c) => c.index[0] === i && c.index[1] === j);
    return cell && score.get(cell.id);
  };
  const corners = [at(0, 0), at(1, 0), at(0, 1), at(1, 1)];
  if (corners.some((c) => c === undefined)) return undefined;
  const { first, second, interaction } = effectsOf(corners as [number, number, number, number]);
  const say = (k: 0 | 1, effect: number) => {
    const { factor, axis } = axes[k]!;
    const [a, b] = axis.levels.map((l) => levelWords(factor, l));
    return `${factor.label} ${a} → ${b}: ${effect >= 0 ? '+' : '−'}${show(Math.abs(effect), 1)} points`;
  };
  const depend =
    Math.abs(interaction) >= 0.5
      ? `they depend on one another (interaction ${interaction >= 0 ? '+' : '−'}${show(Math.abs(interaction), 1)}), so settle them together`
      : 'they do not depend on one another';
  return `${say(0, first)}; ${say(1, second)}; ${depend}`;
}
