import { rounded, show } from '#core/base';
import { factorOf, levelWords as wordsOf, type Factor } from '#core/factors';
import type { Inspection } from '#core/inspect';
import { counted, qualityOf, scoreOf, type Order, type Reading } from '#core/judge';
import { levelsOf, MOST_LEVELS, type Cell } from '#core/plan';
import type { Trial } from '#core/trial';
import { costScore, type LevelCost } from './costs';
import { settleMap } from './map';
import { passOf } from './passes';
import type { Surface } from './surface';
import {
  highestBeforeFault,
  isClean,
  lastGoodLess,
  lowestWithoutFault,
  middleOfCleanBand,
  type NoPick,
  type Pick,
  type Rule,
} from './rules';
import { cellScores, type CellScore, type Weights } from './scores';
import {
  combined,
  crossingsOf,
  quantile,
  respond,
  soundTo,
  topsOf,
  type Evidence,
  type Response,
  type Shape,
} from './response';
import { nextPositions } from './teach';

const scoreRules: readonly Rule[] = [
  lowestWithoutFault,
  middleOfCleanBand,
  highestBeforeFault,
  lastGoodLess(0),
  lastGoodLess(5),
  lastGoodLess(10),
  lastGoodLess(15),
];

/** The choosing rules by id. */
export const rules: readonly { id: string; label: string }[] = [
  { id: 'best-combined', label: 'best combined score' },
  { id: 'most-preferred', label: 'most preferred in pairs' },
  { id: 'cheapest-that-passes', label: 'least time that passes' },
  ...scoreRules.filter((r) => r.id !== 'less-0').map(({ id, label }) => ({ id, label })),
];

/** The rule that suits what varies: a limit keeps a margin, retraction is kept short, else the best together. */
export function usualRule(trial: Trial): string {
  const factors = trial.axes.map((a) => a.factor);
  if (factors.includes('volumetric-flow')) return 'less-5';
  return factors.length === 1 && factors[0] === 'retraction-distance' ? lowestWithoutFault.id : 'best-combined';
}

export type RuleId = (typeof rules)[number]['id'] | string;

/** A settled value with its reason. Values in the factor's unit, `choice` rounded to what can be set. */
export interface Choice {
  factor: string;
  choice: number;
  low: number;
  high: number;
  interval95: [number, number];
  rule: string;
  why: string;
  /** Where the fault most likely begins or ends, for rules that go by a fault. */
  begins?: number;
}

/** A plain answer instead of, or beside, a number. */
export interface Flag {
  code:
    | 'unread'
    | 'no-visible-difference'
    | 'at-the-edge'
    | 'not-bracketed'
    | 'nothing-clean'
    | 'no-fault'
    | 'void'
    | 'coarse'
    | 'contradictory'
    | 'effects'
    | 'confounded'
    | 'named';
  message: string;
  cells: number[];
}

export interface Settled {
  choices: Choice[];
  flags: Flag[];
  /** The next trial worth making; null where none is needed. */
  next: Trial | null;
  nextWhy: string;
  scores: CellScore[];
  /** The combined response over the levels, in the factor's unit. */
  response: Curve | undefined;
  /** The response of each quality by itself. */
  byQuality: Record<string, Curve>;
  /** Of two factors: the response over places in level steps, the second axis across. */
  surface?: Surface;
}

/** A response over the levels with its 95 % band. */
export interface Curve {
  level: number[];
  mean: number[];
  low: number[];
  high: number[];
}

/** A planned trial as far as settling goes. */
export interface Swept {
  trial: Trial;
  cells: readonly Cell[];
}

export interface SettleOptions {
  rule?: RuleId;
  weights?: Weights;
  /** What reading the file back showed; cells that differ from the plan are void. */
  inspection?: Inspection | undefined;
  /** Readings of earlier trials of the same factor on the same specimen, which this one goes on from. */
  earlier?: readonly { cells: readonly Cell[]; readings: readonly Reading[] }[];
  /** The order that answers to “which is better?” give, by place in the list of cells from the lowest level. */
  preferred?: Order | undefined;
  /** What each level costs by the planner. */
  costs?: readonly LevelCost[];
  /** What differed between the prints that are read together. */
  differed?: readonly string[];
}

