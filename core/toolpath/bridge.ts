import {
  areaOf,
  difference,
  distance,
  hatch,
  inPolygons,
  intersection,
  offset,
  opened,
  type Polygon,
} from '#core/geometry';

/** Lines of a bridge rest so far on what is beneath, at both ends, mm. */
export const ANCHOR = 1.5;

/** What of an island hangs in the air, and how. */
export interface Air {
  /** Spans held at both ends, with the direction of the shortest. */
  bridges: { area: Polygon[]; angle: number }[];
  /** What is held on one side only. */
  overhang: Polygon[];
}

/**
 * Finds bridges from what lies beneath.
 *
 * @param island the cross-section
 * @param below the cross-section of the layer beneath
 * @param width line width, mm; thinner strips are left to the walls
 */
export function airOf(island: Polygon, below: readonly Polygon[], width: number): Air {
  const hanging = opened(difference([island], below), width * 0.9);
  const air: Air = { bridges: [], overhang: [] };
  for (const part of hanging) {
    if (areaOf([part]) < 4 * width * width) continue;
    const held = intersection(offset([part], ANCHOR + width / 2), [island]);
    const angle = bridgeAngle(held, below);
    if (angle === undefined) air.overhang.push(part);
    else air.bridges.push({ area: held, angle });
  }
  return air;
}

/** The direction in which most lines rest on both ends, the shortest of those, in degrees; undefined if there is none. */
function bridgeAngle(area: readonly Polygon[], below: readonly Polygon[]): number | undefined {
  let best: { angle: number; span: number } | undefined;
  for (let angle = 0; angle < 180; angle += 5) {
    const lines = hatch(area, angle, 0.7);
    if (lines.length === 0) continue;
    let held = 0;
    let total = 0;
    let longest = 0;
    for (const { a, b } of lines) {
      const length = distance(a, b);
      const share = Math.min(0.5, 0.1 / length);
      const on = (t: number) => inPolygons(below, a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t);
      total += length;
      if (on(share) && on(1 - share)) held += length;
      longest = Math.max(longest, length);
    }
    if (held / total >= 0.85 && (!best || longest < best.span - 0.2)) best = { angle, span: longest };
  }
  return best?.angle;
}
