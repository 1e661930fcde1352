import type { Kind } from './kind';
import { around, axis, within } from './levels';

export const bedHold: Kind = {
  id: 'bed-hold',
  label: 'Bed hold',
  stop: 'first-layer',
  about: 'long bars with sharp corners, a print for each bed temperature: do corners lift, and does it still come off',
  specimen: 'lift-bar',
  recipe: ({ printer }, s) => ({
    axes: [
      axis('bed-temperature', 'print', within(around(s.bedTemperature, 10, 1), 0, printer.maximum.bedTemperature)),
    ],
    frozen: { brimWidth: 0 },
  }),
};
