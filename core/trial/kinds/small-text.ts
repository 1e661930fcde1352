import type { Kind } from './kind';
import { axis } from './levels';

export const smallText: Kind = {
  id: 'small-text',
  label: 'Small figures',
  stop: 'detail',
  about: 'raised figures at several line widths',
  specimen: 'figure-plate',
  recipe: ({ printer }) => ({
    axes: [
      axis(
        'line-width',
        'tile',
        [1, 1.12, 1.25].map((k) => Math.round(k * printer.nozzle.diameter * 100) / 100),
      ),
    ],
    frozen: { brimWidth: 0 },
  }),
};
