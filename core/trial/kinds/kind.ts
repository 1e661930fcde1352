import type { Context } from '#core/context';
import type { Axis } from '#core/plan';
import type { Settings } from '#core/settings';

/** What a kind of trial makes of a pair: its axes, the measures of its specimen, its test-only settings. */
export interface Recipe {
  axes: Axis[];
  params?: Record<string, number>;
  frozen?: Partial<Settings>;
}

/** A trial that is made so often that it has a name. */
export interface Kind {
  id: string;
  label: string;
  /** The stop of the route where it stands. */
  stop: string;
  /** What it settles and how, in a sentence. */
  about: string;
  specimen: string;
  /** Why this pair cannot make it; nothing where it can. */
  lacks?(context: Context): string | undefined;
  recipe(context: Context, baseline: Settings): Recipe;
  /** The kind that says less in less time. */
  shorter?: string;
}

/** Specimens whose front is judged: no line begins there. */
const judgedInFront = new Set([
  'temperature-tower',
  'cooling-ladder',
  'shrinking-post',
  'span-comb',
  'tool-tower',
  'infill-coupon',
  'dome',
]);

/**
 * What a kind makes of a pair, with all that it holds for the test: seams keep from what is judged, and what is judged on
 * the bed lies on no raft.
 */
export function recipeOf(kind: Kind, context: Context, baseline: Settings): Recipe {
  const recipe = kind.recipe(context, baseline);
  const held: Recipe['frozen'] = {
    ...(judgedInFront.has(kind.specimen) && baseline.seam !== 'rear' && !varies(recipe, 'seam') && { seam: 'rear' }),
    ...(kind.stop === 'first-layer' && baseline.raftLayers > 0 && { raftLayers: 0 }),
  };
  return Object.keys(held).length > 0 ? { ...recipe, frozen: { ...held, ...recipe.frozen } } : recipe;
}

const varies = ({ axes }: Recipe, factor: string): boolean => axes.some((a) => a.factor === factor);