/** More evidence than this for a shape over a flat line is a visible difference: eleven to five, for one quality. */
const DIFFERENCE = Math.log(2.2);
/** Below this mean score nothing is any good, and less evidence is enough to follow a side. */
const POOR = 1.5;
const HINT = -1.1;
/** With this share of the drawn tops outside what is read, the best lies at the edge. */
const OUTSIDE = 0.31;
/**
 * After one trial the drawn curves differ more than truths do: calibrated on the simulated judge, over all its families
 * together (docs/choosing.md).
 */
const FIRST_INTERVAL = 0.92;
/** Levels that a next trial is chosen from, at most about so many. */
const MOST_CANDIDATES = 72;
/** Half-way between a trace (3) and a fault (2). */
const FAULT_AT = 2.5;

/**
 * Readings → a value by a stated rule, or the plain reason why there is none.
 */
export function settle(plan: Swept, said: readonly Reading[], options: SettleOptions = {}): Settled {
  const readings = counted(said);
  const { trial, cells } = plan;
  const axis = trial.axes[0];
  const factor = axis && factorOf(axis.factor);
  const none: Settled = {
    choices: [],
    flags: [],
    next: null,
    nextWhy: '',
    scores: [],
    response: undefined,
    byQuality: {},
  };
  if (!axis || !factor)
    return { ...none, flags: [{ code: 'unread', message: 'this trial varies nothing', cells: [] }] };
  const flags: Flag[] = [];
  if ((options.differed ?? []).length > 0)
    flags.push({
      code: 'confounded',
      message: `the prints read together differed in more than what varies (${options.differed!.join('; ')}): their difference cannot be told from the levels’`,
      cells: [],
    });
  if (trial.axes.length === 2) {
    const map = settleMap(plan, readings, options, none);
    return { ...map, flags: [...flags, ...map.flags] };
  }
  const voids = (options.inspection?.cells ?? []).filter((c) => !c.ok).map((c) => c.id);
  const weights = options.weights ?? {};
  const scores = cellScores(cells, factor.id, readings, weights, voids);
  if (voids.length > 0) {
    flags.push({
      code: 'void',
      message: `the file differed from the plan in ${cellWords(voids, cells)}: left out`,
      cells: voids,
    });
  }
  if (options.rule === 'most-preferred') {
    const inOrder = [...cells].sort((a, b) => a.levels[factor.id]! - b.levels[factor.id]!);
    const choice = mostPreferred(inOrder, factor, options.preferred);
    return 'choice' in choice
      ? { ...none, flags, scores, choices: [choice] }
      : { ...none, flags: [...flags, choice], scores };
  }
  const read = scores.filter((s) => s.together !== undefined);
  if (read.length < 3) {
    flags.push({
      code: 'unread',
      message: `${read.length === 0 ? 'nothing is' : `only ${read.length} cells are`} read; a value needs at least three`,
      cells: [],
    });
    return { ...none, flags, scores };
  }
  if (factor.choices) {
    const best = read.reduce((a, b) => (b.together! > a.together! ? b : a));
    flags.push({
      code: 'named',
      message: `these are names, not amounts: nothing lies between them; ${factor.choices[best.level] ?? ''} has the best scores`,
      cells: [best.cell],
    });
    return { ...none, flags, scores };
  }
  flags.push(...contradictions(readings, cells, factor));
  const study = studied(cells, factor.id, readings, options, voids, trial.seed);
  const { toLevel, span } = study;
  // What earlier trials showed belongs to the same answer; its cells are not those of this print.
  const known = (options.earlier ?? []).flatMap((t) =>
    cellScores(t.cells, factor.id, t.readings, weights, []).flatMap((s) =>
      s.together === undefined ? [] : [{ ...s, cell: -1 }],
    ),
  );
  const together = [...read, ...known].sort((a, b) => a.level - b.level);
  const sorted = together.map((s) => s.level);
  const step = toLevel(1) - toLevel(0);
  const result: Settled = {
    ...none,
    flags,
    scores,
    response: curveOf(study.grid, study.together, study),
    byQuality: Object.fromEntries(study.parts.map((p) => [p.track, curveOf(study.grid, p.response.draws, study)])),
  };

  const weighed = study.parts.filter((p) => p.weight > 0);
  // Where nothing is any good, the smallest sign of a side is worth following.
  const poor = together.reduce((sum, s) => sum + s.together!, 0) / together.length < POOR;
  if (weighed.every((p) => p.response.evidence < (poor ? HINT : DIFFERENCE))) {
    flags.push({
      code: 'no-visible-difference',
      message: `no visible difference between ${wordsOf(factor, sorted[0]!)} and ${wordsOf(factor, sorted[sorted.length - 1]!)}: widen the sweep`,
      cells: read.map((s) => s.cell),
    });
    return withNext(result, plan, 'both', sorted, step);
  }
  const rule = options.rule ?? 'best-combined';
  const own = scoreRules.find((r) => r.id === rule);
  const tops = topsOf(study.grid, study.together);
  let target = tops;
  let begins: number | undefined;
  let found: Pick | NoPick;
  if (own) {
    found = own.pick(together, factor.unit, factor.id);
    const worst = worstOf(study, factor.id, rule);
    if (worst && !('code' in found)) found = keptClear(found, study, worst, rule, factor);
    const crossings = worst ? crossingsOf(study.grid, worst.draws, FAULT_AT) : [];
    if (crossings.some((c) => !Number.isNaN(c))) {
      target = crossings;
      const at = toLevel(quantile(crossings, 0.5));
      if (rule !== middleOfCleanBand.id && at >= sorted[0]! && at <= sorted[sorted.length - 1]!) begins = at;
    }
  } else if (rule === 'cheapest-that-passes') found = cheapest(together, options.costs ?? [], factor);
  else found = bestCombined(together, study, tops, step, factor, read.length === scores.length);
  if ('code' in found) {
    const beyond = scores.filter(
      (s) =>
        s.together === undefined &&
        (found.toward !== 'higher' ? s.level < sorted[0]! : s.level > sorted[sorted.length - 1]!),
    );
    if (beyond.length > 0) {
      flags.push({
        code: found.code,
        message: `${found.message}: read the bands beyond it first`,
        cells: beyond.map((s) => s.cell),
      });
      return result;
    }
    flags.push({ code: found.code, message: `${found.message}: ${advice(found)}`, cells: found.cells });
    return withNext(result, plan, found.toward, sorted, step);
  }
  const fine = (v: number) => settable(v, factor);
  const middle = quantile(target, 0.5);
  const share = known.length === 0 ? FIRST_INTERVAL : 1;
  const interval = [0.025, 0.975].map((q) => toLevel(middle + share * (quantile(target, q) - middle))) as [
    number,
    number,
  ];
  const beginning = begins === undefined ? '' : `the fault most likely lies at ${wordsOf(factor, fine(begins))}`;
  result.choices.push({
    factor: factor.id,
    choice: fine(found.value),
    low: Math.min(fine(found.low), fine(found.value)),
    high: Math.max(fine(found.high), fine(found.value)),
    interval95: [rounded(interval[0], 6), rounded(interval[1], 6)],
    rule,
    why: [found.why, beginning, passOf(trial, factor.id, found.value)?.words].filter((w) => w).join('; '),
    ...(begins !== undefined && { begins }),
  });
  if (interval[1] - interval[0] > 2.5 * step && span > 3)
    flags.push({
      code: 'coarse',
      message: `the readings leave it open from ${wordsOf(factor, fine(Math.max(sorted[0]!, interval[0])))} to ${wordsOf(factor, fine(Math.min(sorted[sorted.length - 1]!, interval[1])))}: read again, or refine`,
      cells: [],
    });
  return withRefine(result, plan, study, target, step, options.costs ?? []);
}

