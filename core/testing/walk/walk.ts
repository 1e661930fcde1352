import { rounded, seeded } from '#core/base';
import type { Context } from '#core/context';
import { factorOf } from '#core/factors';
import type { Traits } from '#core/lab';
import type { Reading } from '#core/judge';
import type { Cell } from '#core/plan';
import {
  askedNext,
  blindly,
  contextInForce,
  reverted,
  stopOf,
  stopState,
  tunedBaseline,
  valueInForce,
  withSettled,
  type PairValues,
  type Tuned,
} from '#core/route';
import {
  cellScores,
  settleWhole,
  usualRule,
  verdictOf,
  weightsFor,
  type Choice,
  type WholeOptions,
  type WholeSettled,
} from '#core/settle';
import { confirmationOf, trialOfKind, type Trial } from '#core/trial';
import { together } from '../../careful';
import { printTrial, readingsOf, type PrintedTrial } from './printed';

/** The stops that are walked, in the order of the route, each with the trial it begins with. */
export const walked: readonly { stop: string; kind: string; factor: string }[] = [
  { stop: 'temperature', kind: 'temperature-tower', factor: 'nozzle-temperature' },
  { stop: 'flow-limit', kind: 'flow-limit', factor: 'volumetric-flow' },
  { stop: 'flow', kind: 'flow-coarse', factor: 'flow' },
  { stop: 'pressure-advance', kind: 'surge-ribbon', factor: 'pressure-advance' },
  { stop: 'retraction', kind: 'retraction-tower', factor: 'retraction-distance' },
  { stop: 'cooling', kind: 'fan-level', factor: 'fan' },
];

/** Coarse, then fine, as everybody does it. */
const TWICE: readonly string[] = ['flow', 'pressure-advance'];
/** Prints at one stop before a person goes on, the confirmation apart. */
const MOST_PRINTS = 3;
/** How often a stop is gone to once more, and all stops together. */
const [MOST_AGAIN, MOST_IN_ALL] = [2, 8];
/** Values that are held against the one before, at one stop. */
const MOST_CONFIRMED = 2;
/** The day on which everything is printed: a filament takes up water since it was dried. */
export const DAY = '2026-11-29';

/** What a walk cost: prints, time s, mass g. */
export interface Spent {
  prints: number;
  time: number;
  mass: number;
}

/** What a stop of a walk came to. */
export interface StopWalked {
  stop: string;
  factor: string;
  spent: Spent;
  /** The value that was in force before, and the one after. */
  before: number | undefined;
  after: number | undefined;
  choice: Choice | undefined;
  /** The trials that were settled from, the last first: what its interval speaks of. */
  trials: readonly Trial[];
  confirmed: 'steady' | 'reverted' | 'open' | undefined;
  /** Why no value was found, in the words of the program. */
  said: string;
}

/** A pair with what was found for it. */
export interface Walk {
  pair: PairValues;
  stops: StopWalked[];
}

interface Earlier {
  cells: readonly Cell[];
  readings: readonly Reading[];
}

/** What trials showed, the last first. */
interface Read {
  trials: readonly Trial[];
  earlier: readonly Earlier[];
}

const add = (spent: Spent, { time, mass }: PrintedTrial): Spent => ({
  prints: spent.prints + 1,
  time: spent.time + time,
  mass: spent.mass + mass,
});

const tunedOf = (choice: Choice): Tuned => ({
  factor: choice.factor,
  value: choice.choice,
  low: choice.low,
  high: choice.high,
  interval95: choice.interval95,
  rule: choice.rule,
  why: choice.why.slice(0, 600),
  trial: choice.factor,
  trialTitle: '',
  evidence: '',
  on: DAY,
  state: 'settled',
});

/** Whether there is no value yet, or one that is left open. */
const isOpen = ({ choices, flags }: Pick<WholeSettled, 'choices' | 'flags'>): boolean =>
  choices.length === 0 || flags.some((f) => f.code === 'coarse');

/** A stop that was gone to again: what was spent on it in all. Where nothing new was found, what was known before stands. */
function joined(first: StopWalked, second: StopWalked): StopWalked {
  const both = (of: keyof Spent) => first.spent[of] + second.spent[of];
  const spent = { prints: both('prints'), time: both('time'), mass: both('mass') };
  return second.choice || !first.choice
    ? { ...second, before: first.choice ? first.before : second.before, spent }
    : { ...first, spent };
}

const notWalked = (stop: string): StopWalked => ({
  stop,
  factor: '',
  spent: { prints: 0, time: 0, mass: 0 },
  before: undefined,
  after: undefined,
  choice: undefined,
  trials: [],
  confirmed: undefined,
  said: '',
});

