import type { Kind } from './kind';
import { axis } from './levels';

export const ironingFlow: Kind = {
  id: 'ironing-flow',
  label: 'Ironing flow',
  stop: 'top-surface',
  about: 'tiles ironed with more and more filament',
  specimen: 'flow-tile',
  recipe: () => ({
    axes: [axis('ironing-flow', 'tile', [0.05, 0.1, 0.15, 0.2, 0.3])],
    params: { side: 24, height: 3 },
    frozen: { brimWidth: 0, infillDensity: 0.15, ironing: 'top surfaces' },
  }),
};
