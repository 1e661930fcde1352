import type { Kind } from './kind';
import { axis } from './levels';

export const supportGap: Kind = {
  id: 'support-gap',
  label: 'Support gap',
  stop: 'supports',
  about: 'benches with ledge and arch, each with its own gap under the part',
  specimen: 'support-bench',
  recipe: (_, s) => ({
    axes: [
      axis(
        'support-gap-above',
        'tile',
        [0.5, 1, 1.5, 2].map((n) => Math.round(n * s.layerHeight * 100) / 100),
      ),
    ],
    frozen: { brimWidth: 0, supports: 'everywhere' },
  }),
};
