import { inject, Injectable } from '@angular/core';
import { stopOf, type TrialRecord } from '#core/route';
import { freshTrial, type Trial } from '#core/trial';
import { Keeper } from '../data/keeper';

/** Opens new trials of a pair. */
@Injectable({ providedIn: 'root' })
export class TrialMaker {
  private readonly keeper = inject(Keeper);

  /** A new trial at a stop, with the starting levels of the pair. @returns the record's id */
  plan(pairId: string, stopId: string): string | undefined {
    const pair = this.keeper.find('pairs', pairId);
    const context = this.keeper.contextOf(pair);
    const stop = stopOf(stopId);
    if (!pair || !context || !stop?.specimen) return undefined;
    return this.open(pairId, stopId, freshTrial(stop.specimen, stop.factors[0], context, pair.baseline));
  }

  /** A record around a trial that is given. */
  open(pair: string, stop: string, trial: Trial): string {
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
      rule: 'best-combined',
      weights: {},
      checklist: {},
    };
    this.keeper.save('records', record);
    return record.id;
  }
}
