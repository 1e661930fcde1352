import type { Kind } from './kind';
import { axis, offsets } from './levels';

export const bedLoops: Kind = {
  id: 'bed-loops',
  label: 'Bed loops',
  stop: 'first-layer',
  about: 'loops along the edge of the bed, each a little lower than the one before: touch them as they are laid',
  specimen: 'bed-loops',
  recipe: (_, s) => ({
    axes: [axis('z-offset', 'row', offsets(s, 5))],
    // One plain loop first, outside the others: the nozzle is primed when the judged ones begin.
    frozen: { brimWidth: 0, edgeLoops: 1, edgeDistance: 6 },
  }),
};
