import type { Kind } from './kind';
import { axis, span } from './levels';

export const nozzleHeight: Kind = {
  id: 'nozzle-height',
  label: 'Nozzle height',
  stop: 'first-layer',
  about: 'short pads in a row from high to low, never more than 0.10 mm below what the printer has now',
  specimen: 'bed-pads',
  recipe: () => ({ axes: [axis('z-offset', 'row', span(0.1, -0.1, 0.04))], frozen: { brimWidth: 0 } }),
};
