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
