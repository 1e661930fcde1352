import type { Kind } from './kind';
import { axis } from './levels';

export const layerHeights: Kind = {
  id: 'layer-heights',
  label: 'Even or adaptive layers',
  stop: 'layers',
  about: 'a dome with even and with adaptive layers, a print each: stairs against time',
  specimen: 'dome',
  recipe: () => ({ axes: [axis('layer-heights', 'print', [0, 1])], frozen: { brimWidth: 0 } }),
};
