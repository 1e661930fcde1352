import type { Kind } from './kind';
import { axis, wide } from './levels';

export const supportInterface: Kind = {
  id: 'support-interface',
  label: 'Support interface and structure',
  stop: 'supports',
  about: 'structure by column, interface layers by row',
  specimen: 'support-bench',
  recipe: (_, s) => ({
    axes: [axis('support-interface-layers', 'tile', [0, 2]), axis('support-structure', 'tile', [0, 1, 2])],
    params: { reach: wide(10, s), height: wide(8, s) },
    frozen: { brimWidth: 0, supports: 'everywhere' },
  }),
};
