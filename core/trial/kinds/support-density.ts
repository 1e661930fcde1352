import type { Kind } from './kind';
import { axis } from './levels';

export const supportDensity: Kind = {
  id: 'support-density',
  label: 'Support density',
  stop: 'supports',
  about: 'benches on denser and denser supports: removal, scars, sag',
  specimen: 'support-bench',
  recipe: () => ({
    axes: [axis('support-density', 'tile', [0.1, 0.15, 0.25, 0.4])],
    frozen: { brimWidth: 0, supports: 'everywhere' },
  }),
};
