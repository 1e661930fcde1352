import type { Kind } from './kind';
import { axis } from './levels';

export const fit: Kind = {
  id: 'fit',
  label: 'Fit',
  stop: 'size',
  about: 'plugs and sockets by clearance: will not enter, tight, turns, loose',
  specimen: 'fit-plug',
  recipe: () => ({ axes: [axis('fit-clearance', 'tile', [0.05, 0.1, 0.15, 0.2, 0.3, 0.4])], frozen: { brimWidth: 0 } }),
};
