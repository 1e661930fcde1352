import type { Kind } from './kind';
import { axis } from './levels';

export const fanRamp: Kind = {
  id: 'fan-ramp',
  label: 'Fan ramp',
  stop: 'cooling',
  about: 'the layer from which the fan is full, a print each: curl near the bed against corners that lift',
  specimen: 'cooling-ladder',
  recipe: () => ({
    axes: [axis('fan-ramp-layers', 'print', [1, 4, 8])],
    params: { bandHeight: 12, span: 12 },
    frozen: { brimWidth: 0 },
  }),
};
