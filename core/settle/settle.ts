import { rounded, show } from '#core/base';
import { factorOf, levelWords as wordsOf, type Factor } from '#core/factors';
import { counted, qualityOf, scoreOf, type Reading } from '#core/judge';
import type { Cell } from '#core/plan';
import type { Trial } from '#core/trial';
import { endOf, notPlainly } from './ends';
import { settleMap } from './map';
import { settleNamed } from './named';
import { withFiner, withNext, withRefine } from './next-trial';
import { passOf } from './passes';
import { leastPoor, leastPoorOf, poorEverywhere } from './poor';
import {
  answered,
  believed,
  bestCombined,
  cheaperOfEqual,
  cheapest,
  cheapestOfFlat,
  FAULT_AT,
  firstFaults,
  isLimit,
  keptClear,
  mostPreferred,
  worstOf,
} from './picks';
import { crossingsOf, quantile, topsOf } from './response';
import {
  highestBeforeFault,
  lastGoodLess,
  lowestWithoutFault,
  middleOfCleanBand,
  type NoPick,
  type Pick,
  type Rule,
} from './rules';
import { cellScores, weightsFor } from './scores';
import { strongerOfEqual } from './stronger';
import type { Flag, Settled, SettleOptions, Swept } from './settled';
import { curveOf, DIFFERENCE, meanAt, partAt, slopes, studied } from './study';
import { voidsOf } from './voids';

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

/** How values come about that no rule chooses among scores, by id. */
export const otherWays: readonly { id: string; label: string }[] = [
  { id: 'measured', label: 'by what is measured' },
  { id: 'by-hand', label: 'settled by hand' },
  { id: 'given', label: 'known before' },
];

/**
 * The rules that can choose among the levels of a factor: names have no lowest and no middle, and a share of a temperature
 * in °C is none.
 */
export const rulesFor = (factor: Factor | undefined): typeof rules => {
  if (factor?.choices) return rules.filter((r) => !scoreRules.some((s) => s.id === r.id));
  return factor?.unit === '°C' ? rules.filter((r) => !r.id.startsWith('less-')) : rules;
};

/** The rule that suits what varies: a limit keeps a margin, retraction is kept short, else the best together. */
export function usualRule(trial: Trial): string {
  const factors = trial.axes.map((a) => a.factor);
  if (factors.includes('volumetric-flow')) return 'less-5';
  return factors.length === 1 && factors[0] === 'retraction-distance' ? lowestWithoutFault.id : 'best-combined';
}

/** Below this mean score nothing is any good, and less evidence is enough to follow a side. */
const POOR = 1.5;
const HINT = -1.1;
/**
 * After one trial the drawn curves differ more than truths do: calibrated on the simulated judge, over all its families
 * together (docs/choosing.md).
 */
const FIRST_INTERVAL = 0.92;
/** A limit whose last good level and first bad one lie further apart than this share of it is worth a finer sweep. */
const WIDE_GAP = 0.1;

/**
 * Readings → a value by a stated rule, or the plain reason why there is none.
 */
