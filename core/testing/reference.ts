import type { Settings } from '#core/settings';
import { bodies, type Body } from '#core/specimens';
import { freshTrial, type Trial } from '#core/trial';
import { heronPair } from './fixtures';

/** A trial of one solid of the reference set on the first demo pair. */
export function referenceTrial(id: string, frozen: Partial<Settings> = {}, scale = 1): Trial {
  return {
    ...freshTrial(id, undefined, heronPair.context, heronPair.baseline),
    specimen: { id, params: { scale } },
    frozen,
  };
}

export const bodyOf = (id: string): Body => bodies.find((b) => b.id === id)!;

/** The leans of the staircase of overhangs, degrees from upright. */
export const leansOf = (): number[] => [20, 30, 40, 50, 60, 70, 80];
