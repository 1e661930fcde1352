import type { Kind } from './kind';
import { axis } from './levels';

export const layerTime: Kind = {
  id: 'layer-time',
  label: 'Shortest layer time',
  stop: 'cooling',
  about: 'posts that shrink, one after the other, each with its own threshold',
  specimen: 'shrinking-post',
  recipe: () => ({ axes: [axis('minimum-layer-time', 'height', [4, 6, 9, 12])], frozen: { brimWidth: 0 } }),
};
