import { finish } from '#core/base';
import { printFile, type Outcome, type Traits } from '#core/lab';
import { make } from '#core/make';
import type { Reading } from '#core/judge';
import type { LevelCost } from '#core/settle';
import { planned, type Planned, type Trial } from '#core/trial';
import { readCarefully, responseOf, truthOf, type CellTruth } from '../../careful';

/** A trial that was made and printed on the practice printer. Time s, mass g. */
export interface PrintedTrial {
  plan: Planned;
  outcome: Outcome;
  truth: CellTruth[];
  costs: LevelCost[];
  time: number;
  mass: number;
}

/** Makes and prints a trial; undefined where it is refused. */
export function printTrial(trial: Trial, traits: Traits, seed: number): PrintedTrial | undefined {
  const plan = planned(trial);
  if (!plan.ok) return undefined;
  const made = finish(make(trial));
  if (!made.ok) return undefined;
  const { file, inspection } = made.value;
  const printed = finish(printFile(file.bytes, trial.context, traits, { seed }));
  if (!printed.ok) return undefined;
  return {
    plan: plan.value,
    outcome: printed.value,
    truth: truthOf(printed.value, plan.value, file.bytes),
    costs: inspection.cells.map((c) => ({ cell: c.id, time: c.time, mass: c.mass })),
    time: inspection.time,
    mass: inspection.filament.mass,
  };
}

/** What a careful person says of a print, at the nth look. */
export const readingsOf = ({ outcome, plan, truth }: PrintedTrial, print: string, seed: number, look = 1): Reading[] =>
  readCarefully(outcome, plan, truth, { print, judge: 'careful', seed }).map((r) => ({ ...r, replicate: look }));

/** What would be said of each cell without any noise: quality → score 0–4, in the order of the cells. */
export const clearScores = ({ outcome, plan, truth }: PrintedTrial): Record<string, number>[] =>
  truth.map(({ amounts }) => responseOf(plan.trial, amounts, outcome));
