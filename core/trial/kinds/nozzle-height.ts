import type { Kind } from './kind';
import { axis, offsets } from './levels';

export const nozzleHeight: Kind = {
  id: 'nozzle-height',
  label: 'Nozzle height',
  stop: 'first-layer',
  about: 'short pads in a row from high to low, never more than 0.10 mm below what the printer has now',
  specimen: 'bed-pads',
  recipe: (_, s) => ({ axes: [axis('z-offset', 'row', offsets(s, 6))], frozen: { brimWidth: 0 } }),
};
