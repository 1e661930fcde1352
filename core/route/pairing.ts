import { factorOf } from '#core/factors';
import { Pairing } from '#core/judge';
import type { Planned } from '#core/trial';
import type { TrialRecord } from './record';

/** Cells from the lowest level up: the places that pairs speak of. */
export function inOrderOf({ trial, cells }: Pick<Planned, 'trial' | 'cells'>): Planned['cells'] {
  const factor = trial.axes[0]?.factor;
  return factor === undefined ? [] : [...cells].sort((a, b) => a.levels[factor]! - b.levels[factor]!);
}

/** The answers on a track as a pairing of the cells in order of their levels; all tracks and judges where left out. */
export function pairingOf(
  plan: Pick<Planned, 'trial' | 'cells'>,
  answers: TrialRecord['pairs'],
  track?: string,
  judge?: string,
): Pairing {
  const cells = inOrderOf(plan);
  const place = new Map(cells.map((c, i) => [c.id, i]));
  const named = factorOf(plan.trial.axes[0]?.factor ?? '')?.choices !== undefined;
  const pairing = new Pairing(Math.max(2, cells.length), { ordered: plan.trial.axes.length < 2 && !named });
  for (const p of answers ?? []) {
    const [a, b] = [place.get(p.a), place.get(p.b)];
    if (a === undefined || b === undefined) continue;
    if ((track !== undefined && p.track !== track) || (judge !== undefined && p.judge !== judge)) continue;
    pairing.add({ a, b, result: p.result });
  }
  return pairing;
}

/** About how many answers put so many pieces in order: fewer where they follow the order of their levels. */
export const answersFor = (pairing: Pairing): number => Math.ceil((pairing.ordered ? 1.75 : 3.25) * pairing.n);
