import type { Context } from '#core/context';
import type { Settings } from '#core/settings';
import { factorOf } from '#core/factors';
import { kindOf, recipeOf } from './kinds';
import { protections, type Trial } from './schema';
import { fitted } from './fitted';
import { brimFor } from './held-down';
import { freshTrial, planned, titled } from './trial';

/**
 * How many levels a trial of a kind has, and how many it has where bed and height have room for all of them; undefined
 * where these do.
 */
export function levelsWithRoom(
  id: string,
  { context, baseline, axes }: Trial,
): { fit: number; usual: number } | undefined {
  const kind = kindOf(id);
  const whole = kind ? recipeOf(kind, context, baseline).axes : [];
  const count = (of: readonly { levels: readonly number[] }[]) => of.reduce((n, a) => n * a.levels.length, 1);
  const [fit, usual] = [count(axes), count(whole)];
  return fit < usual ? { fit, usual } : undefined;
}

/** A trial of a kind for a pair, at the levels that its context and what is settled already suggest. */
export function trialOfKind(id: string, context: Context, baseline: Settings): Trial | undefined {
  const kind = kindOf(id);
  if (!kind) return undefined;
  const { axes, params, frozen = {} } = recipeOf(kind, context, baseline);
  const plain = freshTrial(kind.specimen, undefined, context, baseline);
  const factors = axes.flatMap((a) => factorOf(a.factor) ?? []);
  const whole = titled({
    ...plain,
    axes,
    // Held even where the pair has the same: it holds still when the pair moves on.
    frozen,
    specimen: { id: kind.specimen, params: { ...plain.specimen.params, ...params } },
    lifted: protections.filter((p) => factors.some((f) => f.lifts?.includes(p))),
  });
  const { trial, plan } = fitted(whole);
  const brimWidth = plan.ok ? brimFor(plan.value, plan.value.settings, context) : 0;
  if (brimWidth === 0) return trial;
  const held = { ...trial, frozen: { ...frozen, brimWidth } };
  return planned(held).ok ? held : trial;
}