/** The trial of a kind for a pair as it stands by now. */
function trialNow(kind: string, pair: PairValues, context: Context): Trial | undefined {
  return trialOfKind(kind, contextInForce(context, pair.values), tunedBaseline(pair.baseline, pair.values));
}

/**
 * Goes the route as a careful person with this program: plans each stop's trial, prints it, reads it with ordinal noise,
 * settles by the usual rule, prints what is proposed where there is no value or it is left open, confirms what moved, and
 * goes again to what is shaken in the end.
 *
 * @param seed uint32, of what the person reads and of the scatter between prints
 */
export function walkRoute(context: Context, start: PairValues, traits: Traits, seed: number): Walk {
  const random = seeded(seed);
  const draw = () => Math.floor(random() * 0xffffffff);
  let pair = start;
  /** What the trial with which a stop was begun last showed, all its prints together. */
  const begun = new Map<string, Read>();
  const visit = ({ stop, kind, factor }: (typeof walked)[number], beside?: Read): StopWalked => {
    const now = contextInForce(context, pair.values);
    const before = valueInForce(pair, context, factor);
    let spent: Spent = { prints: 0, time: 0, mass: 0 };
    let trial = trialNow(kind, pair, context);
    let settledFrom: Trial | undefined;
    let found: WholeSettled | undefined;
    let choice: Choice | undefined;
    let said = '';
    let last: { plan: PrintedTrial['plan']; readings: Reading[]; options: WholeOptions } | undefined;
    const earlier: Earlier[] = [...(beside?.earlier ?? [])];
    /** All that were printed here, the last first. */
    const printed: Trial[] = [];
    while (trial && spent.prints < MOST_PRINTS) {
      const print = printTrial(trial, traits, draw());
      if (!print) break;
      spent = add(spent, print);
      printed.unshift(trial);
      let readings = readingsOf(print, `${spent.prints}`, draw());
      const options = { rule: usualRule(trial), costs: print.costs, earlier };
      let settled = settleWhole(print.plan, readings, options);
      // “Read again” costs nothing but a look.
      if (isOpen(settled)) {
        readings = [...readings, ...readingsOf(print, `${spent.prints}`, draw(), 2)];
        settled = settleWhole(print.plan, readings, options);
      }
      said = settled.flags.map((f) => f.message).join('; ');
      if (settled.choices[0]) {
        [choice, settledFrom, found] = [settled.choices[0], trial, settled];
        last = { plan: print.plan, readings, options: { ...options, earlier: [...earlier] } };
      } else choice = undefined;
      if (!isOpen(settled) && (!TWICE.includes(stop) || spent.prints > 1)) break;
      earlier.push({ cells: print.plan.cells, readings });
      trial = settled.next ?? undefined;
    }
    if (last && settledFrom) {
      const own = { cells: last.plan.cells, readings: last.readings };
      begun.set(stop, {
        trials: [settledFrom, ...(beside?.trials ?? [])],
        earlier: [...(last.options.earlier ?? []), own],
      });
    }
    const stopped: StopWalked = {
      stop,
      factor,
      spent,
      before,
      after: before,
      choice,
      trials: settledFrom ? [...printed.slice(printed.indexOf(settledFrom)), ...(beside?.trials ?? [])] : [],
      confirmed: undefined,
      said,
    };
    if (!choice) return stopped;
    // A limit is no setting: two values of it look alike on any print below both.
    if (factor === 'volumetric-flow' || before === undefined) {
      pair = withSettled(pair, now, tunedOf(choice));
      stopped.after = choice.choice;
      if (settledFrom && found) asked = { trial: settledFrom, settled: found };
      return stopped;
    }
    const step = factorOf(factor)!.settable;
    const differ = (a: number, b: number): boolean => Math.abs(a - b) >= step * 0.999;
    // What a confirmation put back is counted in, and what the trial then says between is held against it once more.
    for (let tries = 0; tries < MOST_CONFIRMED && settledFrom && choice && last; tries++) {
      const baseline = tunedBaseline(pair.baseline, [...pair.values, tunedOf(choice)]);
      pair = withSettled(pair, now, tunedOf(choice));
      const value: number = choice.choice;
      stopped.after = value;
      stopped.choice = choice;
      if (!differ(value, before)) break;
      const small = confirmationOf(
        { ...settledFrom, context: now },
        [{ factor, old: before, new: value }],
        baseline,
        draw(),
      );
      const print = small && printTrial(small, traits, draw());
      if (!print) break;
      stopped.spent = add(stopped.spent, print);
      const cellOf = (level: number) =>
        print.plan.cells.find((c) => Math.abs(c.levels[factor]! - rounded(level, 6)) < 1e-9)!.id;
      const readings = readingsOf(print, 'c', draw());
      const verdict = verdictOf({ old: cellOf(before), new: cellOf(value) }, readings, [], weightsFor(factor, {}));
      stopped.confirmed = verdict.state;
      if (verdict.state !== 'reverted') break;
      const back = reverted(pair.values, factor, before, verdict.why, DAY);
      if (back) pair = withSettled(pair, now, back);
      stopped.after = before;
      const beside = [...(last.options.earlier ?? []), { cells: print.plan.cells, readings: blindly(readings) }];
      last.options = { ...last.options, earlier: beside };
      const [again] = settleWhole(last.plan, last.readings, last.options).choices;
      choice = again && differ(again.choice, value) && differ(again.choice, before) ? again : undefined;
    }
    return stopped;
  };
  /** A flow limit with what it was settled by, which may ask something of the temperature. */
  let asked: { trial: Trial; settled: WholeSettled } | undefined;
  const stops = walked.map(({ stop }): StopWalked => notWalked(stop));
  const go = (k: number) => {
    const second = visit(walked[k]!);
    stops[k] = joined(stops[k]!, second);
    if (!asked) return;
    const { trial, settled } = asked;
    asked = undefined;
    const wants = askedNext(trial, settled, contextInForce(context, pair.values), pair.values, () =>
      begun.get('temperature')?.trials.at(0),
    );
    const t = walked.findIndex((w) => w.stop === wants?.stop);
    if (wants && t >= 0)
      stops[t] = joined(stops[t]!, visit({ ...walked[t]!, kind: wants.kind }, begun.get(wants.stop)));
  };
  walked.forEach((_, k) => {
    go(k);
  });
  // What a later stop has shaken is gone to again, as the route says, and what had no value.
  const again: string[] = [];
  while (again.length < MOST_IN_ALL) {
    const states = walked.map(({ stop }) => stopState(stopOf(stop)!, pair.values, false).state);
    const open = (k: number) => again.filter((stop) => stop === walked[k]!.stop).length < MOST_AGAIN;
    const shaken = states.findIndex((state, k) => state === 'shaken' && open(k));
    const k = shaken >= 0 ? shaken : states.findIndex((state, i) => state === 'open' && open(i));
    if (k < 0) break;
    again.push(walked[k]!.stop);
    go(k);
  }
  return { pair, stops };
}

