import type { Kind } from './kind';

export const bedLoops: Kind = {
  id: 'bed-loops',
  label: 'Bed loops and pads',
  stop: 'first-layer',
  about:
    'loops along the edge of the bed, each a chance to set the nozzle height, then pads at the corners and in the middle',
  specimen: 'bed-pads',
  recipe: (_, s) => ({
    axes: [],
    frozen: {
      brimWidth: 0,
      edgeLoops: 4,
      edgeDistance: 12,
      // Apart, so that each is judged by itself.
      edgePitch: Math.max(s.edgePitch, 3 * s.lineWidth),
      edgePause: 8,
    },
  }),
};
