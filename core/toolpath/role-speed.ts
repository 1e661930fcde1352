import { roleNumber } from '#core/moves';
import type { Settings } from '#core/settings';

/** Fan share of a layer: f₁ on the first, f₁ + (full − f₁) × k/n on layer k, full from layer n. */
export const fanOf = (layer: number, s: Settings): number =>
  s.firstLayerFan + (s.fan - s.firstLayerFan) * Math.min(1, layer / s.fanRampLayers);

/** The fan by layer time: full on layers as short as `fullFanBelow`, the least on those of `leastFanAbove`, a line between. */
export function fanByTime(layer: number, time: number, s: Settings): number {
  const span = Math.max(1e-6, s.leastFanAbove - s.fullFanBelow);
  const share = Math.max(0, Math.min(1, (s.leastFanAbove - time) / span));
  const full = Math.min(s.leastFan, s.fan) + (s.fan - Math.min(s.leastFan, s.fan)) * share;
  return fanOf(layer, { ...s, fan: full });
}

/** The speed asked of a role, mm/s. */
export function speedOf(role: number, s: Settings): number {
  switch (role) {
    case roleNumber['outer-wall']:
    case roleNumber.overhang:
      return s.outerWallSpeed;
    case roleNumber['inner-wall']:
      return s.innerWallSpeed;
    case roleNumber.infill:
      return s.infillSpeed;
    case roleNumber.bridge:
      return s.bridgeSpeed;
    case roleNumber.ironing:
      return s.ironingSpeed;
    case roleNumber.support:
    case roleNumber['support-interface']:
    case roleNumber.raft:
    case roleNumber.purge:
    case roleNumber.pillar:
      return s.supportSpeed;
    case roleNumber.brim:
    case roleNumber.skirt:
      return s.firstLayerSpeed;
    default:
      return s.skinSpeed;
  }
}
