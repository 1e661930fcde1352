import { factorOf } from '#core/factors';
import type { Context } from '#core/context';
import type { Kind } from './kind';
import { axis, within } from './levels';

const most = (context: Context): number => factorOf('support-gap-above')!.limits(context).max;

export const supportGap: Kind = {
  id: 'support-gap',
  label: 'Support gap',
  stop: 'supports',
  about: 'benches with ledge and arch, each with its own gap under the part',
  specimen: 'support-bench',
  recipe: (context, s) => ({
    axes: [
      axis(
        'support-gap-above',
        'tile',
        within(
          [0.5, 1, 1.5, 2].map((n) => Math.round(n * s.layerHeight * 100) / 100),
          0,
          most(context),
        ),
      ),
    ],
    frozen: { brimWidth: 0, supports: 'everywhere' },
  }),
};
