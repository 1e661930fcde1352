import type { Inspection } from '#core/inspect';
import type { Order, Reading } from '#core/judge';
import type { Cell } from '#core/plan';
import type { Trial } from '#core/trial';
import type { LevelCost } from './costs';
import type { CellScore, Weights } from './scores';
import type { Surface } from './surface';

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
    | 'poor-everywhere'
    | 'effects'
    | 'confounded';
  message: string;
  cells: number[];
  /** The quality that it is about, where it is about one. */
  quality?: string;
}

/** What is remarked beside an answer, or beside the reason why there is none. */
const remarks: readonly Flag['code'][] = ['contradictory', 'poor-everywhere', 'confounded', 'effects'];

/** The first thing to say: why there is no value, what leaves it open; else the first remark. */
export const firstSaid = ({ flags }: { flags: readonly Flag[] }): string =>
  (flags.find((f) => !remarks.includes(f.code)) ?? flags[0])?.message ?? '';

/** What readings come to: scores, response, choices with reasons, flags, what to print next. */
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

/** The mean of what the nozzle showed while a cell was printed, °C. */
export interface Heated {
  cell: number;
  nozzle: number;
}

/** What settling goes by beside the readings. */
export interface SettleOptions {
  rule?: string;
  weights?: Weights;
  /** What reading the file back showed; cells that differ from the plan are void. */
  inspection?: Inspection | undefined;
  /** What the nozzle showed while cells were printed; where it was not at their level, they are void. */
  heated?: readonly Heated[] | undefined;
  /** Readings of earlier trials of the same factor on the same specimen, which this one goes on from. */
  earlier?: readonly { cells: readonly Cell[]; readings: readonly Reading[] }[];
  /** The order that answers to “which is better?” give, by place in the list of cells from the lowest level. */
  preferred?: Order | undefined;
  /** What each level costs by the planner. */
  costs?: readonly LevelCost[];
  /** What differed between the prints that are read together. */
  differed?: readonly string[];
}

/** The width of an answer, as every page tells it: its 95 % interval, where one is known, else the levels it spans. */
export const widthOf = ({ low, high, interval95 }: Pick<Choice, 'low' | 'high' | 'interval95'>): [number, number] =>
  interval95[0] < interval95[1] ? interval95 : [low, high];
