import { rounded, show } from '#core/base';
import { factorOf } from '#core/factors';
import type { Inspection } from '#core/inspect';
import type { Reading } from '#core/judge';
import { levelsOf, MOST_LEVELS } from '#core/plan';
import type { Planned, Trial } from '#core/trial';
import { settleMap } from './map';
import { passOf } from './passes';
import {
  highestBeforeFault,
  lastGoodLess,
  lowestWithoutFault,
  middleOfCleanBand,
  type NoPick,
  type Pick,
  type Rule,
} from './rules';
import { cellScores, type CellScore, type Weights } from './scores';
import { smooth, type Smoothed } from './smooth';

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
  response: { level: number[]; mean: number[]; low: number[]; high: number[] } | undefined;
}

export interface SettleOptions {
  rule?: RuleId;
  weights?: Weights;
  /** What reading the file back showed; cells that differ from the plan are void. */
  inspection?: Inspection | undefined;
}

/**
 * Readings → a value by a stated rule, or the plain reason why there is none.
 */
export function settle(plan: Planned, readings: readonly Reading[], options: SettleOptions = {}): Settled {
  const { trial, cells } = plan;
  const axis = trial.axes[0];
  const factor = axis && factorOf(axis.factor);
  const none: Settled = { choices: [], flags: [], next: null, nextWhy: '', scores: [], response: undefined };
  if (!axis || !factor)
    return { ...none, flags: [{ code: 'unread', message: 'this trial varies nothing', cells: [] }] };
  if (trial.axes.length === 2) return settleMap(plan, readings, options, none);
  const voids = (options.inspection?.cells ?? []).filter((c) => !c.ok).map((c) => c.id);
  const scores = cellScores(cells, factor.id, readings, options.weights ?? {}, voids);
  const flags: Flag[] = [];
  if (voids.length > 0) {
    flags.push({
      code: 'void',
      message: `the file differed from the plan in ${cellWords(voids, cells)}: left out`,
      cells: voids,
    });
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
  const sorted = read.map((s) => s.level);
  const step = (sorted[sorted.length - 1]! - sorted[0]!) / (sorted.length - 1);
  const toX = (level: number) => (level - sorted[0]!) / step;
  const toLevel = (x: number) => sorted[0]! + x * step;
  const curve = smooth(
    { x: sorted.map(toX), y: read.map((s) => s.together!), n: read.map((s) => Math.max(1, s.n)) },
    trial.seed,
  );
  const response = { level: curve.x.map(toLevel), mean: curve.mean, low: curve.low, high: curve.high };
  const result: Settled = { ...none, flags, scores, response };

  if (isFlat(read, curve)) {
    flags.push({
      code: 'no-visible-difference',
      message: `no visible difference between ${show(sorted[0]!)} and ${show(sorted[sorted.length - 1]!)} ${factor.unit}: widen the sweep`,
      cells: read.map((s) => s.cell),
    });
    return withNext(result, plan, 'both', sorted, step);
  }
  const rule = options.rule ?? 'best-combined';
  const own = scoreRules.find((r) => r.id === rule);
  const found: Pick | NoPick = own
    ? own.pick(read, factor.unit, factor.id)
    : bestCombined(read, curve, toLevel, step, factor.unit, read.length === scores.length);
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
  const interval = (q: number) =>
    toLevel(curve.tops[Math.min(curve.tops.length - 1, Math.max(0, Math.round(q * (curve.tops.length - 1))))]!);
  const fine = (v: number) => rounded(Math.round(v / factor.settable) * factor.settable, 6);
  result.choices.push({
    factor: factor.id,
    choice: fine(found.value),
    low: rounded(found.low, 6),
    high: rounded(found.high, 6),
    interval95: [rounded(interval(0.025), 4), rounded(interval(0.975), 4)],
    rule,
    why: [found.why, passOf(trial, factor.id, found.value)?.words].filter((w) => w).join('; '),
  });
  return withRefine(result, plan, fine(found.value), step, factor.settable);
}

function cellWords(ids: readonly number[], cells: Planned['cells']): string {
  const words = ids.map((id) => cells.find((c) => c.id === id)?.label ?? String(id));
  return words.length === 1 ? `the cell ${words[0]}` : `the cells ${words.join(', ')}`;
}

const advice = (n: NoPick): string =>
  n.toward === 'both'
    ? 'widen the sweep to both sides'
    : `extend the sweep ${n.toward === 'lower' ? 'downwards' : 'upwards'}`;

/** Flat, when neither the readings nor the curve differ by more than what one person scatters. */
function isFlat(read: readonly CellScore[], curve: Smoothed): boolean {
  const scores = read.map((s) => s.together!);
  const spread = Math.max(...scores) - Math.min(...scores);
  const rise = Math.max(...curve.mean) - Math.min(...curve.mean);
  return spread < 1e-9 || rise < 0.3 || curve.flat > 0.4;
}

function bestCombined(
  read: readonly CellScore[],
  curve: Smoothed,
  toLevel: (x: number) => number,
  step: number,
  unit: string,
  whole: boolean,
): Pick | NoPick {
  let top = 0;
  for (let i = 1; i < curve.mean.length; i++) if (curve.mean[i]! > curve.mean[top]!) top = i;
  const last = read.length - 1;
  const x = curve.x[top]!;
  if (x < 0.35 || x > curve.x[curve.x.length - 1]! - 0.35) {
    const low = x < 0.35;
    const cell = read[low ? 0 : last]!.cell;
    return {
      code: 'at-the-edge',
      message: `the best lies at the edge of ${whole ? 'the sweep' : 'what is read'}, ${show(toLevel(low ? 0 : last))} ${unit}`,
      toward: low ? 'lower' : 'higher',
      cells: [cell],
    };
  }
  const near = curve.mean[top]! - 0.25;
  let i = top;
  let j = top;
  while (i > 0 && curve.mean[i - 1]! >= near) i--;
  while (j < curve.mean.length - 1 && curve.mean[j + 1]! >= near) j++;
  // The band is never narrower than what bands of one step can tell.
  const low = Math.min(toLevel(curve.x[i]!), toLevel(x) - step / 2);
  const high = Math.max(toLevel(curve.x[j]!), toLevel(x) + step / 2);
  const cells = read.filter((s) => s.level >= low - 1e-9 && s.level <= high + 1e-9).map((s) => s.cell);
  return {
    value: toLevel(x),
    low: Math.max(toLevel(0), low),
    high: Math.min(toLevel(curve.x[curve.x.length - 1]!), high),
    why: `the combined score is highest there, ${show(curve.mean[top]!, 1)} of 4; within a quarter point of it from ${show(low, 1)} to ${show(high, 1)} ${unit}`,
    cells,
  };
}

/** A trial that goes further where the answer lies beyond this one. */
function withNext(
  result: Settled,
  { trial }: Planned,
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

/** A finer trial around the answer, where finer steps can still be set. */
function withRefine(result: Settled, { trial }: Planned, value: number, step: number, settable: number): Settled {
  const factor = factorOf(trial.axes[0]!.factor)!;
  const finer = Math.max(settable, Math.round(step / 2.5 / settable) * settable);
  if (finer > 0.6 * step) return result;
  const n = Math.min(MOST_LEVELS, 2 * Math.ceil((1.6 * step) / finer) + 1);
  const half = (n - 1) / 2;
  const levels = Array.from({ length: n }, (_, i) => rounded(value + (half - i) * finer, 6));
  const next = nextTrial(trial, levels);
  if (!next) return result;
  return { ...result, next, nextWhy: `or refine: ${levelWords(next, factor.unit)}` };
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
  const levels = trial.axes[0]!.levels;
  const step = Math.abs(levels[1]! - levels[0]!);
  return `${show(Math.min(...levels))}–${show(Math.max(...levels))} ${unit} in ${show(step)} ${unit} steps`;
}
