import type { Kind } from './kind';
import { axis } from './levels';

const DENSITIES = [0.1, 0.15, 0.25, 0.4];

export const supportDensity: Kind = {
  id: 'support-density',
  label: 'Support density',
  stop: 'supports',
  about: 'benches on denser and denser supports: removal, scars, sag',
  specimen: 'support-bench',
  recipe: (_, s) => ({
    axes: [axis('support-density', 'tile', DENSITIES)],
    // Of the thinnest, lines lie under the ledge in more than one place.
    params: { reach: Math.max(10, Math.ceil((2 * s.lineWidth) / Math.min(...DENSITIES))) },
    frozen: { brimWidth: 0, supports: 'everywhere' },
  }),
};