/**
 * The same filament without this program: an evenly spaced sweep over the usual levels at each stop, printed as often as
 * its share of the filament allows, looked at twice, and the level taken that looks best on the mean of what was said.
 */
export function walkEvenly(
  context: Context,
  start: PairValues,
  traits: Traits,
  seed: number,
  budget: readonly Spent[],
): Walk {
  const random = seeded(seed);
  const draw = () => Math.floor(random() * 0xffffffff);
  let pair = start;
  const stops = walked.map(({ stop, kind, factor }, i): StopWalked => {
    const now = contextInForce(context, pair.values);
    const before = valueInForce(pair, context, factor);
    const trial = trialNow(kind, pair, context);
    let spent: Spent = { prints: 0, time: 0, mass: 0 };
    const readings: Reading[] = [];
    let print: PrintedTrial | undefined;
    while (trial) {
      print = printTrial(trial, traits, draw());
      if (!print) break;
      spent = add(spent, print);
      for (const look of [1, 2]) readings.push(...readingsOf(print, `${spent.prints}`, draw(), look));
      // Another print where more than half of it is paid for.
      if (spent.mass + print.mass / 2 > budget[i]!.mass) break;
    }
    const scores = print ? cellScores(print.plan.cells, factor, readings, {}, []) : [];
    const looks = scores.flatMap((s) => {
      const means = Object.fromEntries(Object.entries(s.byQuality).map(([track, { mean }]) => [track, mean]));
      const score = together(means);
      return score === undefined ? [] : [{ level: s.level, score }];
    });
    const most = Math.max(...looks.map((l) => l.score));
    // Of several that look as good, the middle one; of a limit the last that looks nearly so.
    const limit = factor === 'volumetric-flow';
    const best = looks.filter((l) => l.score >= most - (limit ? 0.5 : 1e-9));
    const level = best[limit ? best.length - 1 : Math.floor((best.length - 1) / 2)]?.level;
    const choice = level === undefined ? undefined : asChoice(factor, level);
    if (choice) pair = withSettled(pair, now, tunedOf(choice));
    return {
      stop,
      factor,
      spent,
      before,
      after: level ?? before,
      choice,
      trials: trial ? [trial] : [],
      confirmed: undefined,
      said: '',
    };
  });
  return { pair, stops };
}

const asChoice = (factor: string, level: number): Choice => ({
  factor,
  choice: level,
  low: level,
  high: level,
  interval95: [level, level],
  rule: 'best-looking',
  why: factorOf(factor)?.label ?? factor,
});