export function settle(plan: Swept, said: readonly Reading[], asked: SettleOptions = {}): Settled {
  const readings = counted(said);
  const { trial, cells } = plan;
  const axis = trial.axes[0];
  // Of two factors each would be made up for by the other’s stop: there everything counts as it is.
  const weights = trial.axes.length === 1 ? weightsFor(axis!.factor, asked.weights ?? {}) : (asked.weights ?? {});
  const options: SettleOptions = { ...asked, weights };
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
  const { voids, flags: voided } = voidsOf(options.inspection, (own) => cellWords(own, cells), {
    cells,
    heated: options.heated,
  });
  // Names are read again by themselves: what was said of one in an earlier trial is one more reading of it.
  const again = factor.choices ? sameLevels(cells, factor.id, options.earlier ?? []) : [];
  const scores = cellScores(cells, factor.id, [...readings, ...again], weights, voids);
  flags.push(...voided);
  if (options.rule === 'most-preferred') {
    const inOrder = [...cells].sort((a, b) => a.levels[factor.id]! - b.levels[factor.id]!);
    const choice = mostPreferred(inOrder, factor, options.preferred);
    return 'choice' in choice
      ? { ...none, flags, scores, choices: [choice] }
      : { ...none, flags: [...flags, choice], scores };
  }
  const read = scores.filter((s) => s.together !== undefined);
  // Two names can be told apart; a shape over amounts needs a third.
  const needed = factor.choices ? 2 : 3;
  if (read.length < needed) {
    const said = ['nothing is', 'only one cell is'][read.length] ?? `only ${read.length} cells are`;
    flags.push({
      code: 'unread',
      message: `${said} read; ${factor.choices ? 'a choice needs at least two' : 'a value needs at least three'}`,
      cells: [],
    });
    return { ...none, flags, scores };
  }
  flags.push(...contradictions(readings, cells, factor));
  if (factor.choices) return settleNamed(plan, read, factor, options, { ...none, flags, scores });
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
    scores: scores.map((s) => (s.together === undefined ? s : { ...s, smoothed: meanAt(study, s.level) })),
    response: curveOf(study.grid, study.together, study),
    byQuality: Object.fromEntries(study.parts.map((p) => [p.track, curveOf(study.grid, p.response.draws, study)])),
  };

  const weighed = study.parts.filter((p) => p.weight > 0);
  flags.push(...poorEverywhere(study, factor));
  // Where nothing is any good, the smallest sign of a side is worth following.
  const poor = together.reduce((sum, s) => sum + s.together!, 0) / together.length < POOR;
  // The more qualities are asked, the sooner one shows something by chance: half of what full certainty of that would
  // cost is taken off, so that one which differs alone is still seen. And all may show a little of it together.
  const evidence = weighed.map((p) => p.response.evidence);
  const any = Math.max(...evidence) - Math.log(evidence.length) / 2;
  const all = evidence.reduce((sum, e) => sum + e, 0);
  if (Math.max(any, all) < (poor ? HINT : DIFFERENCE) && !slopes(weighed)) {
    const ends = `${wordsOf(factor, sorted[0]!)} and ${wordsOf(factor, sorted[sorted.length - 1]!)}`;
    const waits = scores.filter((s) => !voids.includes(s.cell) && !said.some((r) => r.cells.includes(s.cell)));
    if (waits.length > 0) {
      flags.push({
        code: 'no-visible-difference',
        message: `no visible difference between ${ends}: read the other levels first`,
        cells: waits.map((s) => s.cell),
      });
      return result;
    }
    const plain = cheapestOfFlat(read, options.costs ?? [], factor);
    if (plain) {
      flags.push({
        code: 'no-visible-difference',
        message: `no visible difference between ${ends}, and all pass: the cheapest is taken`,
        cells: read.map((s) => s.cell),
      });
      const { value, low, high, why } = plain;
      const interval95: [number, number] = [low, high];
      const choice = { factor: factor.id, choice: value, low, high, interval95, rule: 'cheapest-that-passes', why };
      return { ...result, choices: [choice] };
    }
    const least = poor && known.length === 0 ? leastPoor(read) : undefined;
    const finer = least && withFiner(result, plan, least);
    if (least && finer?.next) {
      flags.push({
        code: 'no-visible-difference',
        message: `everything is poor, ${wordsOf(factor, least.level)} least so: a good value may lie between the levels, so sweep finer there`,
        cells: [least.cell],
      });
      return finer;
    }
    const wider = withNext(result, plan, 'both', sorted, step);
    flags.push({
      code: 'no-visible-difference',
      message: `no visible difference between ${ends}: ${wider.next ? 'widen the sweep' : 'nothing beyond them can be set, so leave it, or read again'}`,
      cells: read.map((s) => s.cell),
    });
    return wider;
  }
  const rule = options.rule ?? 'best-combined';
  const own = scoreRules.find((r) => r.id === rule);
  const tops = topsOf(study.grid, study.ranked);
  let target = tops;
  let begins: number | undefined;
  let found: Pick | NoPick;
  /** Between which levels the answer lies at least; and of a limit, where they lie far apart. */
  let bracket: [number, number] | undefined;
  let gap: [number, number] | undefined;
  if (own) {
    found = own.pick(believed(together, study, factor.id, rule), factor);
    if (!('code' in found) && isLimit(rule)) {
      const good = rule === highestBeforeFault.id ? found.value : found.high;
      const bad = sorted.find((v) => v > good + 1e-9);
      if (bad !== undefined) bracket = [good, bad];
      if (bad !== undefined && bad - good > WIDE_GAP * good && bad - good > 2 * factor.settable) gap = bracket;
    } else if (!('code' in found) && rule === lowestWithoutFault.id) {
      const good = found.value;
      const bad = sorted.findLast((v) => v < good - 1e-9);
      if (bad !== undefined) bracket = [bad, good];
    }
    const worst = worstOf(study, factor.id, rule);
    if (worst && !('code' in found)) found = keptClear(found, study, worst, rule, factor);
    const crossings = isLimit(rule)
      ? firstFaults(together, study, factor.id, rule)
      : worst
        ? crossingsOf(study.grid, worst.draws, FAULT_AT)
        : [];
    if (crossings.some((c) => !Number.isNaN(c))) {
      target = crossings;
      const at = toLevel(quantile(crossings, 0.5));
      if (rule !== middleOfCleanBand.id && at >= sorted[0]! && at <= sorted[sorted.length - 1]!) begins = at;
    }
  } else if (rule === 'cheapest-that-passes') found = cheapest(together, options.costs ?? [], factor);
  else {
    found = bestCombined(together, study, tops, step, factor, read.length === scores.length);
    // Who weighs time or filament has said already what they are worth.
    if (!('code' in found) && !weights['time'] && !weights['filament'])
      found = cheaperOfEqual(found, read, options.costs ?? [], factor, (level) =>
        partAt({ grid: study.grid, draws: study.ranked }, study.toX(level)),
      );
    if (!('code' in found)) found = strongerOfEqual(found, study, factor);
  }
  if ('code' in found) {
    const noPick = found;
    const beyond = scores.filter(
      (s) =>
        s.together === undefined &&
        (noPick.toward !== 'higher' ? s.level < sorted[0]! : s.level > sorted[sorted.length - 1]!),
    );
    if (beyond.length > 0) {
      flags.push({
        code: found.code,
        message: `${found.message}: read what lies beyond it first`,
        cells: beyond.map((s) => s.cell),
      });
      return result;
    }
    const end = endOf(noPick, rule, factor.limits(trial.context), together, factor);
    if (!end) {
      const beyondEnd = withNext(result, plan, found.toward, sorted, step);
      const least = beyondEnd.next || found.code !== 'at-the-edge' ? undefined : leastPoorOf(together);
      const further = least ? withFiner(result, plan, least) : beyondEnd;
      flags.push({
        code: found.code,
        message: `${found.message}: ${beyondEnd.next ? advice(found) : `a sweep can go no further there${further.next ? `, so sweep finer around ${wordsOf(factor, least!.level)}, the best that is read` : ''}`}`,
        cells: found.cells,
      });
      return further;
    }
    found = noPick.code === 'at-the-edge' ? notPlainly(end, study, factor) : end;
    // Between the last two levels nobody has looked, and the curves that rise on beyond the end speak for the end alone.
    if (noPick.code === 'at-the-edge' && found === end)
      bracket = noPick.toward === 'higher' ? [end.value - step / 2, end.value] : [end.value, end.value + step / 2];
  }
  const fine = (v: number) => answered(v, factor, step);
  const middle = quantile(target, 0.5);
  const share = known.length === 0 ? FIRST_INTERVAL : 1;
  const limits = factor.limits(trial.context);
  const within = (v: number) =>
    Math.min(Math.max(limits.max, sorted[sorted.length - 1]!), Math.max(Math.min(limits.min, sorted[0]!), v));
  const interval = [0.025, 0.975].map((q) => within(toLevel(middle + share * (quantile(target, q) - middle)))) as [
    number,
    number,
  ];
  // The curves through all levels may see the fault elsewhere than the two levels that the rule goes by, and how sharply a
  // wall gives way between them nobody has seen: both may be right.
  if (bracket) {
    if (isLimit(rule) && begins !== undefined && (begins < bracket[0] || begins > bracket[1])) begins = undefined;
    interval[0] = Math.min(interval[0], bracket[0]);
    interval[1] = Math.max(interval[1], bracket[1]);
  }
  // Where a fault lies is said in what can be set, and nothing is left out by rounding.
  if (own) {
    const { settable: unit } = factor;
    interval[0] = within(Math.floor(interval[0] / unit + 1e-6) * unit);
    interval[1] = within(Math.ceil(interval[1] / unit - 1e-6) * unit);
  }
  const beginning = begins === undefined ? '' : `the fault most likely lies at ${wordsOf(factor, fine(begins))}`;
  // A margin may lead beyond what can be set.
  const value = fine(within(found.value));
  // What is as good as the best is no less the answer.
  if (!own) {
    interval[0] = Math.min(interval[0], value);
    interval[1] = Math.max(interval[1], value);
  }
  const ends = value === fine(found.value) ? '' : `nothing beyond ${wordsOf(factor, value)} can be set`;
  result.choices.push({
    factor: factor.id,
    choice: value,
    low: Math.min(fine(within(found.low)), value),
    high: Math.max(fine(within(found.high)), value),
    interval95: [rounded(interval[0], 6), rounded(interval[1], 6)],
    rule,
    why: [found.why, ends, beginning, passOf(trial, factor.id, value)?.words].filter((w) => w).join('; '),
    ...(begins !== undefined && { begins }),
  });
  if (interval[1] - interval[0] > 2.5 * step && span > 3)
    flags.push({
      code: 'coarse',
      message: `the readings leave it open from ${wordsOf(factor, fine(Math.max(sorted[0]!, interval[0])))} to ${wordsOf(factor, fine(Math.min(sorted[sorted.length - 1]!, interval[1])))}: read again, or refine`,
      cells: [],
    });
  else if (gap)
    flags.push({
      code: 'coarse',
      message: `the limit lies between ${wordsOf(factor, gap[0])} and ${wordsOf(factor, gap[1])}, ${show((100 * (gap[1] - gap[0])) / gap[0], 0)} % apart: a finer sweep finds it`,
      cells: [],
    });
  return withRefine(result, plan, study, target, step, options.costs ?? []);
}

/** Readings of earlier trials, as said of the cells with the same level here. */
function sameLevels(cells: readonly Cell[], factor: string, earlier: NonNullable<SettleOptions['earlier']>): Reading[] {
  return earlier.flatMap((t) => {
    const here = new Map(
      t.cells.map((c) => [c.id, cells.find((own) => own.levels[factor] === c.levels[factor])?.id] as const),
    );
    return counted(t.readings).flatMap((r) => {
      const own = r.cells.flatMap((c) => here.get(c) ?? []);
      return own.length > 0 ? [{ ...r, cells: own }] : [];
    });
  });
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

function cellWords(ids: readonly number[], cells: readonly Cell[]): string {
  const words = ids.map((id) => cells.find((c) => c.id === id)?.label ?? String(id));
  return words.length === 1 ? `the cell ${words[0]}` : `the cells ${words.join(', ')}`;
}

const advice = (n: NoPick): string =>
  n.toward === 'both'
    ? 'widen the sweep to both sides'
    : `extend the sweep ${n.toward === 'lower' ? 'downwards' : 'upwards'}`;
