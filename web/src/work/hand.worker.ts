import { expose, transfer } from 'comlink';
import { done, type Progress } from '#core/base';
import { HeldPrint, priceOf, type PhotoWanted } from '#core/careful';
import type { Context } from '#core/context';
import { ownTraits, printFile, type LabFaults } from '#core/lab';
import type { Weights } from '#core/settle';
import { planned, type Trial } from '#core/trial';
import { firstCommands } from '#core/wire';
import { cancelled, drive } from './drive';
import { photographed } from './photographed';

/** A print that is to be taken in hand: its file, the day on which it was made, how it fell, how far it got. */
export interface ToHold {
  trial: Trial;
  bytes: Uint8Array<ArrayBuffer>;
  today: string;
  seed: number;
  lines: number | undefined;
  wrong: LabFaults;
}

let context: Context | undefined;
let held: HeldPrint | undefined;

const api = {
  /** Prints a trial’s file anew, as it fell: it lies in the hand then. */
  async takeUp(id: number, { trial, bytes, today, seed, lines, wrong }: ToHold, report: (p: Progress) => void) {
    const plan = planned(trial);
    if (!plan.ok) return plan;
    context = trial.context;
    const own =
      lines === undefined ? bytes : new TextEncoder().encode(firstCommands(new TextDecoder().decode(bytes), lines));
    const print = printFile(own, context, ownTraits(context, today), { seed, faults: wrong });
    const printed = await drive(id, print, report);
    if (!printed.ok) return printed;
    held = new HeldPrint(printed.value, plan.value, bytes, seed);
    return done(printed.value.mass);
  },

  /** What a settled value costs against the best: both are printed. */
  price(
    id: number,
    trial: Trial,
    today: string,
    between: { factor: string; settled: number; best: number },
    weights: Weights,
    report: (p: Progress) => void,
  ) {
    return drive(id, priceOf(trial, between, ownTraits(trial.context, today), weights), report);
  },

  measure: (cell: number, measure: string) => held?.measure(cell, measure),
  caliper: (u: number, v: number) => held?.caliper(u, v),
  snap: () => held?.snap(),
  brush: (cell: number) => held?.brush(cell),
  drips: (cell: number) => held?.drips(cell),
  finger: (cell: number) => held?.finger(cell),

  /** A photograph of what is left after brushing. */
  async brushed(id: number, seed: number, wanted: readonly PhotoWanted[], report: (p: Progress) => void) {
    const photos = await photographed(id, held!.brushed(), context!, seed, wanted, report);
    if (!photos.ok) return photos;
    return transfer(
      photos,
      photos.value.map((p) => p.jpeg),
    );
  },

  cancel(id: number): void {
    cancelled.add(id);
  },
};

export type HandApi = typeof api;

expose(api);