/** The nearest value that can be set. */
const settable = (value: number, factor: Factor): number =>
  rounded(Math.round(value / factor.settable) * factor.settable, 6);

/** What the readings say of each quality and together, on one scale of level steps. */
interface Study {
  parts: { track: string; weight: number; response: Response }[];
  together: Float64Array[];
  grid: Float64Array;
  /** The last position of the sweep; the first is 0. */
  span: number;
  toX(level: number): number;
  toLevel(x: number): number;
}

/** A quality that a too low value spoils gets better upwards, one that a too high value spoils downwards. */
const shapeOf = (track: string, factor: string): Shape => {
  const fault = qualityOf(track)?.fault[factor];
  return fault === 'too low' ? 'rising' : fault === 'too high' ? 'falling' : 'peak';
};

function studied(
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
  // The widest sweep gives the step: what is finer lies between.
  const widths = all.map((t) => {
    const own = t.cells.flatMap((c) => c.levels[factor] ?? []);
    return (Math.max(...own) - Math.min(...own)) / Math.max(1, new Set(own).size - 1);
  });
  const step = Math.max(...widths, (high - low) / 14) || 1;
  const toX = (level: number) => (level - low) / step;
  const toLevel = (x: number) => low + x * step;
  const span = toX(high);
  const byTrack = new Map<string, Evidence[]>();
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
      }
    }
  });
  const parts = [...byTrack]
    .sort((a, b) => (a[0] < b[0] ? -1 : 1))
    .map(([track, evidence], k) => ({
      track,
      weight: options.weights?.[track] ?? 1,
      response: remembered(evidence, shapeOf(track, factor), span, seed + k),
    }));
  const weighed = parts.some((p) => p.weight > 0)
    ? parts.filter((p) => p.weight > 0)
    : parts.map((p) => ({ ...p, weight: 1 }));
  const grid = weighed[0]!.response.grid;
  return {
    parts,
    grid,
    span,
    toX,
    toLevel,
    together: withCosts(combined(weighed), weighed, grid, toLevel, factor, cells, options),
  };
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
  return (['time', 'mass'] as const).reduce((now, key) => {
    const weight = weights[key === 'time' ? 'time' : 'filament'] ?? 0;
    if (weight <= 0 || costs.length < 2) return now;
    const least = Math.min(...costs.map((c) => c[key]));
    const points = costs
      .flatMap((c) => {
        const level = cells.find((q) => q.id === c.cell)?.levels[factor];
        return level === undefined ? [] : [{ level, score: costScore(c[key], least) }];
      })
      .sort((a, b) => a.level - b.level);
    const share = weight / (sum + weight);
    return now.map((curve) => curve.map((v, k) => (1 - share) * v + share * between(points, toLevel(grid[k]!))));
  }, draws);
}

