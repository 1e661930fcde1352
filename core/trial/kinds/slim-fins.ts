import type { Kind } from './kind';
import { axis } from './levels';

export const slimFins: Kind = {
  id: 'slim-fins',
  label: 'Slim fins',
  stop: 'detail',
  about: 'a hub with fins of 0.3 to 1.2 mm, with and without single lines',
  specimen: 'slim-fins',
  recipe: () => ({ axes: [axis('thin-walls', 'tile', [0, 1])], frozen: { brimWidth: 0 } }),
};
