import type { Kind } from './kind';
import { axis } from './levels';

export const supportInterface: Kind = {
  id: 'support-interface',
  label: 'Support interface and structure',
  stop: 'supports',
  about: 'structure by column, interface layers by row',
  specimen: 'support-bench',
  recipe: () => ({
    axes: [axis('support-interface-layers', 'tile', [0, 2]), axis('support-structure', 'tile', [0, 1, 2])],
    frozen: { brimWidth: 0, supports: 'everywhere' },
  }),
};
