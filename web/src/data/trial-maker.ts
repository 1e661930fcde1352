import { inject, Injectable } from '@angular/core';
import { recheckOf, stopOfFactor, tunedBaseline, type PairRecord, type TrialRecord, type Tuned } from '#core/route';
import { usualRule } from '#core/settle';
import type { Settings } from '#core/settings';
import { kindOf, trialOfKind, type Trial } from '#core/trial';
import { Keeper } from './keeper';

/** Opens new trials of a pair. */
@Injectable({ providedIn: 'root' })
export class TrialMaker {
  private readonly keeper = inject(Keeper);
  /** Trials of a pair that were made already, and the documents that they rest on. */
  private readonly made = new WeakMap<PairRecord, { of: readonly unknown[]; trials: Map<string, Trial> }>();

  /** The baseline of a pair with everything settled so far in force. */
  baselineOf(pair: PairRecord): Settings {
    return tunedBaseline(pair.baseline, pair.values);
  }

  /** A trial of a kind with the starting levels of the pair; undefined where the pair cannot make it. */
  trial(pairId: string, kind: string): Trial | undefined {
    const pair = this.keeper.find('pairs', pairId);
    if (!pair || !this.canMake(pairId, kind)) return undefined;
    const trials = this.madeOf(pair);
    const trial = trials.get(kind) ?? trialOfKind(kind, this.keeper.contextOf(pair)!, this.baselineOf(pair));
    if (trial) trials.set(kind, trial);
    return trial;
  }

  /** Whether a pair can make a trial of a kind. */
  canMake(pairId: string, kind: string): boolean {
    const context = this.keeper.contextOf(this.keeper.find('pairs', pairId));
    return context !== undefined && kindOf(kind) !== undefined && kindOf(kind)?.lacks?.(context) === undefined;
  }

  /** The same trial where it was made already, else how it is made: that takes a few milliseconds, of a route a tenth of a second. */
  trialOrHow(pairId: string, kind: string): Trial | (() => Trial | undefined) {
    const pair = this.keeper.find('pairs', pairId);
    return (pair && this.madeOf(pair).get(kind)) ?? (() => this.trial(pairId, kind));
  }

  private madeOf(pair: PairRecord): Map<string, Trial> {
    const filaments = [pair.filament, ...(pair.others ?? [])].map((id) => this.keeper.find('filaments', id));
    const of = [this.keeper.find('printers', pair.printer), ...filaments];
    const known = this.made.get(pair);
    if (known && known.of.length === of.length && known.of.every((d, i) => d === of[i])) return known.trials;
    const trials = new Map<string, Trial>();
    this.made.set(pair, { of, trials });
    return trials;
  }

  /** The shortest trial that would recheck a value of a pair; undefined where there is none. */
  recheck(pairId: string, value: Tuned): Trial | undefined {
    const pair = this.keeper.find('pairs', pairId);
    const context = this.keeper.contextOf(pair);
    return pair && context && recheckOf(value, context, this.baselineOf(pair));
  }

  /** A new record of a recheck. @returns its id */
  planRecheck(pairId: string, value: Tuned): string | undefined {
    const [trial, stop] = [this.recheck(pairId, value), stopOfFactor(value.factor)];
    return trial && stop && this.open(pairId, stop.id, trial);
  }

  /** A new record of a kind of trial. @returns its id */
  plan(pairId: string, kind: string, outOfOrder?: string): string | undefined {
    const trial = this.trial(pairId, kind);
    return trial && this.open(pairId, kindOf(kind)!.stop, trial, outOfOrder === undefined ? {} : { outOfOrder });
  }

  /** A record around a trial that is given. */
  open(
    pair: string,
    stop: string,
    trial: Trial,
    more: Pick<TrialRecord, 'outOfOrder' | 'after' | 'confirms'> = {},
  ): string {
    const record: TrialRecord = {
      kind: 'steady-tune/record',
      version: 1,
      id: crypto.randomUUID(),
      pair,
      stop,
      created: new Date().toISOString(),
      trial,
      prints: [],
      readings: [],
      rule: usualRule(trial),
      weights: {},
      checklist: {},
      ...more,
    };
    this.keeper.save('records', record);
    return record.id;
  }
}
