import type { Kind } from './kind';

export const size: Kind = {
  id: 'size',
  label: 'Size',
  stop: 'size',
  about: 'a gauge plate: outer and inner sizes and the foot, for compensation and shrinkage',
  specimen: 'size-gauge',
  recipe: () => ({ axes: [], frozen: { brimWidth: 0 } }),
};
