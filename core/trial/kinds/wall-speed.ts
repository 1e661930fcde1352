import { lineArea } from '#core/settings';
import type { Kind } from './kind';
import { axis, within } from './levels';

export const wallSpeed: Kind = {
  id: 'wall-speed',
  label: 'Wall speed',
  stop: 'speed',
  about: 'a wall with corners that gets faster band by band: gloss, echo, roughness',
  specimen: 'star-wall',
  recipe: ({ printer, filament }, s) => ({
    axes: [
      axis(
        'outer-wall-speed',
        'height',
        within(
          [20, 40, 60, 80, 110, 150],
          5,
          Math.min(
            printer.maximum.speed,
            // A soft filament gives way in the drive long before.
            filament.material === 'TPU' ? 60 : Infinity,
            // Whole fives: a figure that a person would choose.
            5 *
              Math.floor(
                (0.97 * printer.extruder.maximumFlow) / lineArea(s.lineWidth, s.layerHeight, s.lineVolume) / s.flow / 5,
              ),
          ),
        ),
      ),
    ],
    frozen: { brimWidth: 0 },
  }),
};