function between(points: readonly { level: number; score: number }[], level: number): number {
  const i = points.findIndex((p) => p.level >= level);
  if (i < 0) return points[points.length - 1]!.score;
  const [a, b] = [points[Math.max(0, i - 1)]!, points[i]!];
  return b.level === a.level ? b.score : a.score + ((b.score - a.score) * (level - a.level)) / (b.level - a.level);
}

/** Responses worked out lately: one reading changes one quality only. */
const lately = new Map<string, Response>();

/**
 * The response of a quality: of the shape its fault would give, unless the readings speak for a peak by more than four
 * to one. A quality can fail on the far side of the optimum too.
 */
function remembered(evidence: Evidence[], shape: Shape, span: number, seed: number): Response {
  const ordered = [...evidence].sort((a, b) => a.x - b.x || a.score - b.score);
  const key = `${shape} ${span} ${seed} ${ordered.map((e) => `${e.x}:${e.score}`).join(' ')}`;
  let found = lately.get(key);
  if (!found) {
    found = respond(ordered, shape, span, seed);
    if (shape !== 'peak') {
      const peak = respond(ordered, 'peak', span, seed);
      if (peak.evidence > found.evidence + Math.log(4)) found = peak;
    }
    if (lately.size > 40) lately.delete(lately.keys().next().value!);
    lately.set(key, found);
  }
  return found;
}

/** Bands worked out lately: of a quality whose readings have not changed, neither has its band. */
const bands = new WeakMap<readonly Float64Array[], { key: string; curve: Curve }>();

