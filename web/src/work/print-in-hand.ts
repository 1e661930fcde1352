import { InjectionToken } from '@angular/core';
import { proxy, wrap, type Remote } from 'comlink';
import type { Progress } from '#core/base';
import type { PhotoWanted } from '#core/careful';
import type { Weights } from '#core/settle';
import type { Trial } from '#core/trial';
import type { HandApi, ToHold } from './hand.worker';

/** A practice print in a worker, with the instruments that are held to it. */
export class PrintInHand {
  private readonly worker = new Worker(new URL('./hand.worker', import.meta.url), { type: 'module' });
  private readonly api: Remote<HandApi> = wrap<HandApi>(this.worker);
  private jobs = 0;

  /** Prints it anew; its mass, g, or why it cannot be had. */
  takeUp(what: ToHold, report: (p: Progress) => void) {
    return this.api.takeUp(++this.jobs, what, proxy(report));
  }

  cancel(): void {
    void this.api.cancel(this.jobs);
  }

  measure = (cell: number, measure: string) => this.api.measure(cell, measure);
  caliper = (u: number, v: number) => this.api.caliper(u, v);
  snap = () => this.api.snap();
  brush = (cell: number) => this.api.brush(cell);
  drips = (cell: number) => this.api.drips(cell);
  finger = (cell: number) => this.api.finger(cell);

  brushed(seed: number, wanted: readonly PhotoWanted[], report: (p: Progress) => void) {
    return this.api.brushed(++this.jobs, seed, wanted, proxy(report));
  }

  /** What a settled value costs against the best. */
  price(
    trial: Trial,
    today: string,
    between: { factor: string; settled: number; best: number },
    weights: Weights,
    report: (p: Progress) => void,
  ) {
    return this.api.price(++this.jobs, trial, today, between, weights, proxy(report));
  }

  close(): void {
    this.worker.terminate();
  }
}

/** How a print is taken in hand; another way where there are no workers. */
export const HAND = new InjectionToken<() => PrintInHand>('print in hand', { factory: () => () => new PrintInHand() });
