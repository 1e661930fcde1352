import type { Context } from '#core/context';
import type { Settings } from '#core/settings';
import { factorOf } from '#core/factors';
import { kindOf } from './kinds';
import { protections, type Trial } from './schema';
import { freshTrial, titled } from './trial';

/** A trial of a kind for a pair, at the levels that its context and what is settled already suggest. */
export function trialOfKind(id: string, context: Context, baseline: Settings): Trial | undefined {
  const kind = kindOf(id);
  if (!kind) return undefined;
  const { axes, params, frozen = {} } = kind.recipe(context, baseline);
  const plain = freshTrial(kind.specimen, undefined, context, baseline);
  const factors = axes.flatMap((a) => factorOf(a.factor) ?? []);
  return titled({
    ...plain,
    axes,
    // Held even where the pair has the same: it holds still when the pair moves on.
    frozen,
    specimen: { id: kind.specimen, params: { ...plain.specimen.params, ...params } },
    lifted: protections.filter((p) => factors.some((f) => f.lifts?.includes(p))),
  });
}
