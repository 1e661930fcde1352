import type { Kind } from './kind';
import { advances, axis, drawnBriefly, fastest } from './levels';

export const starWall: Kind = {
  id: 'star-wall',
  label: 'Star wall',
  stop: 'pressure-advance',
  about: 'corners of 45, 90 and 135° up a wall, pressure advance rising with height: the second, independent method',
  specimen: 'star-wall',
  shorter: 'surge-ribbon',
  recipe: (context, s) => ({
    axes: [axis('pressure-advance', 'height', advances(context, 5), 'ramp')],
    // Fast, so that braking before a corner takes several lines’ widths and shows.
    frozen: {
      brimWidth: 0,
      outerWallSpeed: Math.max(s.outerWallSpeed, fastest(context, s, 100)),
      ...drawnBriefly(context, s),
    },
  }),
};
