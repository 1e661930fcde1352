import { warps, type Context } from '#core/context';
import { boundsOf } from '#core/geometry';
import { adhesionReach, type Settings } from '#core/settings';
import type { Planned } from './trial';

/** So many times as high as it is deep, a specimen stands by itself; of filament that warps, less. */
const STEADY = { plain: 5, warping: 3 };
/** The brim of one that does not, mm. */
const BRIM = { plain: 4, warping: 6 };

/** The brim that a specimen without one needs, mm: tall on a slim foot, it tips or lifts; 0 where it stands by itself. */
export function brimFor({ built }: Planned, settings: Settings, { filament }: Context): number {
  if (adhesionReach(settings) > 0 || built.pieces.length === 0) return 0;
  const how = warps(filament.material) ? 'warping' : 'plain';
  // Each piece stands on its own foot.
  const feet = built.footprint.flatMap((p) => boundsOf([p]) ?? []);
  const slim = Math.min(...feet.map((b) => Math.min(b.x1 - b.x0, b.y1 - b.y0)));
  return built.height > STEADY[how] * slim ? BRIM[how] : 0;
}
