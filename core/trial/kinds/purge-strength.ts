import type { Kind } from './kind';
import { axis } from './levels';

export const purgeStrength: Kind = {
  id: 'purge-strength',
  label: 'Purge strength',
  stop: 'purge',
  about: 'two-tool coupons, a print for each strength: colour bleed against waste',
  specimen: 'purge-coupon',
  lacks: ({ printer }) => (printer.tools < 2 ? 'the printer has one tool' : undefined),
  recipe: () => ({ axes: [axis('purge-strength', 'print', [0.5, 1, 1.5])], frozen: { brimWidth: 0 } }),
};
