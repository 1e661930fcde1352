import type { Kind } from './kind';

export const feedCheck: Kind = {
  id: 'feed-check',
  label: 'Feed check',
  stop: 'feed',
  about: 'pushes 100 mm of filament slowly into the air; a mark tells how much was fed',
  specimen: 'feed-check',
  recipe: () => ({ axes: [], frozen: { brimWidth: 0, bedTemperature: 0 } }),
};