/** Mean and 95 % band of drawn curves over the sweep itself, by level. */
function curveOf(grid: Float64Array, draws: readonly Float64Array[], { toLevel, span }: Study): Curve {
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

/** The quality whose fault decides a rule: of those that the value spoils on that side, the one that fails first. */
function worstOf(study: Study, factor: string, rule: string): Response | undefined {
  const rises = rule === lowestWithoutFault.id;
  const own = study.parts.filter((p) => {
    const shape = shapeOf(p.track, factor);
    return p.weight > 0 && (rises ? shape === 'rising' : shape === 'falling');
  });
  const at = (r: Response) => quantile(crossingsOf(r.grid, r.draws, FAULT_AT), 0.5);
  return own
    .map((p) => p.response)
    .filter((r) => !Number.isNaN(at(r)))
    .sort((a, b) => (rises ? at(b) - at(a) : at(a) - at(b)))[0];
}

/**
 * The value of a rule that goes by a fault, moved to where the response is as good as ever with 98 %: at most a step
 * off the level that still looked good, which may have been luck. A rule with a margin of its own keeps it.
 */
function keptClear(found: Pick, study: Study, worst: Response, rule: string, factor: Factor): Pick {
  const rises = rule === lowestWithoutFault.id;
  if (!rises && rule !== highestBeforeFault.id) return found;
  const sound = soundTo(worst.grid, worst.draws, rises ? -1 : 1, study.span);
  const at = study.toLevel(quantile(sound, rises ? 0.98 : 0.02));
  const step = study.toLevel(1) - study.toLevel(0);
  const inside = Math.min(study.toLevel(study.span), Math.max(study.toLevel(0), at));
  const value = rises
    ? Math.min(found.value + step, Math.max(found.value, inside))
    : Math.max(found.value - step, Math.min(found.value, inside));
  if (Math.abs(value - found.value) < factor.settable / 2) return found;
  return {
    ...found,
    value,
    low: Math.min(found.low, value),
    high: Math.max(found.high, value),
    why: `${found.why}; ${wordsOf(factor, settable(value, factor))} keeps clear of it with 98 %`,
  };
}

/** Replicates of one cell that are two points or more apart: the person, the place or the print differed. */
function contradictions(readings: readonly Reading[], cells: readonly Cell[], factor: Factor): Flag[] {
  const hit = new Map<string, number[]>();
  for (const cell of cells) {
    const byTrack = new Map<string, number[]>();
    for (const r of readings) {
      const score = r.excluded === undefined && qualityOf(r.track) ? scoreOf(r.value) : undefined;
      if (score !== undefined && r.cells.includes(cell.id))
        byTrack.set(r.track, [...(byTrack.get(r.track) ?? []), score]);
    }
    for (const [track, said] of byTrack)
      if (Math.max(...said) - Math.min(...said) >= 2) hit.set(track, [...(hit.get(track) ?? []), cell.id]);
  }
  return [...hit].map(([track, ids]) => ({
    code: 'contradictory' as const,
    message: `readings of ${qualityOf(track)?.label ?? track} contradict at ${ids.map((id) => wordsOf(factor, cells.find((c) => c.id === id)!.levels[factor.id]!)).join(', ')}: look at ${ids.length === 1 ? 'it' : 'them'} again, or print ${ids.length === 1 ? 'it' : 'them'} again`,
    cells: ids,
  }));
}

/** The piece that is most likely best in the order by pairs; its band holds every piece that may be best too. */
function mostPreferred(cells: readonly Cell[], factor: Factor, order: Order | undefined): Choice | Flag {
  if (!order || Math.max(...order.best) < 0.3)
    return {
      code: 'unread',
      message: order
        ? 'no piece is preferred clearly yet: answer more pairs'
        : 'no pair is answered yet; ask “which is better?” under Read',
      cells: [],
    };
  const top = order.order[0]!;
  const levels = cells.map((c) => c.levels[factor.id]!);
  const may = levels.filter((_, i) => order.best[i]! >= 0.1 || i === top);
  const [low, high] = [Math.min(...may), Math.max(...may)];
  const edge = levels[top] === Math.min(...levels) || levels[top] === Math.max(...levels);
  return {
    factor: factor.id,
    choice: levels[top]!,
    low,
    high,
    interval95: [low, high],
    rule: 'most-preferred',
    why: `in pairs ${wordsOf(factor, levels[top]!)} is the best piece with ${show(100 * order.best[top]!, 0)} %${edge ? '; it stands at the edge of the sweep, so extend it to be sure' : ''}`,
  };
}

/** The level that takes least time, then least filament, among those that pass. */
function cheapest(read: readonly CellScore[], costs: readonly LevelCost[], factor: Factor): Pick | NoPick {
  const of = new Map(costs.map((c) => [c.cell, c]));
  const passing = read.filter((s) => isClean(s) && of.has(s.cell));
  if (passing.length === 0)
    return {
      code: 'nothing-clean',
      message:
        costs.length === 0
          ? 'what each level costs is not known until the file is made'
          : 'no level passes on every quality read',
      toward: 'both',
      cells: [],
    };
  const cost = (s: CellScore) => of.get(s.cell)!;
  const best = passing.reduce((a, b) => {
    const [x, y] = [cost(a), cost(b)];
    const sooner = y.time < x.time - 0.005 * x.time;
    const alike = Math.abs(y.time - x.time) <= 0.005 * x.time;
    return sooner || (alike && y.mass < x.mass) ? b : a;
  });
  const levels = passing.map((s) => s.level);
  const { time, mass } = cost(best);
  return {
    value: best.level,
    low: Math.min(...levels),
    high: Math.max(...levels),
    why: `of the ${passing.length} that pass, ${wordsOf(factor, best.level)} takes least: ${show(time / 60, 1)} min and ${show(mass, 2)} g`,
    cells: passing.map((s) => s.cell),
  };
}

function cellWords(ids: readonly number[], cells: readonly Cell[]): string {
  const words = ids.map((id) => cells.find((c) => c.id === id)?.label ?? String(id));
  return words.length === 1 ? `the cell ${words[0]}` : `the cells ${words.join(', ')}`;
}

const advice = (n: NoPick): string =>
  n.toward === 'both'
    ? 'widen the sweep to both sides'
    : `extend the sweep ${n.toward === 'lower' ? 'downwards' : 'upwards'}`;

function bestCombined(
  read: readonly CellScore[],
  { grid, together, toX, toLevel }: Study,
  tops: readonly number[],
  step: number,
  factor: Factor,
  whole: boolean,
): Pick | NoPick {
  const last = read.length - 1;
  const [from, to] = [toX(read[0]!.level), toX(read[last]!.level)];
  const below = tops.filter((t) => t < from).length / tops.length;
  const above = tops.filter((t) => t > to).length / tops.length;
  const mean = grid.map(
    (_, k) => together.reduce((sum, d) => sum + Math.min(4.3, Math.max(0, d[k]!)), 0) / together.length,
  );
  let top = 0;
  for (let i = 1; i < mean.length; i++) if (mean[i]! > mean[top]! + 1e-9) top = i;
  const x = grid[top]!;
  if (below + above > OUTSIDE || x < from || x > to) {
    const low = below > above || x < from;
    return {
      code: 'at-the-edge',
      message: `the best lies at the edge of ${whole ? 'the sweep' : 'what is read'}, ${wordsOf(factor, read[low ? 0 : last]!.level)}`,
      toward: low ? 'lower' : 'higher',
      cells: [read[low ? 0 : last]!.cell],
    };
  }
  const near = mean[top]! - 0.25;
  let i = top;
  let j = top;
  while (i > 0 && mean[i - 1]! >= near) i--;
  while (j < mean.length - 1 && mean[j + 1]! >= near) j++;
  // The band is never narrower than what bands of one step can tell.
  const low = Math.min(toLevel(grid[i]!), toLevel(x) - step / 2);
  const high = Math.max(toLevel(grid[j]!), toLevel(x) + step / 2);
  const cells = read.filter((s) => s.level >= low - 1e-9 && s.level <= high + 1e-9).map((s) => s.cell);
  return {
    value: toLevel(x),
    low: Math.max(toLevel(from), low),
    high: Math.min(toLevel(to), high),
    why: `the combined score is highest there, ${show(mean[top]!, 1)} of 4; within a quarter point of it from ${wordsOf(factor, settable(low, factor))} to ${wordsOf(factor, settable(high, factor))}`,
    cells,
  };
}

/** A trial that goes further where the answer lies beyond this one. */
function withNext(
  result: Settled,
  { trial }: Swept,
  toward: NoPick['toward'],
  levels: readonly number[],
  step: number,
): Settled {
  const factor = factorOf(trial.axes[0]!.factor)!;
  const low = levels[0]!;
  const high = levels[levels.length - 1]!;
  const limits = factor.limits(trial.context);
  const from = Math.max(limits.min, toward === 'higher' ? high - 2 * step : low - 3 * step);
  const to = Math.min(limits.max, toward === 'lower' ? low + 2 * step : high + 3 * step);
  // Both ends belong to the sweep; the steps between them are as even as can be set.
  const count = Math.min(
    MOST_LEVELS,
    Math.max(3, Math.round((to - from) / (toward === 'both' ? 1.5 * step : step)) + 1),
  );
  const even = Array.from({ length: count }, (_, i) => to - ((to - from) * i) / (count - 1));
  const raw = levelsOf(
    {
      mode: 'list',
      levels: [...new Set(even.map((v) => rounded(Math.round(v / factor.settable) * factor.settable, 6)))],
    },
    'levels',
  );
  if (!raw.ok) return result;
  const next = nextTrial(trial, raw.value.levels);
  return {
    ...result,
    next,
    nextWhy: next
      ? `${toward === 'both' ? 'a wider sweep' : 'further ' + (toward === 'lower' ? 'down' : 'up')}: ${levelWords(next, factor.unit)}`
      : '',
  };
}

/**
 * A finer trial whose levels teach most for their time, where finer steps can still be set: a threshold gets levels near
 * the step, a peak on its flanks.
 */
function withRefine(
  result: Settled,
  { trial, cells }: Swept,
  study: Study,
  target: readonly number[],
  step: number,
  costs: readonly LevelCost[],
): Settled {
  const factor = factorOf(trial.axes[0]!.factor)!;
  if (factor.settable > 0.6 * step) return result;
  const limits = factor.limits(trial.context);
  const [from, to] = [study.toLevel(-1), study.toLevel(study.span + 1)];
  const finest = Math.max(step / 10, (to - from) / MOST_CANDIDATES);
  const grain = Math.max(1, Math.round(finest / factor.settable)) * factor.settable;
  const times = costs
    .flatMap((c) => {
      const level = cells.find((q) => q.id === c.cell)?.levels[factor.id];
      return level === undefined ? [] : [{ level, score: c.time }];
    })
    .sort((a, b) => a.level - b.level);
  const usual = times.reduce((s, t) => s + t.score, 0) / Math.max(1, times.length);
  const candidates: { x: number; cost: number }[] = [];
  for (let k = Math.ceil(from / grain - 1e-9); k * grain <= to + 1e-9 && candidates.length < 400; k++) {
    const level = rounded(k * grain, 6);
    if (level < limits.min || level > limits.max) continue;
    candidates.push({ x: study.toX(level), cost: usual > 0 ? between(times, level) / usual : 1 });
  }
  const count = Math.min(8, Math.max(3, trial.axes[0]!.levels.length));
  const levels = nextPositions(study.parts, target, candidates, count).map((x) => rounded(study.toLevel(x), 6));
  if (levels.length < 3) return result;
  const falls = trial.axes[0]!.levels[0]! > trial.axes[0]!.levels[trial.axes[0]!.levels.length - 1]!;
  const next = nextTrial(trial, falls ? levels.reverse() : levels);
  if (!next) return result;
  return {
    ...result,
    next,
    nextWhy: `or refine where readings teach most: ${next.axes[0]!.levels.map((v) => show(v * factor.shown, 3)).join(', ')} ${factor.unit}`,
  };
}

function nextTrial(trial: Trial, levels: number[]): Trial | null {
  const { min, max } = factorOf(trial.axes[0]!.factor)!.limits(trial.context);
  const kept = levels.filter((v) => v >= min && v <= max);
  const before = trial.axes[0]!.levels;
  if (kept.length < 3 || kept.every((v) => before.includes(v))) return null;
  const factor = factorOf(trial.axes[0]!.factor)!;
  const show_ = (v: number) => show(v * factor.shown);
  return {
    ...trial,
    title: `${trial.title.split(',')[0]}, ${show_(kept[0]!)} → ${show_(kept[kept.length - 1]!)} ${factor.unit}`,
    axes: [{ ...trial.axes[0]!, levels: kept }],
  };
}

function levelWords(trial: Trial, unit: string): string {
  const { factor, levels } = trial.axes[0]!;
  const { shown } = factorOf(factor)!;
  const say = (v: number) => show(v * shown);
  const step = Math.abs(levels[1]! - levels[0]!);
  return `${say(Math.min(...levels))}–${say(Math.max(...levels))} ${unit} in ${say(step)} ${unit} steps`;
}
