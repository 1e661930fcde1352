import type { Kind } from './kind';
import { axis } from './levels';

export const bedCover: Kind = {
  id: 'bed-cover',
  label: 'What the bed is covered with',
  stop: 'first-layer',
  about: 'the same bar on different covers of the bed, a print each',
  specimen: 'lift-bar',
  recipe: () => ({ axes: [axis('bed-adhesive', 'print', [0, 1, 2])], frozen: { brimWidth: 0 } }),
};
